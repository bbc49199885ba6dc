"""Whether the lows beat: the finding, and what takes a beat away."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from ...patch import Edit, note_name, write
from ..evidence import Evidence
from ..finding import WORSE, Candidate, Finding, Fix, Limits, Verdict, Where
from .align import restarting
from .beats import Beat, BeatingPart, beat_on
from .splits import kept_above, parted
from .tuning import called, untuned


def beats_of(e: Evidence, limits: Limits) -> list[Beat]:
    """What beats in the lows, note by note."""
    return [b for n in e.notes if (b := beat_on(e, n, limits.low_hz)) is not None]


def _verdict(e: Evidence, beat: Beat, limits: Limits) -> Verdict:
    """The copies of one layer are worth a look only, where another layer carries the lows."""
    if beat.dip >= 0.5 * limits.beat_db:
        return "holds"
    if beat.dip >= limits.beat_db:
        return "look"
    return "look" if beat.own_unison and _others_carry(e, beat, limits) else "fails"


def _others_carry(e: Evidence, beat: Beat, limits: Limits) -> bool:
    powers = {x.id: e.spectrum(x.id).power(20.0, limits.low_hz) for x in e.patch.layers if not x.mute}
    own = beat.parts[0].layer.id
    return any(i != own and p >= powers[own] for i, p in powers.items())


def _names(beat: Beat) -> str:
    if len(beat.parts) == 1:
        return f"The copies of {_called(beat.parts[0])}"
    return f"{_called(beat.parts[0])} and {_called(beat.parts[1])}"


def _text(beat: Beat) -> str:
    rate = f"{beat.rate:.2g} times a second" if beat.rate else "unevenly"
    where = f"{write(beat.hz, 'Hz')}, worst note {note_name(beat.note.pitch)}"
    if beat.short:
        return f"{_names(beat)} sum to {write(beat.dip, 'dB')} of their power at {where}"
    swing = f"from {write(beat.dip, 'dB')} to {write(beat.high, 'dB')}"
    return f"{_names(beat)} beat {rate}, {swing} of their power at {where}"


def _tuned(e: Evidence, beat: Beat) -> Iterator[Candidate]:
    """Each cause taken away from one part, and then all of them, with the oscillators restarted together."""
    every: list[Edit] = []
    for part in beat.parts:
        for label, edits in untuned(e.patch, part.layer, part.source):
            yield label, edits
            every += edits
    loose = restarting(tuple({p.layer.id: p.layer for p in beat.parts}.values()))
    if loose:
        yield "Retrigger the oscillators on every note", loose
    if len(every) + len(loose) > 1:
        what = f"Tune {' and '.join(_called(p) for p in beat.parts)} to the note"
        yield f"{what}, and retrigger them" if loose else what, (*every, *loose)


def _called(part: BeatingPart) -> str:
    return called(part.layer, part.source)


def _single(beat: Beat) -> Iterator[Candidate]:
    """Copies that start so that they keep the lows, and sources taken out of the unison of their layer."""
    for layer in {p.layer.id: p.layer for p in beat.parts if p.copies > 1}.values():
        path = f"layers.{layer.id}.unison"
        if layer.unison.phases == "even":
            yield f"Steady start phases for the copies of {layer.name}", (Edit(f"{path}.phases", "steady"),)
        if layer.unison.spread > 20.0:
            yield f"Phase spread of {layer.name} to 20 %", (Edit(f"{path}.spread", 20.0),)
    for part in beat.parts:
        if part.copies > 1 and len(part.layer.sources) > 1:
            path = f"layers.{part.layer.id}.sources.{part.source.id}.unison"
            yield f"Take {_called(part)} out of the unison", (Edit(path, False),)
    for part in beat.parts:
        if part.copies > 1:
            yield f"Play {part.layer.name} with one voice", (Edit(f"layers.{part.layer.id}.unison.copies", 1),)


def _apart(e: Evidence, beat: Beat, limits: Limits) -> Iterator[Candidate]:
    """The parts given ranges of their own."""
    ids = {p.layer.id for p in beat.parts}
    highest = max(b.hz for b in beats_of(e, limits))
    yield from parted(e, ids, beat.hz, highest)
    if len(ids) == 1 and beat.own_unison and _others_carry(e, beat, limits):
        for over in (1.5, 2.0, 3.0):
            option = kept_above(beat.parts[0].layer, over * highest)
            if option is not None:
                yield option


def _fixes(e: Evidence, beat: Beat, limits: Limits) -> tuple[Fix, ...]:
    """One of each kind that makes the lows steady, the simplest first."""

    def left(x: Evidence) -> float | None:
        return min((b.dip for b in beats_of(x, limits)), default=None)

    kinds: Iterable[Iterator[Candidate]] = (_tuned(e, beat), _single(beat), _apart(e, beat, limits))
    return tuple(fix for kind in kinds for fix in e.full_cure(kind, left, lambda dip: dip >= 0.5 * limits.beat_db))


def lows_beat(e: Evidence, limits: Limits) -> list[Finding]:
    """Parts that share the lows without keeping step, by how far their sum falls within a note."""
    if not e.notes or not any(e.has_pitch(layer) for layer in e.patch.layers):
        return []
    beats = beats_of(e, limits)
    worst = min(beats, key=lambda b: (-WORSE[_verdict(e, b, limits)], b.dip), default=None)
    verdict = "holds" if worst is None else _verdict(e, worst, limits)
    layers = () if worst is None or verdict == "holds" else tuple(dict.fromkeys(p.layer.id for p in worst.parts))
    where = Where(layers)
    if worst is not None:
        name = note_name(worst.note.pitch)
        where = Where(layers, name, worst.note.beat, worst.hz / 1.12, worst.hz * 1.12)
    return [
        Finding(
            check="beats",
            verdict=verdict,
            title="The lows are steady" if verdict == "holds" else "The lows beat",
            text="All parts that share the lows keep step" if worst is None else _text(worst),
            value=None if worst is None else worst.dip,
            unit="dB",
            limit=limits.beat_db,
            limit_text=f"{write(limits.beat_db, 'dB')}; look from {write(0.5 * limits.beat_db, 'dB')}",
            limit_name="beat_db",
            where=where,
            fixes=() if worst is None or verdict == "holds" else e.sought(lambda: _fixes(e, worst, limits)),
            evidence=(
                ("beat_hz", None if worst is None else worst.rate),
                ("high_db", None if worst is None else worst.high),
                *((f"{note_name(b.note.pitch)} at beat {b.note.beat + 1:g}", b.dip) for b in beats),
            ),
            alone=True,
            goal=0.5 * limits.beat_db,
        )
    ]
