"""Where the evidence of a finding is: a topic of the Checks workspace, or a place in another workspace."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ...checks import Where
from ...patch import ControlPath

TOPIC_OF = {
    "layers-add-up": "alignment",
    "repeatability": "strikes",
    "lows-in-mono": "mono",
    "mono-loss": "mono",
    "hollow": "low",
    "fundamental-shut": "low",
    "thin": "low",
    "rumble": "low",
    "output-peak": "level",
    "dc-offset": "level",
    "masked": "level",
    "beats": "alignment",
    "loudness": "level",
    "kick-clash": "neighbours",
}
"""Topics of the Checks workspace by check."""

VIEW_OF = {
    "stage-clips": "shaping",
    "stage-idles": "shaping",
    "folds-back": "shaping",
    "crest-lost": "shaping",
    "wet-lows": "shaping",
    "lows-pump": "shaping",
    "resonance-clips": "layers",
    "idle-movement": "movement",
    "short-notes": "movement",
    "restarts": "movement",
    "loop-jump": "movement",
    "movement-flattened": "shaping",
}
"""Other workspaces by check."""


@dataclass(frozen=True)
class Spot:
    """What a button that leads there selects. Empty words change nothing."""

    topic: str = ""
    view: str = ""
    tab: str = ""
    layer: str = ""
    item: str = ""
    what: str = ""


def _item(steps: Sequence[str]) -> str:
    """The item of a chain's path, or of a branch path."""
    return ".".join(steps[:5] if len(steps) >= 5 and steps[1] == "paths" else steps[:1])


def spot_of(check: str, where: Where | None = None) -> Spot:
    """The spot of a finding, or of a check without findings."""
    if check in TOPIC_OF:
        return Spot(topic=TOPIC_OF[check])
    view = VIEW_OF.get(check, "")
    if where is None or not view:
        return Spot(view=view)
    layer = where.layers[0] if where.layers else ""
    steps = ControlPath(where.path or "").steps
    if view == "movement":
        return Spot(view=view, layer=layer)
    if steps[0] == "worked":
        return Spot(view=view, tab="worked", item=_item(steps[1:]))
    if steps[0] == "returns" and len(steps) > 3:
        return Spot(view=view, tab="returns", what=steps[1], item=_item(steps[3:]))
    if steps[0] == "output":
        return Spot(view=view, tab="output")
    if steps[0] == "layers" and len(steps) > 3:
        if steps[2] == "stages":
            return Spot(view="layers", tab="stages", layer=steps[1], item=steps[3])
        if steps[2] == "chain":
            return Spot(view=view, tab="chain", layer=steps[1], item=_item(steps[3:]))
    return Spot(view=view, layer=layer)
