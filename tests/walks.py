"""Random walks over every gesture that a page has, checked against whole documents kept beside."""

from __future__ import annotations

import json
import random
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from typing import Any

import numpy as np

from kessel import desk as d
from kessel.checks import ChainLevels
from kessel.desk.editing import curves as curve_edits
from kessel.desk.editing import notes as note_edits
from kessel.desk.editing import waves as wave_edits
from kessel.formats import MidiProblem, document_of, midi_bytes, phrase_from_midi
from kessel.intake import WaveFile, cut, wave_of_cut
from kessel.patch import (
    IDIOMS,
    MOVERS,
    PARTS,
    STAGES,
    Choice,
    Control,
    Edit,
    NoSuchPath,
    Toggle,
    ValueProblem,
    get,
    walk,
)

from .plausible import paths_in

Act = Callable[["Walker"], Any]


class Walker:
    """Hands on one open patch. ``kept`` holds the document behind every step, ``at`` is the one that stands."""

    def __init__(self, desk: d.Desk, slug: str, seed: str, deep: bool = False) -> None:
        self.desk, self.rng = desk, random.Random(seed)
        self.open = desk.open(slug)
        self.kept = [self.text()]
        self.at = 0
        self.done: Counter[str] = Counter()
        self.deep = deep

    def text(self) -> str:
        """The patch as it stands, to the last bit."""
        return json.dumps(document_of(self.open.patch))

    @property
    def patch(self) -> Any:
        """As it stands."""
        return self.open.patch

    def path(self, *ends: str, kind: str = "") -> str:
        """A path into the patch that ends with one of some words, or leads to a part of a list of that name."""
        found = [p for p in paths_in(document_of(self.patch)) if p.rsplit(".", 1)[-1] in ends]
        if kind:
            found += [p for p in paths_in(document_of(self.patch)) if p.count(".") and p.split(".")[-2] == kind]
        if not found:
            raise ValueProblem("nothing of that kind")
        return self.rng.choice(found)

    def layer(self) -> str:
        """A layer's id."""
        return str(self.rng.choice(self.patch.layers).id)

    def gesture(self) -> None:
        """One gesture, whether it leads to something or is refused."""
        name = self.rng.choice(sorted(GESTURES))
        for first in FIRST.get(name, lambda w: ())(self):
            self.act(first)
        self.act(name)

    def act(self, name: str) -> None:
        """The gesture of this name; what it leads to is kept as one step."""
        before = self.open.version
        try:
            GESTURES[name](self)
        except (ValueProblem, NoSuchPath, MidiProblem):
            assert self.open.version == before, f"{name} was refused and changed something"
            return
        if self.open.version != before:
            self.done[name] += 1
            self.kept[self.at + 1 :] = [self.text()]
            self.at += 1

    def level(self) -> None:
        """What a level match finds later belongs to the step before it."""
        items = [p for p, _, _ in walk(self.patch) if p.endswith(".match")]
        if items:
            wanted = ((self.rng.choice(items), round(self.rng.uniform(-12, 12), 2)),)
            self.open._leveled(self.open.version, ChainLevels(wanted=wanted))
            self.kept[self.at] = self.text()

    def step(self, redo: bool) -> None:
        """Undo or redo, and see that what stands is what stood there."""
        found = self.open.redo() if redo else self.open.undo()
        to = self.at + (1 if redo else -1)
        if found is None:
            assert not 0 <= to < len(self.kept), f"no way from {self.at} to {to} of {len(self.kept)}"
            return
        self.at = to
        assert self.text() == self.kept[self.at], f"{found.label} did not lead to {to}"

    def to_the_start_and_back(self) -> None:
        """All the way back and all the way on, then straight to some steps."""
        end = len(self.kept) - 1
        while self.at:
            self.step(redo=False)
        assert self.open.undo() is None
        while self.at < end:
            self.step(redo=True)
        assert self.open.redo() is None
        steps = [0, *(s.id for s in self.open.steps(100000))]
        assert len(steps) == len(self.kept)
        for _ in range(12):
            self.at = self.rng.randrange(len(steps))
            self.open.go_to(steps[self.at])
            assert self.text() == self.kept[self.at]


def run(walker: Walker, count: int) -> None:
    """So many gestures, with a few steps back and forth and level matches between them; then all the way."""
    for _ in range(count):
        luck = walker.rng.random()
        if luck < 0.04:
            for _ in range(walker.rng.randint(1, 6)):
                walker.step(redo=False)
        elif luck < 0.07:
            walker.step(redo=True)
        elif luck < 0.1:
            walker.level()
        else:
            walker.gesture()
    walker.to_the_start_and_back()


def _turn(w: Walker) -> Any:
    path, found, _ = w.rng.choice(list(walk(w.patch)))
    if isinstance(found, Control):
        return w.open.turn(d.ControlChange(path, at=w.rng.random()))
    if isinstance(found, Choice):
        return w.open.turn(d.ControlChange(path, text=w.rng.choice(found.options)))
    return w.open.turn(d.ControlChange(path, text=w.rng.choice(("on", "off")) if isinstance(found, Toggle) else "none"))


def _step_by(w: Walker) -> Any:
    path, _, _ = w.rng.choice([x for x in walk(w.patch) if isinstance(x[1], Control)])
    return w.open.turn(d.ControlChange(path, steps=w.rng.choice((-3.0, -1.0, 0.1, 1.0, 5.0))))


def _back_to_default(w: Walker) -> Any:
    path, _, _ = w.rng.choice(list(walk(w.patch)))
    return w.open.turn(d.ControlChange(path, default=True))


def _end_of_movement(w: Walker) -> Any:
    movement = w.rng.choice(w.patch.movements or [None])
    if movement is None:
        raise ValueProblem("none")
    return w.open.turn(d.ControlChange(f"movements.{movement.id}.amount", at=w.rng.random()))


def _add(w: Walker) -> Any:
    path = w.rng.choice(
        [w.path("chain", "stages", "sources", "worked", "movers", "bands", "items", "paths"), "layers", "returns"]
    )
    kinds = [k for k in PARTS if k != "layer"] if path != "layers" else ["layer"]
    for _ in range(6):
        try:
            return w.open.add(path, w.rng.choice(kinds))
        except ValueProblem as problem:
            told = problem
    raise told


def _edits(make: Callable[[Walker], Any]) -> Act:
    """A gesture whose edits are made by a function of the patch."""

    def act(w: Walker) -> Any:
        edits, *words = make(w)
        return w.open.edit(edits, next(x for x in (words[-1], words[0], "x") if isinstance(x, str)))

    return act


def _blend_ends(w: Walker) -> Any:
    if len(w.patch.stances) < 2:
        raise ValueProblem("no two stances")
    a, b = w.rng.sample([t.id for t in w.patch.stances], 2)
    return w.open.edit([Edit("blend.a", a), Edit("blend.b", b)], "blend between")


def _note_ids(w: Walker) -> list[str]:
    notes = [n.id for n in w.patch.phrase.notes]
    return w.rng.sample(notes, min(len(notes), w.rng.randint(1, 4)))


def _wave_path(w: Walker) -> str:
    return w.rng.choice([f"layers.{x.id}.sources.{s.id}" for x in w.patch.layers for s in x.sources])


def _curve(w: Walker) -> str:
    movers = [m.id for m in w.patch.movers if m.kind in ("curve", "macro")]
    items = [p for p in paths_in(document_of(w.patch)) if p.endswith(".points")]
    return w.rng.choice(movers or [p.rsplit(".", 1)[0] for p in items] or ["none"])


def _import_midi(w: Walker) -> Any:
    data = midi_bytes(w.patch.phrase, w.rng.uniform(60, 180), "walk")
    return note_edits.use_midi(w.patch, phrase_from_midi(data, "walk.mid", w.patch.phrase), "walk.mid")


def _import_wave(w: Walker) -> Any:
    x = np.sin(2 * np.pi * 110 * np.arange(9000) / 48000 + 0.3 * np.sin(np.arange(9000) / w.rng.uniform(50, 90)))
    return wave_edits.put_wave(
        w.patch, _wave_path(w), wave_of_cut(WaveFile("walk.wav", x, 48000), cut(WaveFile("walk.wav", x, 48000)))
    )


def _import_audio(w: Walker) -> Any:
    card = w.desk.keep_audio(np.full((1, 480), w.rng.random(), dtype=np.float32), "walk", 55.0)
    samples = [f"layers.{x.id}.sources.{s.id}" for x in w.patch.layers for s in x.sources if s.kind == "sample"]
    if not samples:
        raise ValueProblem("no sample")
    return w.open.edit([Edit(f"{w.rng.choice(samples)}.audio", card.word)], "Import audio")


def _paste(w: Walker) -> Any:
    kind = w.rng.choice(sorted(d.KINDS))
    lists = {"layer": "layers", "source": "sources", "mover": "movers", "item": "chain", "wave": "waves"}
    path = w.path("envelope", "stages", "chain", "worked", kind=lists.get(kind, ""))
    kept = d.take_out(w.patch, kind, path)
    edits, label, _ = d.put_in(w.patch, kept, w.layer(), w.rng.choice(["", "worked", w.path("chain")]))
    return edits, label


def _from_shelf(w: Walker) -> Any:
    _, part = w.rng.choice(w.desk.shelf())
    edits, label, _ = d.put_in(w.patch, part, w.layer(), "")
    return edits, label


def _movable(w: Walker) -> str:
    controls = [p for p, c, _ in walk(w.patch) if isinstance(c, Control) and c.moves]
    return w.rng.choice(controls)


def _movement(w: Walker) -> Any:
    if not w.patch.movements:
        raise ValueProblem("none")
    return w.rng.choice(w.patch.movements)


def _frequency(w: Walker) -> str:
    found = [
        p
        for p, c, _ in walk(w.patch)
        if isinstance(c, Control) and c.unit == "Hz" and c.moves and p.startswith("layers.")
    ]
    return w.rng.choice(found or ["none"])


def _fix(w: Walker) -> Any:
    if not w.deep or w.rng.random() > 0.8:
        raise ValueProblem("not now")
    w.open.measure()
    found = w.open.measuring.wait_findings(w.open.version, 120.0, 1)
    w.kept[w.at] = w.text()
    fixes = [(f.key, x.label) for f in (found.findings if found else ()) for x in f.fixes]
    if not fixes:
        raise ValueProblem("none")
    key, label = w.rng.choice(fixes)
    return w.open.fix(key, label, w.open.version)


def _align(w: Walker) -> Any:
    if not w.deep or w.rng.random() > 0.1:
        raise ValueProblem("not now")
    return w.open.align(None, w.open.version)


def _settings(w: Walker) -> Any:
    path = w.path(kind=w.rng.choice(("chain", "worked")))
    names = (
        [name for name, _ in PARTS[kind].starting] if (kind := getattr(get(w.patch, path), "kind", "")) in PARTS else []
    )
    return d.start_from(w.patch, path, w.rng.choice(names or ["none"]))


GESTURES: dict[str, Act] = {
    "turn": _turn,
    "arrows": _step_by,
    "default": _back_to_default,
    "far end": _end_of_movement,
    "add": _add,
    "remove": _edits(lambda w: d.remove_part(w.patch, w.path(kind=w.rng.choice(("layers", "sources", "stages", "chain", "worked", "movers", "movements", "bands", "paths", "returns", "waves"))))),
    "move": _edits(lambda w: d.move_part(w.patch, w.path(kind=w.rng.choice(("layers", "sources", "stages", "chain", "worked"))), w.rng.choice((-1, 1)))),
    "turn into": _edits(lambda w: d.turn_into(w.patch, w.path(kind="stages"), w.rng.choice([k.word for k in STAGES]))),
    "duplicate": _edits(lambda w: d.duplicate_layer(w.patch, w.layer())[:2]),
    "own layer": _edits(lambda w: d.split_off(w.patch, _wave_path(w))[:2]),
    "tie split": _edits(lambda w: d.tie_split(w.patch, w.layer(), w.layer())),
    "untie split": _edits(lambda w: d.untie_split(w.patch, w.rng.choice(w.patch.splits).id if w.patch.splits else "none")),
    "out of step": _edits(lambda w: d.unlink_layer(w.patch, w.layer())),
    "octave": _edits(lambda w: d.move_octave(w.patch, w.layer(), w.rng.choice((-1, 1)))),
    "modulate": _edits(lambda w: d.modulate(w.patch, _wave_path(w), w.rng.choice([s.id for x in w.patch.layers for s in x.sources]), w.rng.choice(("phase", "ring")))),
    "branch": _edits(lambda w: d.branch_around(w.patch, w.path(kind=w.rng.choice(("chain", "worked"))))[::2]),
    "same bands": _edits(lambda w: d.same_bands(w.patch, w.path(kind="bands"))),
    "start from": _edits(_settings),
    "hatch": lambda w: w.open.edit([Edit(f"layers.{w.layer()}.hatch", w.rng.choice(("waves", "dots", "bricks", "diagonal")))], "hatch"),
    "rename": lambda w: w.open.turn(d.ControlChange(f"layers.{w.layer()}.name", text=w.rng.choice(("Low", "Élan", "Über 2", "b a s s")))),
    "draw note": _edits(lambda w: note_edits.draw_note(w.patch, w.rng.randint(24, 60), w.rng.uniform(0, 7), None, 0.25)),
    "move notes": _edits(lambda w: note_edits.move_notes(w.patch, _note_ids(w), w.rng.uniform(-2, 2), w.rng.randint(-5, 5), 0.25)),
    "stretch notes": _edits(lambda w: note_edits.stretch_notes(w.patch, _note_ids(w), w.rng.uniform(-1, 2), 0.25)),
    "velocity": _edits(lambda w: note_edits.set_velocity(w.patch, _note_ids(w), w.rng.randint(-30, 30), None)),
    "delete notes": _edits(lambda w: note_edits.delete_notes(w.patch, _note_ids(w)[:1])),
    "double notes": _edits(lambda w: note_edits.double_notes(w.patch, _note_ids(w), 0.25)),
    "transpose": _edits(lambda w: note_edits.transpose(w.patch, w.rng.choice((-12, -1, 2, 7)))),
    "lane": _edits(lambda w: note_edits.stroke_lane(w.patch, w.rng.choice(("bend", "wheel", "pressure")), [(w.rng.uniform(0, 8), w.rng.random()) for _ in range(5)])),
    "clear lane": _edits(lambda w: note_edits.clear_lane(w.patch, w.rng.choice(("bend", "wheel", "pressure")))),
    "idiom": _edits(lambda w: note_edits.use_idiom(w.patch, w.rng.choice([i.slug for i in IDIOMS]))),
    "repeat": _edits(lambda w: note_edits.repeated(w.patch, w.rng.choice((2, 4, 8)))),
    "resize": lambda w: w.open.turn(d.ControlChange("phrase.bars", text=str(w.rng.randint(1, 8)))),
    "import midi": _edits(_import_midi),
    "draw wave": _edits(lambda w: wave_edits.stroke(w.patch, _wave_path(w), 0, [(0.1, w.rng.random(), 0.6, -w.rng.random())])),
    "harmonics": _edits(lambda w: wave_edits.set_bars(w.patch, _wave_path(w), 0, [(w.rng.randint(1, 20), -w.rng.uniform(0, 40))], [])),
    "frames": _edits(lambda w: wave_edits.change_frames(w.patch, _wave_path(w), w.rng.choice(("duplicate", "insert", "delete", "morph")), 0, 2)),
    "import wave": _edits(_import_wave),
    "import audio": _import_audio,
    "draw curve": _edits(lambda w: curve_edits.stroke(w.patch, _curve(w), [(x / 9, w.rng.random()) for x in range(10)])),
    "add point": _edits(lambda w: curve_edits.add_point(w.patch, _curve(w), w.rng.random(), w.rng.random())),
    "let move": _edits(lambda w: d.add_movement(w.patch, w.rng.choice([m.id for m in w.patch.movers] + [f"new:{k.word}" for k in MOVERS]), _movable(w))),
    "aim": _edits(lambda w: d.aim(w.patch, _movement(w).id, _movable(w))),
    "opposite": _edits(lambda w: d.mirror(w.patch, _movement(w).id, _movable(w))),
    "turn round": _edits(lambda w: d.turn_round(w.patch, _movement(w).id)),
    "clear lost": _edits(lambda w: d.clear_lost(w.patch)),
    "tie": _edits(lambda w: d.tie(w.patch, _frequency(w), _frequency(w))),
    "untie": _edits(lambda w: d.untie(w.patch, w.rng.choice(w.patch.ties).id if w.patch.ties else "none")),
    "macro": lambda w: w.open.add("movers", "macro"),
    "turn a macro": lambda w: w.open.turn(d.ControlChange(f"movers.{w.rng.choice(_macros(w) or ['none'])}.value", at=w.rng.random())),
    "stance": _edits(lambda w: d.keep_stance(w.patch, "")),
    "take stance": _edits(lambda w: d.take_stance(w.patch, w.rng.choice(w.patch.stances).id if w.patch.stances else "none")),
    "blend": lambda w: w.open.turn(d.ControlChange("blend.share", at=w.rng.random())),
    "blend between": _blend_ends,
    "pin": _edits(lambda w: d.pin(w.patch, _movable(w))),
    "paste": _edits(_paste),
    "put a part": _edits(_from_shelf),
    "freeze": lambda w: d.freeze(w.desk, w.open, w.open, w.rng.choice(["sum", "worked", w.layer()]), w.rng.choice(("phrase", "note"))),
    "fix": _fix,
    "align": _align,
}  # fmt: skip
"""Everything that a page can do to a patch, by name."""


def _macros(w: Walker) -> list[str]:
    return [m.id for m in w.patch.movers if m.kind == "macro"]


def _with_stances(count: int) -> Callable[[Walker], Iterator[str]]:
    """So many stances of at least one macro, which has moved since."""

    def first(w: Walker) -> Iterator[str]:
        if not _macros(w):
            yield "macro"
        for _ in range(count - len(w.patch.stances)):
            yield "stance"
        yield "turn a macro"

    return first


def _before_blending(w: Walker) -> Iterator[str]:
    yield from _with_stances(2)(w)
    if w.rng.random() < 0.3 or not {w.patch.blend.a, w.patch.blend.b} <= {s.id for s in w.patch.stances}:
        yield "blend between"


FIRST: dict[str, Callable[[Walker], Iterable[str]]] = {"blend": _before_blending, "take stance": _with_stances(1)}
"""Gestures that a hand makes before one that would mean nothing without them."""
