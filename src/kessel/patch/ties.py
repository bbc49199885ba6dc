"""Tied frequencies: they keep an interval, and share their movements and key follow."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from .base import free_id
from .control_path import ControlPath
from .controls import Control
from .model import Patch
from .movement import Tie
from .paths import NoSuchPath, get, movable
from .units import ValueProblem

_SAME = 1e-7
"""Relative error allowed in a tied frequency: rounding."""


def frequency(patch: Patch, path: str) -> Control:
    """The declaration of a frequency that can be tied. Raises ValueProblem."""
    found = movable(patch, path)
    if found.unit != "Hz" or found.taper != "log" or not path.startswith("layers."):
        raise ValueProblem(f"{found.name} is no frequency: only those can be tied")
    return found


def whole(patch: Patch, tie: Tie) -> bool:
    """Whether both ends exist."""
    try:
        return all(bool(frequency(patch, path)) for path in tie.ends)
    except ValueProblem:
        return False


def is_tied(patch: Patch, path: str) -> bool:
    """Whether an edit at this path carries over to other controls by a tie."""
    parts = ControlPath(path).steps
    if parts[0] == "movements" and len(parts) == 3:
        path = next((m.target for m in patch.movements if m.id == parts[1]), "")
    return parts[0] == "ties" or any(path in (end, follow_of(end)) for tie in patch.ties for end in tie.ends)


def follow_of(path: str) -> str:
    """The path of the key follow that belongs to a cutoff. None for other frequencies."""
    stem, name = ControlPath(path).parent, ControlPath(path).name
    return f"{stem}.key_follow" if name == "cutoff" else ""


def all_tied(patch: Patch, *paths: str) -> list[str]:
    """The frequencies at ``paths`` and all that are tied to them, directly or not."""
    found = list(dict.fromkeys(paths))
    for here in found:
        for tie in patch.ties:
            if here in tie.ends:
                found += [p for p in tie.ends if p not in found]
    return found


def place_in(data: Any, path: str) -> tuple[dict[str, Any], str] | None:
    """The part and the field of a path in the dump of a patch."""
    here = data
    steps = ControlPath(path).steps
    for step in steps[:-1]:
        here = here.get(step) if isinstance(here, dict) else next((i for i in here or [] if i["id"] == step), None)
    return (here, steps[-1]) if isinstance(here, dict) and steps[-1] in here else None


def _moving(movements: Sequence[dict[str, Any]], path: str) -> list[dict[str, Any]]:
    return [m for m in movements if m["target"] == path and not m.get("lost")]


def _like(movement: dict[str, Any]) -> tuple[Any, ...]:
    return tuple(v for k, v in sorted(movement.items()) if k not in ("id", "target"))


def _can_move(data: dict[str, Any], movement: dict[str, Any], path: str) -> bool:
    """Whether a movement may drive this path too. An audio-rate source moves stages of its own layer only.

    A stage at audio rate moves those after it: what is tied stands anywhere, so it is left alone.
    """
    for named in (movement["mover"], movement.get("scaled_by")):
        feed = next((m for m in data["movers"] if m["id"] == named and m["kind"] == "audio-rate"), None)
        fed_by = ControlPath(feed["source"]).steps if feed is not None and feed["source"] else ()
        if fed_by and (fed_by[2] == "stages" or ControlPath(path).steps[:3] != (*fed_by[:2], "stages")):
            return False
    return True


def _carried(data: dict[str, Any], lead: str, other: str, both: bool) -> list[dict[str, Any]]:
    """All movements, with those of ``other`` replaced by those of ``lead``. both: each also gets the other's."""
    movements: list[dict[str, Any]] = data["movements"]
    leading, following = _moving(movements, lead), _moving(movements, other)
    wanted = [m | {"target": other} for m in leading if _can_move(data, m, other)]
    gone = [] if both else [m for m in following if _can_move(data, m, lead)]
    kept = _replaced(movements, following, wanted, gone)
    had = {m["mover"] for m in leading}
    back = [m | {"target": lead} for m in following if m["mover"] not in had and _can_move(data, m, lead)]
    for m in wanted + (back if both else []):
        kept.append(m | {"id": free_id(m["id"], [x["id"] for x in kept])})
    return kept


def _replaced(
    movements: list[dict[str, Any]],
    following: list[dict[str, Any]],
    wanted: list[dict[str, Any]],
    gone: list[dict[str, Any]],
) -> list[dict[str, Any]]:
    """The movements, with those that follow replaced by the wanted ones of the same mover, which are taken out."""
    kept = []
    for m in movements:
        same = next((w for w in wanted if w["mover"] == m["mover"]), None) if m in following else None
        if same is not None:
            wanted.remove(same)
            kept.append(same | {"id": m["id"]})
        elif m not in gone:
            kept.append(m)
    return kept


def keep_tied(patch: Patch, data: dict[str, Any], paths: Iterable[str]) -> None:
    """Carry edits of tied frequencies over to their partners. ``data`` is the dump of the edited patch.

    A frequency at its limit stops the others, so that the interval stays.
    """
    ties = [Tie.model_validate(t) for t in data["ties"]]
    if not ties:
        return
    known = {t.id for t in patch.ties}
    new = {t.id for t in ties if t.id not in known}
    done: set[str] = set()
    for lead in _leads(patch, data, ties, set(paths)):
        if lead not in done:
            done |= _go_along(patch, data, ties, lead, new)


def _leads(patch: Patch, data: dict[str, Any], ties: list[Tie], named: set[str]) -> list[str]:
    """The ends of ties that were edited, moved or restored, and whose partners follow. named: paths of the edits."""
    known = {t.id: t for t in patch.ties}
    before = [m.model_dump() for m in patch.movements]
    leads: list[str] = []
    for tie in ties:
        if known.get(tie.id) == tie and not whole(patch, tie):
            # a restored end follows the end that stayed
            leads += [p for p in tie.ends if _declared(patch, p) is not None]
            continue
        leads += [p for p in tie.ends if p in named or follow_of(p) in named]
        leads += [p for p in tie.ends if _turned(patch, data, p) or _moved(before, data, p)]
        if known.get(tie.id) != tie:
            leads.append(tie.first)
    return leads


def _there(patch: Patch, path: str) -> bool:
    try:
        get(patch, path)
    except NoSuchPath:
        return False
    return True


def _turned(patch: Patch, data: dict[str, Any], path: str) -> bool:
    """Whether a frequency or its key follow was changed."""
    both = [(p, place_in(data, p)) for p in (path, follow_of(path))]
    return any(at is not None and _there(patch, p) and at[0][at[1]] != get(patch, p) for p, at in both)


def _moved(before: Sequence[dict[str, Any]], data: dict[str, Any], path: str) -> bool:
    return [_like(m) for m in _moving(before, path)] != [_like(m) for m in _moving(data["movements"], path)]


def _declared(patch: Patch, path: str) -> Control | None:
    try:
        return frequency(patch, path)
    except ValueProblem:
        return None


def ratio(semitones: float) -> float:
    """Frequency ratio of an interval."""
    return float(2.0 ** (semitones / 12.0))


def _limits(patch: Patch, path: str) -> tuple[float, float]:
    found = _declared(patch, path)
    return (found.low, found.high) if found is not None else (20.0, 20000.0)


def _reached(data: dict[str, Any], ties: Sequence[Tie], lead: str) -> list[tuple[str, str, float, str]]:
    """All that is tied to a frequency, as (from, to, semitones above the lead, tie), nearest first."""
    found: list[tuple[str, str, float, str]] = []
    over = {lead: 0.0}
    front = [lead]
    for path in front:
        for tie in ties:
            if path not in tie.ends:
                continue
            other = tie.second if path == tie.first else tie.first
            if other in over or place_in(data, other) is None:
                continue
            over[other] = over[path] + (tie.interval if path == tie.first else -tie.interval)
            front.append(other)
            found.append((path, other, over[other], tie.id))
    return found


def _go_along(patch: Patch, data: dict[str, Any], ties: Sequence[Tie], lead: str, new: set[str]) -> set[str]:
    """Carry the value and the movements of one frequency over to all that are tied to it. Returns their paths."""
    here = place_in(data, lead)
    reached = _reached(data, ties, lead) if here is not None else []
    if here is None or not reached:
        return {lead}
    value = float(here[0][here[1]])
    for _, other, semitones, _ in reached:
        low, high = _limits(patch, other)
        value = min(max(value, low / ratio(semitones)), high / ratio(semitones))
    if abs(value / float(here[0][here[1]]) - 1.0) > _SAME:
        here[0][here[1]] = round(value, 6)
    for path, other, semitones, tie in reached:
        place = place_in(data, other)
        assert place is not None
        low, high = _limits(patch, other)
        wanted = min(max(value * ratio(semitones), low), high)
        if abs(float(place[0][place[1]]) / wanted - 1.0) > _SAME:
            place[0][place[1]] = round(wanted, 6)
        follow, follows = place_in(data, follow_of(lead)), place_in(data, follow_of(other))
        if follow is not None and follows is not None:
            follows[0][follows[1]] = follow[0][follow[1]]
        data["movements"] = _carried(data, path, other, tie in new)
    return {lead, *(other for _, other, _, _ in reached)}
