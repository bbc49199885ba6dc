"""Edits of the whole patch."""

from __future__ import annotations

from ...patch import Edit, Patch, ValueProblem, number


def transpose_patch(patch: Patch, semitones: int) -> tuple[list[Edit], str]:
    """Edits that transpose all layers together, and the step as text. Raises ValueProblem past the end of the range."""
    edits = []
    for layer in patch.layers:
        path = f"layers.{layer.id}.play.transpose"
        control, value = number(patch, path), layer.play.transpose + semitones
        if not control.low <= value <= control.high:
            end = "up" if semitones > 0 else "down"
            raise ValueProblem(
                f"the patch can't go further {end}: the transposition of {layer.name} goes from "
                f"{control.write(control.low)} to {control.write(control.high)}"
            )
        edits.append(Edit(path, value))
    octaves, rest = divmod(abs(semitones), 12)
    far = "an octave" if (octaves, rest) == (1, 0) else f"{octaves} octaves" if not rest else f"{abs(semitones)} st"
    return edits, f"Whole patch {far} {'up' if semitones > 0 else 'down'}"
