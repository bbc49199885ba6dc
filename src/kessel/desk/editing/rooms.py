"""Changes of playback rooms."""

from __future__ import annotations

from ...patch import Choice, Control, Room, ValueProblem, declarations, free_id


def changed_room(room: Room, name: str, text: str) -> Room:
    """The room with one value changed to typed text or a chosen word. Raises ValueProblem."""
    if name == "name":
        cleaned = " ".join(text.split())[:60]
        if not cleaned:
            raise ValueProblem("a room needs a name")
        return room.model_copy(update={"name": cleaned})
    c = declarations(Room).get(name)
    if isinstance(c, Control):
        return room.model_copy(update={name: c.read(text)})
    if isinstance(c, Choice):
        if text not in c.options:
            raise ValueProblem(f"{c.name} is one of {', '.join(c.options)}")
        return room.model_copy(update={name: text})
    raise ValueProblem("a room has no such setting")


def copied_room(room: Room, taken: list[Room]) -> Room:
    """A copy of a room with its own name and id."""
    names = {r.name for r in taken}
    name = next(n for i in range(2, 1000) if (n := f"{room.name[:54]} {i}") not in names)
    return room.model_copy(update={"id": free_id(name, [r.id for r in taken]), "name": name})
