"""Drive the throw-away effect and mover through every room: ``python -m tests.throwaway.drive``."""

import json

import numpy as np

from .one_line import add

add(
    "kessel.patch.effects.kinds",
    ")  # fmt: skip\nSTAGES",
    "    __import__('tests.throwaway.tremble', fromlist=['KIND']).KIND,",
)
add(
    "kessel.patch.movement.kinds",
    ")  # fmt: skip\n_BY_WORD",
    "    __import__('tests.throwaway.drip', fromlist=['KIND']).KIND,",
)

from kessel.checks import match_of  # noqa: E402
from kessel.demo import demo_patch  # noqa: E402
from kessel.desk import add_movement, add_part, start_from  # noqa: E402
from kessel.engine import RenderCache, render_loop, response_of  # noqa: E402
from kessel.formats import dump_patch, load_patch  # noqa: E402
from kessel.patch import CHAIN_KINDS, MOVERS, Edit, Patch, apply, movable, said  # noqa: E402
from kessel.web.views.editor.item_panel import chain_at, place_of  # noqa: E402
from kessel.web.views.editor.mover_panel import movers_panel  # noqa: E402
from kessel.web.views.editor.panel import PanelContext  # noqa: E402


def panel_of(patch, item):
    layer = patch.layers[0]
    look = PanelContext(patch, layer, None, item)
    return chain_at(look, place_of(patch, layer, "worked", "", item))


def main() -> None:
    before = demo_patch("undertow")
    plain = render_loop(before, RenderCache()).sum
    # the lists and the schema
    assert [k.label for k in CHAIN_KINDS][-2:] == ["Tremble", "Branch"] and MOVERS[-1].label == "Drip"
    schema = json.dumps(Patch.model_json_schema())
    assert '"Tremble"' in schema and '"Drip"' in schema and '"shown_if"' in schema
    # an effect in the chain, its panel, and when its controls are shown
    edits, item, label = add_part(before, "worked", "tremble")
    patch = apply(before, edits)
    assert (item, label) == ("tremble", "Add Tremble")
    panel = panel_of(patch, item)
    shown = [v.path for v in panel.views]
    assert (
        "worked.tremble.depth" in shown and "worked.tremble.power" not in shown and "worked.tremble.match" not in shown
    )
    assert ("tremble", "Tremble") in next(kinds for family, kinds in panel.adding[0].groups if family == "Level")
    assert [name for name, _ in panel.picks[0].options] == ["Shallow", "Sixteenths"]
    assert panel.drawing is not None and panel.drawing.lines
    edits, _ = start_from(patch, "worked.tremble", "Sixteenths")
    patch = apply(patch, edits)
    assert "worked.tremble.power" in [v.path for v in panel_of(patch, item).views]
    # its sound, its response, and a file
    swung = render_loop(patch, RenderCache()).sum
    off = render_loop(apply(patch, [Edit("worked.tremble.on", False)]), RenderCache()).sum
    n = min(plain.shape[1], swung.shape[1])
    assert np.abs(swung[:, :n] - plain[:, :n]).max() > 0.01 and np.abs(off[:, :n] - plain[:, :n]).max() < 1e-6
    assert abs(response_of(patch.worked[-1], np.array([100.0]))[0] - 20 * np.log10(0.55)) < 0.01
    assert load_patch(dump_patch(patch).encode()) == patch
    # what it adds to the loudness is taken back
    gain = match_of(patch, "worked.tremble", RenderCache())
    assert gain > 0.5
    matched = apply(patch, [Edit("worked.tremble.match", gain)])
    assert abs(match_of(matched, "worked.tremble", RenderCache()) - gain) < 0.05
    # a mover moves it, in words and in sound
    movable(patch, "worked.tremble.depth")
    edits, _ = add_movement(patch, "new:drip", "worked.tremble.depth")
    moved = apply(patch, edits)
    assert said(moved, moved.movements[-1]).sentence.endswith("depth drip, once per note in 500 ms")
    travel = render_loop(moved, RenderCache()).travel["worked.tremble.depth"]
    assert np.nanmax(travel) - np.nanmin(travel) > 5.0
    look = PanelContext(moved, moved.layers[0], None, "drip")
    panel = movers_panel(look)
    assert ("movers", "drip", "Drip") in panel.adders and [v.path for v in panel.views] == ["movers.drip.fall"]


if __name__ == "__main__":
    main()
    print("both are whole")
