"""Parts that are carried from one layer to another."""

from __future__ import annotations

from ...patch import ControlPath, Edit, Patch, ValueProblem, apply
from .kept_parts import put_in, take_out
from .parts import remove_part

_KINDS = {"sources": "source", "stages": "stage", "chain": "item"}


def carry(patch: Patch, path: str, layer_id: str, copy: bool = False) -> tuple[list[Edit], str, str]:
    """Edits that move a source, a voice stage or a chain item to another layer with its movements, the step as text,
    and its new id. copy: it stays where it was too. Raises ValueProblem.
    """
    steps = ControlPath(path).steps
    kind = _KINDS.get(steps[2]) if len(steps) == 4 and steps[0] == "layers" else None
    goal = next((x for x in patch.layers if x.id == layer_id), None)
    if kind is None or goal is None:
        raise ValueProblem("sources, voice stages and effects of a layer can be dragged to another layer")
    if steps[1] == layer_id:
        raise ValueProblem(f"it is in {goal.name} already: drag it to another layer")
    kept = take_out(patch, kind, path)
    edits, _, new = put_in(patch, kept, layer_id, f"layers.{layer_id}.{steps[2]}")
    if not copy:
        gone, _ = remove_part(apply(patch, edits), path)
        edits = [*edits, *gone]
    return edits, f"{'Copy' if copy else 'Move'} {kept.name} to {goal.name}", new
