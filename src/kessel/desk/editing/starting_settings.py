"""Apply a starting setting to an effect, and one band's settings to all bands."""

from __future__ import annotations

from ...patch import PARTS, BandDynamics, Branch, ControlPath, Edit, Patch, ValueProblem, get

_KEEP = {"id", "name", "matched", "match", "on"}


def start_from(patch: Patch, path: str, name: str) -> tuple[list[Edit], str]:
    """Edits that give an item the values of a starting setting and reset the others, and the step as text."""
    part = get(patch, path)
    kind = PARTS.get(getattr(part, "kind", ""))
    found = next((v for n, v in kind.starting if n == name), None) if kind is not None else None
    if kind is None or found is None:
        raise ValueProblem("there is no starting setting of that name")
    fresh = kind.make(part.id, part.name)
    own = {k: v for k, v in part.model_dump().items() if k in _KEEP}
    values = fresh.model_dump() | dict(found) | own
    if isinstance(part, Branch) and "paths" not in found:
        values["paths"] = part.model_dump()["paths"]
    made = type(part).model_validate(values)
    place, last = ControlPath(path).parent, ControlPath(path).name
    items = get(patch, place)
    return [Edit(place, [made.model_dump() if i.id == last else i.model_dump() for i in items])], f"{part.name}: {name}"


def same_bands(patch: Patch, path: str) -> tuple[list[Edit], str]:
    """Edits that copy one band of a multiband to all bands, except name and gain, and the step as text."""
    one = get(patch, path)
    if not isinstance(one, BandDynamics):
        raise ValueProblem("only a band of a multiband can be copied to the others")
    place = ControlPath(path).parent
    given = {k: v for k, v in one.model_dump().items() if k not in ("id", "name", "gain", "solo")}
    bands = [b.model_dump() | given for b in get(patch, place)]
    return [Edit(place, bands)], f"All bands as {one.name}"
