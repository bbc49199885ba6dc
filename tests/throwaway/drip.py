"""A throw-away mover: it falls over each note, in seconds."""

from typing import Literal

from kessel.patch.base import Id, Name, Part
from kessel.patch.controls import control
from kessel.patch.kinds import Kind
from kessel.patch.units import write


class Drip(Part):
    """From all to nothing over some seconds of each note."""

    kind: Literal["drip"] = "drip"
    id: Id
    name: Name
    fall: float = control("Fall", "ms", 10, 10000, 500, taper="log", moves=True, help="Time to fall to nothing.")


KIND = Kind(
    Drip,
    "Drip",
    processor="tests.throwaway.drip_processor:DripMover",
    verb="let down by",
    manner=lambda mover: f"once per note in {write(mover.fall, 'ms')}",
)
