"""Routes of the shaping workspace: every place is drawn, bad words get one plain line and change nothing."""

import numpy as np
import pytest

from kessel.desk import add_part
from kessel.engine import render_loop
from kessel.formats import wav_bytes
from kessel.formats.bundle import words_of
from kessel.patch import CHAIN_KINDS, Edit, apply

from .test_guard_and_routes import HOME, client, desk, slug  # noqa: F401

KINDS = [k.word for k in CHAIN_KINDS]


def form(client, slug, where, **words):  # noqa: F811
    return client.post(f"/patch/{slug}/{where}", data=words, headers=HOME)


def body(client, slug):  # noqa: F811
    return client.get(f"/patch/{slug}/patch.json").json()


@pytest.mark.parametrize(
    ("where", "words"),
    [
        ("start-from", {"path": "worked.nobody", "name": "Punch"}),
        ("start-from", {"path": "worked.grit", "name": "Nothing of ours"}),
        ("start-from", {"path": "layers.body", "name": "Punch"}),
        ("same-bands", {"path": "worked.grit"}),
        ("branch", {"path": "layers.body.stages.pluck"}),
        ("let-through", {"path": "layers.body"}),
        ("take-setting", {"place": "worked", "which": "A"}),
        ("blind", {"place": "worked"}),
        ("pick-setting", {"place": "worked", "which": "1"}),
        ("hold-setting", {"place": "worked", "which": "C"}),
        ("add", {"path": "worked", "kind": "mode"}),
        ("add", {"path": "worked.deck.bands", "kind": "echo"}),
        ("remove", {"path": "worked.nobody"}),
    ],
)
def test_bad_words_are_answered_in_one_line(client, slug, where, words):  # noqa: F811
    before = body(client, slug)
    answer = form(client, slug, where, **words)
    assert answer.status_code in (404, 422)
    assert "\n" not in answer.text.strip() and "Traceback" not in answer.text
    assert body(client, slug) == before


def test_every_kind_is_drawn_and_taken_away(client, desk, slug):  # noqa: F811
    """One after the other on a layer's chain; each has its controls on the page."""
    for kind in KINDS:
        open_patch = desk.open(slug)
        edits, _, label = add_part(open_patch.patch, "layers.body.chain", kind)
        open_patch.edit(edits, label)
        item = body(client, slug)["layers"][1]["chain"][-1]
        page = client.get(f"/patch/{slug}", params={"view": "shaping", "tab": "chain", "item": item["id"]})
        assert page.status_code == 200
        assert f'data-value="layers.body.chain.{item["id"]}.mix"' in page.text
        assert 'data-view="shaping"' in page.text
        assert form(client, slug, "remove", path=f"layers.body.chain.{item['id']}").status_code == 200
    assert body(client, slug)["layers"][1]["chain"] == []


@pytest.mark.parametrize("tab", ["chain", "worked", "returns", "output", "movers", "movements", "nothing"])
def test_every_tab_is_shown_with_and_without_anything_in_it(client, slug, tab):  # noqa: F811
    for item in ("", "nobody", "grit.paths.low", "deck"):
        page = client.get(f"/patch/{slug}", params={"view": "shaping", "tab": tab, "item": item, "what": "nobody"})
        assert page.status_code == 200
    for view in ("layers", "movement"):
        assert client.get(f"/patch/{slug}", params={"view": view, "tab": tab}).status_code == 200


def test_the_last_two_bands_and_ways_stay(client, slug):  # noqa: F811
    assert form(client, slug, "remove", path="worked.deck.bands.mid").status_code == 200
    refused = form(client, slug, "remove", path="worked.deck.bands.low")
    assert refused.status_code == 422 and "at least" in refused.text


def test_curves_of_items_are_drawn_by_their_paths(client, slug):  # noqa: F811
    form(client, slug, "add", path="worked", kind="beat-shape")
    path = "worked.beat-shape"
    before = body(client, slug)["worked"][-1]["points"]
    hand = {"mover": path, "do": "add", "at": 0.25, "value": 0.8}
    assert client.post(f"/patch/{slug}/curve", json=hand, headers=HOME).status_code == 200
    assert len(body(client, slug)["worked"][-1]["points"]) == len(before) + 1
    hand = {"mover": "worked.grit", "do": "move", "index": 0, "at": 0.0, "value": 0.4}
    assert client.post(f"/patch/{slug}/curve", json=hand, headers=HOME).status_code == 200
    grit = body(client, slug)["worked"][0]
    assert grit["curve"] == "drawn" and grit["points"][0]["value"] == 0.4
    refused = client.post(f"/patch/{slug}/curve", json=hand | {"mover": "worked.mud"}, headers=HOME)
    assert refused.status_code == 422
    box = client.get(f"/patch/{slug}/curve-box", params={"view": "shaping", "tab": "worked", "item": "grit"})
    assert box.status_code == 200 and 'data-mover="worked.grit"' in box.text


def test_a_response_is_imported_and_goes_along_with_the_patch(client, desk, slug):  # noqa: F811
    """A response that is one sample long changes nothing but the level it is brought to."""
    open_patch = desk.open(slug)
    edits, _, label = add_part(open_patch.patch, "worked", "cabinet")
    open_patch.edit(edits, label)
    plain = render_loop(apply(open_patch.patch, [Edit("worked.cabinet.on", False)])).worked
    x = np.zeros((1, 4800))
    x[0, 0] = 0.5
    files = {"file": ("click.wav", wav_bytes(x), "audio/wav")}
    answer = client.post(f"/patch/{slug}/import-audio", data={"path": "worked.cabinet"}, files=files, headers=HOME)
    assert answer.status_code == 200, answer.text
    cabinet = open_patch.patch.worked[-1]
    assert cabinet.mode == "recorded" and cabinet.audio
    even = apply(open_patch.patch, [Edit("worked.cabinet.matched", False)])
    assert render_loop(even).worked == pytest.approx(plain, abs=1e-6)
    assert cabinet.audio in words_of(open_patch.patch)
    refused = client.post(f"/patch/{slug}/import-audio", data={"path": "worked.grit"}, files=files, headers=HOME)
    assert refused.status_code == 422


def test_an_empty_chain_waits_for_nothing(client, desk, slug):  # noqa: F811
    """It has no stage to report on: nothing on it says that it is being measured."""
    opened = desk.open(slug)
    assert opened.patch.layer("body").chain == []
    page = client.get(f"/patch/{slug}?view=shaping&layer=body&tab=chain").text
    sheet = page[page.index('id="sheet"') : page.index("</main>")]
    assert "The chain is empty" in sheet and "ax waits" not in sheet
