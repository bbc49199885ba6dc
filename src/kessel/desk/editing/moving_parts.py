"""The movers of a part, and their movers and movements, copied with it."""

from __future__ import annotations

from typing import Any

from ...patch import (
    AudioRate,
    ControlPath,
    Edit,
    Movement,
    Mover,
    Patch,
    amp_envelopes,
    free_id,
    with_their_movers,
)

HERE = "@"
"""Prefix of a path relative to the part: the source of an audio-rate connection."""
_Dumps = list[dict[str, Any]]


def moving_parts(patch: Patch, below: str) -> tuple[_Dumps, _Dumps]:
    """Movers and movements of everything below a path prefix (with its last dot), as plain data.

    Targets and sources are relative to the part. Audio-rate movers whose source is not copied are left out.
    """
    away = {m.id for m in patch.movers if isinstance(m, AudioRate) and not m.source.startswith(below)}
    own = [m for m in patch.movements if m.target.startswith(below) and not m.lost and m.mover not in away]
    used = {i for m in own for i in (m.mover, m.scaled_by) if i} - away
    used |= {envelope for path, envelope in amp_envelopes(patch).items() if path.startswith(below)}
    used = with_their_movers(patch.movements, used, away)
    movers = [_relative(m, below) for m in patch.movers if m.id in used]
    return movers, [_from(m, below, used) for m in (*own, *_between(patch, used)) if m.mover in used]


def _relative(mover: Mover, below: str) -> dict[str, Any]:
    """A mover as plain data, with its source relative to the part."""
    data: dict[str, Any] = mover.model_dump()
    if isinstance(mover, AudioRate):
        data["source"] = HERE + mover.source.removeprefix(below)
    return data


def _between(patch: Patch, used: set[str]) -> list[Movement]:
    """The movements of the movers themselves."""
    inside = tuple(f"movers.{i}." for i in sorted(used))
    return [m for m in patch.movements if m.target.startswith(inside) and not m.lost]


def _from(m: Movement, below: str, used: set[str]) -> dict[str, Any]:
    data = m.model_dump() | {"target": m.target.removeprefix(below)}
    return data if m.scaled_by in used else data | {"scaled_by": ""}


def moved_in(patch: Patch, kept: list[Movement], movers: _Dumps, movements: _Dumps, path: str) -> list[Edit]:
    """Edits that add movers and movements of a part that is now at ``path``.

    A mover that exists already is shared, with its own movers. A follower is kept if its layer exists.
    """
    there, names, shared = _movers_in(patch, movers, path)
    found = [m.model_dump() for m in kept]
    taken = [m["id"] for m in found]
    for movement in movements:
        steps = ControlPath(movement["target"]).steps
        if steps[0] == "movers" and steps[1] in names:
            if steps[1] in shared:
                continue
            target = ControlPath.of("movers", names[steps[1]], *steps[2:])
        else:
            target = ControlPath(path).below(movement["target"])
        made_id = free_id(movement["id"], taken)
        taken.append(made_id)
        by = names.get(movement.get("scaled_by", ""), "")
        found.append(movement | {"id": made_id, "mover": names[movement["mover"]], "target": target, "scaled_by": by})
    return [Edit("movers", there), Edit("movements", found)]


def movers_named(patch: Patch, movers: _Dumps, path: str) -> dict[str, str]:
    """The ids that the movers of a part have in the patch, once the part is at ``path``, by their old ids."""
    return _movers_in(patch, movers, path)[1]


def _movers_in(patch: Patch, movers: _Dumps, path: str) -> tuple[_Dumps, dict[str, str], set[str]]:
    """All movers of the patch with those of a part; the new id by old id; the old ids of those that are shared."""
    layers = {x.id for x in patch.layers}
    there = [m.model_dump() for m in patch.movers]
    names: dict[str, str] = {}
    shared: set[str] = set()
    for mover in movers:
        made = dict(mover)
        if str(made.get("source", "")).startswith(HERE):
            made["source"] = f"{path}.{made['source'].removeprefix(HERE)}"
        if made["kind"] == "follower" and made["layer"] not in layers:
            made["layer"] = ""
        same = next((m["id"] for m in there if m == made), None)
        names[mover["id"]] = same or free_id(mover["id"], [m["id"] for m in there])
        if same is None:
            there.append(made | {"id": names[mover["id"]]})
        else:
            shared.add(mover["id"])
    return there, names, shared
