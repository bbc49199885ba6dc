"""A throw-away effect: its level swings with the beat."""

from typing import Literal

from kessel.patch.conditions import when
from kessel.patch.controls import choice, control
from kessel.patch.effects.dynamics import EffectPart
from kessel.patch.kinds import Kind


class Tremble(EffectPart):
    """A level that swings so many times a beat."""

    kind: Literal["tremble"] = "tremble"
    form: Literal["round", "steep"] = choice("Form", "round", help="How the level swings.")
    times: float = control("Times", "x", 0.25, 16, 2, taper="log", step=0.01, moves=True, help="Swings a beat.")
    depth: float = control("Depth", "%", 0, 100, 50, step=1, moves=True, help="How far it swings.")
    power: float = control("Power", "x", 1, 9, 3, shown_if=when("form", "steep"), help="How steep it is.")


KIND = Kind(
    Tremble,
    "Tremble",
    processor="tests.throwaway.tremble_processor:TrembleProcessor",
    family="Level",
    tail=lambda part, beat, ms: 2.0 * beat,
    starting=(("Shallow", {"depth": 20.0}), ("Sixteenths", {"times": 4.0, "depth": 90.0, "form": "steep"})),
)
