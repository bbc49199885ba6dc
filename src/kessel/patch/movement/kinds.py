"""All kinds of movers, one line each, in the order of the lists on the screen."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ..kinds import Kind, union_of
from ..units import write
from .envelopes import Envelope
from .movers import AudioRate, Curve, Follower, Lfo, Macro, Performance

_RESTART = {"note": "restarted by each note", "phrase": "restarted by the phrase", "free": "free-running"}


def _curve_manner(mover: Curve) -> str:
    length = write(mover.length, "beats") if mover.clock == "beats" else write(mover.length_ms, "ms")
    if mover.play == "loop":
        return f"looped every {length}, {_RESTART[mover.restart]}"
    if mover.play == "hold":
        return f"in {length}, held until the note ends"
    return {"note": "once per note", "phrase": "once per phrase", "free": "once"}[mover.restart] + f" in {length}"


def _lfo_manner(mover: Lfo) -> str:
    each = write(mover.length, "beats") if mover.clock == "beats" else write(mover.rate, "Hz")
    times = "one swing of" if mover.once else "every" if mover.clock == "beats" else "at"
    return f"{times} {each}, {_RESTART[mover.restart]}"


def _curve_runs_on(mover: Curve) -> str:
    return "" if mover.restart == "note" else "runs independently of the notes"


def _lfo_runs_on(mover: Lfo) -> str:
    if "random" in mover.shape:
        return "is random"
    return "" if mover.restart == "note" else "runs independently of the notes"


def _macro_runs_on(mover: Macro) -> str:
    return "is drawn over the phrase" if mover.drawn and len(mover.points) > 1 else ""


def _performance_runs_on(mover: Performance) -> str:
    return "is random for each note" if mover.what == "random" else ""


def _macro_manner(mover: Macro) -> str:
    return f"as drawn over {write(mover.bars, 'bars')}" if mover.drawn and len(mover.points) > 1 else "by hand"


def _performance_manner(mover: Performance) -> str:
    per_note = {"velocity": "the harder the note", "key": "the higher the note", "random": "at random for each note"}
    return per_note.get(mover.what, f"by the {mover.what}")


_PROCESSORS = "kessel.engine.modulation.movers:"

MOVERS: tuple[Kind, ...] = (
    Kind(Envelope, "Envelope", processor=_PROCESSORS + "EnvelopeMover", manner=lambda mover: "once per note"),
    Kind(Curve, "Curve", processor=_PROCESSORS + "CurveMover", manner=_curve_manner, runs_on=_curve_runs_on),
    Kind(
        Lfo, "LFO", processor=_PROCESSORS + "LfoMover", manner=_lfo_manner,
        is_bipolar=lambda mover: True, runs_on=_lfo_runs_on,
    ),
    Kind(Macro, "Macro", processor=_PROCESSORS + "MacroMover", manner=_macro_manner, runs_on=_macro_runs_on),
    Kind(
        Performance, "Performance", processor=_PROCESSORS + "PerformanceMover", manner=_performance_manner,
        is_bipolar=lambda mover: bool(mover.what == "bend"), runs_on=_performance_runs_on,
    ),
    Kind(
        Follower, "Follower", processor=_PROCESSORS + "FollowerMover", verb="following",
        manner=lambda mover: "as loud as it is", runs_on=lambda mover: "follows another sound",
    ),
    Kind(
        AudioRate, "Audio-rate source", processor=_PROCESSORS + "AudioRateMover", manner=lambda mover: "at audio rate",
        is_bipolar=lambda mover: True, needs_source=True,
    ),
)  # fmt: skip
_BY_WORD = {kind.word: kind for kind in MOVERS}

if TYPE_CHECKING:
    # the kinds that code refers to by class; a new kind is not added here
    Mover = Envelope | Curve | Lfo | Performance | Macro | Follower | AudioRate
else:
    Mover = union_of(MOVERS)


def kind_of(mover: Any) -> Kind:
    """The record of a mover's kind."""
    return _BY_WORD[mover.kind]


def is_bipolar(mover: Any) -> bool:
    """Whether a mover goes from −1 to 1. The others go from 0 to 1."""
    return kind_of(mover).is_bipolar(mover)


def manner(mover: Any) -> str:
    """How a mover moves, as text: ``once per note``, ``every 1/8``."""
    return kind_of(mover).manner(mover)
