"""All movements as sentences, sorted and filtered."""

from __future__ import annotations

from dataclasses import dataclass

from ....desk import NEW, Picture, frequencies, movable_controls, new_movers, unused
from ....patch import (
    Control,
    ControlPath,
    Movement,
    NoSuchPath,
    Patch,
    Tie,
    ValueProblem,
    all_tied,
    amount_text,
    controller_name,
    declaration,
    feeding,
    get,
    movable,
    number,
    said,
    shown,
    title,
)
from ..controls import Words, control_view, ran

SORTS = (("target", "by target"), ("mover", "by mover"), ("size", "widest first"), ("made", "in the order made"))


@dataclass(frozen=True)
class MovementRow:
    """One movement: its sentence, and the paths of its editable values."""

    id: str
    target: str
    target_path: str
    layer: str
    start: str
    end: str
    amount: str
    mover: str
    mover_id: str
    by: str
    manner: str
    sentence: str
    lost: bool
    both: Words
    curve: str
    scaled_by: str
    travelled: str


@dataclass(frozen=True)
class MovementList:
    """The shown rows, and the options for sorting and filtering."""

    rows: tuple[MovementRow, ...]
    count: int
    sorts: tuple[tuple[str, str, bool], ...]
    layers: tuple[tuple[str, str, bool], ...]
    movers: tuple[tuple[str, str], ...]
    only: str
    targets: tuple[tuple[str, str], ...]
    new: tuple[tuple[str, str], ...]
    lost: int
    unused: tuple[str, ...]


def movement_row(patch: Patch, m: Movement, picture: Picture | None) -> MovementRow:
    """One movement as a row."""
    words = said(patch, m)
    mover = next(x for x in patch.movers if x.id == m.mover)
    both = control_view(patch, f"movements.{m.id}.both_ways")
    assert isinstance(both, Words)
    steps = ControlPath(m.target).steps
    rest, travelled = "", ""
    if not m.lost:
        control = number(patch, m.target)
        rest = control.write(float(get(patch, m.target)))
        travelled = ran(control, m.target, picture)
    return MovementRow(
        id=m.id,
        target=words.target,
        target_path=m.target,
        layer=steps[1] if steps[0] == "layers" else "",
        start=rest,
        end=words.end,
        amount="" if m.lost else amount_text(patch, m),
        mover=mover.name,
        mover_id=mover.id,
        by=words.by,
        manner=words.manner,
        sentence=words.sentence,
        lost=words.lost,
        both=both,
        curve=f"{m.curve:.0f} %".replace("-", "−"),
        scaled_by=m.scaled_by,
        travelled=travelled,
    )


def _wide(patch: Patch, m: Movement) -> float:
    if m.lost:
        return 0.0
    control = number(patch, m.target)
    wide = control.to_scale(control.high) - control.to_scale(control.low)
    return abs(m.amount) / wide


_Rows = list[tuple[Movement, MovementRow]]


def _chosen_rows(rows: _Rows, only: str) -> _Rows:
    """The rows of a layer or a mover, or those with some words."""
    kind, _, word = only.partition(":")
    if kind == "layer" and word:
        return [(m, r) for m, r in rows if r.layer == word]
    if kind == "mover" and word:
        return [(m, r) for m, r in rows if word in (m.mover, m.scaled_by)]
    return [(m, r) for m, r in rows if only.lower() in r.sentence.lower()]


def _sorted(patch: Patch, rows: _Rows, sort: str) -> _Rows:
    """The rows in an order; those without a target first."""
    if sort == "mover":
        rows.sort(key=lambda p: (p[1].mover.lower(), p[1].target))
    elif sort == "size":
        rows.sort(key=lambda p: -_wide(patch, p[0]))
    elif sort != "made":
        rows.sort(key=lambda p: (p[1].target.lower(), p[1].mover))
    return sorted(rows, key=lambda p: not p[1].lost)


def movement_list(patch: Patch, picture: Picture | None, sort: str, only: str) -> MovementList:
    """The list. ``only``: a layer (``layer:ID``), a mover (``mover:ID``), or words of the sentence."""
    rows = _sorted(patch, _chosen_rows([(m, movement_row(patch, m, picture)) for m in patch.movements], only), sort)
    chosen = sort if sort in dict(SORTS) else "target"
    return MovementList(
        rows=tuple(r for _, r in rows),
        count=len(patch.movements),
        sorts=tuple((s, name, s == chosen) for s, name in SORTS),
        layers=tuple((f"layer:{x.id}", x.name, only == f"layer:{x.id}") for x in patch.layers),
        movers=tuple((m.id, m.name) for m in patch.movers),
        only=only,
        targets=tuple(movable_controls(patch, movers=True)),
        new=tuple(new_movers(patch)),
        lost=sum(bool(m.lost) for m in patch.movements),
        unused=tuple(m.name for m in patch.movers if m.id in unused(patch)),
    )


@dataclass(frozen=True)
class Tied:
    """One tie of a control: words before and after its interval, and the path of the interval."""

    id: str
    before: str
    interval: str
    after: str
    path: str


def _tied(patch: Patch, tie: Tie, path: str) -> Tied:
    where = f"ties.{tie.id}.interval"
    text = shown(patch, where)
    over = path == tie.second
    try:
        other = title(patch, tie.first if over else tie.second)
    except NoSuchPath:
        return Tied(tie.id, "Tied to a removed control,", text, "apart", where)
    return Tied(tie.id, "Tied" if over else f"{other} is", text, f"above {other}" if over else "above it", where)


@dataclass(frozen=True)
class ControlMenu:
    """The menu of one control: its movers, possible movers, ties, and its pin.

    fixed: why it can't be moved, if so. learns: whether a controller can turn it; bound: the one that
    does, by number and name.
    """

    path: str
    name: str
    fixed: str
    rows: tuple[MovementRow, ...]
    movers: tuple[tuple[str, str], ...]
    new: tuple[tuple[str, str], ...]
    sources: tuple[tuple[str, str], ...]
    pinned: bool
    mirrors: tuple[tuple[str, str], ...]
    ties: tuple[Tied, ...]
    others: tuple[tuple[str, str], ...]
    learns: bool
    bound: tuple[int, str] | None


def _feeding(patch: Patch, path: str) -> tuple[tuple[str, str], ...]:
    """Sources and stages that can move a voice stage's control at audio rate."""
    return tuple((f"{NEW}audio-rate:{source}", name) for source, name in feeding(patch, path))


def _others(patch: Patch, path: str) -> tuple[tuple[str, str], ...]:
    """Frequencies that a frequency can be tied to."""
    found = frequencies(patch)
    if path not in dict(found):
        return ()
    away = all_tied(patch, path)
    return tuple((p, name) for p, name in found if p not in away)


def _why_fixed(patch: Patch, path: str) -> str:
    """Why the control at ``path`` can't be moved."""
    found = declaration(patch, path)
    if not isinstance(found, Control):
        return f"{found.name} can't be moved: it is a choice, with nothing between its values"
    try:
        movable(patch, path)
    except ValueProblem as problem:
        return str(problem)
    return f"{found.name} has no effect as the patch stands"


def control_menu(patch: Patch, path: str, picture: Picture | None) -> ControlMenu:
    """The menu of the control at ``path``, or of the one that the movement at ``path`` moves. Raises NoSuchPath."""
    if ControlPath(path).root == "movements":
        path = next((m.target for m in patch.movements if ControlPath(path).is_below(f"movements.{m.id}")), path)
    view = control_view(patch, path)
    targets = dict(movable_controls(patch, movers=True))
    own = [m for m in patch.movements if m.target == path]
    mirrors: tuple[tuple[str, str], ...] = ()
    if own:
        unit = number(patch, path).unit
        mirrors = tuple((p, n) for p, n in targets.items() if p != path and number(patch, p).unit == unit)
    mine = ControlPath(path).steps[1] if path.startswith("movers.") else ""
    return ControlMenu(
        path=path,
        name=view.full,
        fixed="" if path in targets else _why_fixed(patch, path),
        rows=tuple(movement_row(patch, m, picture) for m in own),
        movers=tuple((m.id, m.name) for m in patch.movers if m.id != mine),
        new=tuple(new_movers(patch, path)),
        sources=_feeding(patch, path),
        pinned=path in patch.pins,
        mirrors=mirrors,
        ties=tuple(_tied(patch, t, path) for t in patch.ties if path in t.ends),
        others=_others(patch, path),
        learns=isinstance(declaration(patch, path), Control),
        bound=next(((b.controller, controller_name(b.controller)) for b in patch.bindings if b.target == path), None),
    )
