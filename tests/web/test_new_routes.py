"""Phrase, wave, part and audio routes: bad values get one plain line, and nothing is changed."""

import io
import json
import random
from itertools import pairwise

import numpy as np
import pytest
import soundfile

from kessel.demo import demo_patches
from kessel.desk.editing import notes as note_edits
from kessel.desk.tape import Tape
from kessel.formats import wav_bytes
from kessel.patch import apply
from kessel.web.views.editor.editor import Selection
from kessel.web.views.library.shelf import card_view
from kessel.web.views.movement.movement import moving_view

from .test_guard_and_routes import HOME, client, desk, slug  # noqa: F401

SOURCE = "layers.body.sources.square"


def post(client, of, where, **words):  # noqa: F811
    return client.post(f"/patch/{of}/{where}", json=words, headers=HOME)


def form(client, slug, where, files=None, **words):  # noqa: F811
    return client.post(f"/patch/{slug}/{where}", data=words, files=files, headers=HOME)


def body(client, slug):  # noqa: F811
    return client.get(f"/patch/{slug}/patch.json").json()


@pytest.mark.parametrize(
    ("where", "words"),
    [
        ("notes", {"do": "sing"}),
        ("notes", {"do": "draw", "pitch": 400}),
        ("notes", {"do": "draw", "pitch": 40, "start": "soon"}),
        ("notes", {"do": "move", "ids": ["nobody"], "beats": 1}),
        ("notes", {"do": "move", "ids": "n1"}),
        ("notes", {"do": "idiom", "slug": "nothing"}),
        ("notes", {"do": "lane", "lane": "tempo", "points": [[0, 0]]}),
        ("notes", {"do": "lane", "lane": "bend", "points": []}),
        ("notes", {"do": "transpose", "semitones": 127}),
        ("wave", {"do": "stroke", "path": "layers.body"}),
        ("wave", {"do": "stroke", "path": SOURCE, "strokes": [[0, 0, 1]]}),
        ("wave", {"do": "use", "path": SOURCE, "word": "stock:none"}),
        ("wave", {"do": "touch", "path": SOURCE, "what": "polish"}),
        ("wave", {"do": "frames", "path": SOURCE, "what": "delete"}),
        ("wave", {"do": "frames", "path": "layers.nobody.sources.x", "what": "insert"}),
    ],
)
def test_bad_hands_are_answered_in_one_line(client, slug, where, words):  # noqa: F811
    before = body(client, slug)
    answer = post(client, slug, where, **words)
    assert answer.status_code == 422 and "\n" not in answer.text.strip() and "Traceback" not in answer.text
    assert body(client, slug) == before


@pytest.mark.parametrize(
    ("where", "words"),
    [
        ("duplicate-layer", {"layer": "nobody"}),
        ("split-off", {"path": SOURCE}),
        ("split-off", {"path": "layers.body"}),
        ("tie", {"lower": "sub", "upper": "edge"}),
        ("untie", {"split": "none"}),
        ("out-of-step", {"layer": "edge"}),
        ("hatch", {"layer": "body", "hatch": "tartan"}),
        ("freeze", {"what": "nobody"}),
        ("freeze", {"what": "body", "mode": "deeply"}),
        ("freeze", {"what": "body", "into": "no-such-patch"}),
        ("copy", {"kind": "layer", "path": "worked"}),
        ("copy", {"kind": "soul", "path": "layers.body"}),
        ("keep", {"kind": "chain", "path": "layers.body.chain"}),
        ("put", {"part": 99999}),
        ("put", {"part": "x"}),
        ("let-move", {"mover": "nobody", "target": "layers.body.stages.pluck.cutoff"}),
        ("let-move", {"mover": "snap", "target": "layers.body.name"}),
        ("backing/patch", {"other": "no-such-patch"}),
        ("go-to", {"step": -3}),
        ("move", {"path": "layers.body", "to": 99}),
        ("modulate", {"path": SOURCE, "source": "nobody"}),
    ],
)
def test_bad_moves_are_answered_in_one_line(client, slug, where, words):  # noqa: F811
    before = body(client, slug)
    answer = form(client, slug, where, **words)
    assert answer.status_code in (404, 422) and "\n" not in answer.text.strip() and "Traceback" not in answer.text
    assert body(client, slug) == before


def test_files_are_taken_or_answered(client, slug):  # noqa: F811
    tone = wav_bytes(0.5 * np.sin(2 * np.pi * 80 * np.arange(48000) / 48000)[None, :])
    for where, words, data in (
        ("import-audio", {"path": SOURCE}, tone),
        ("import-audio", {"path": "layers.body"}, tone),
        ("import-wave", {"path": SOURCE}, b"no audio"),
        ("import-wave", {"path": "layers.body.stages.pluck"}, tone),
        ("midi", {}, tone),
        ("backing/loop", {}, b""),
    ):
        answer = form(client, slug, where, files={"file": ("x.wav", data)}, **words)
        assert answer.status_code == 422 and "Traceback" not in answer.text, where
    assert form(client, slug, "take-wave").status_code == 422
    before = body(client, slug)
    assert form(client, slug, "import-wave", files={"file": ("x.wav", tone)}, path=SOURCE).status_code == 200
    assert body(client, slug) == before and "x.wav" in client.get(f"/patch/{slug}/editor?tab=wave").text
    for words in ({"way": "sideways"}, {"way": "frames", "length": "many"}, {"way": "frames", "length": "1"}):
        assert form(client, slug, "cut-wave", **words).status_code == 422
    assert form(client, slug, "cut-wave", way="frames", length="600").status_code == 200
    assert form(client, slug, "take-wave").status_code == 200
    assert form(client, slug, "backing/loop", files={"file": ("beat.wav", tone)}).status_code == 200
    p = body(client, slug)
    assert p["waves"][0]["name"] == "x" and p["backing"]["loops"][0]["tempo"] == 120.0
    large = client.post(
        f"/patch/{slug}/import-audio", content=b"0" * 100, headers=HOME | {"content-length": "299000000"}
    )
    assert (large.status_code, large.text) == (413, "That is too large: 200 MB at most.\n")


def test_every_fragment_answers_whatever_is_asked(client, slug):  # noqa: F811
    rnd = random.Random(5)
    words = ["", "body", "nobody", "wave", "sources", "mod", "movers", "%00", "é", "1", "output"]
    for tab in ("sources", "wave", "stages", "envelope", "voices", "mix", "chain", "movers", "worked", "output", "x"):
        for group in ("wave", "pitch", "shape", "mod"):
            answer = client.get(
                f"/patch/{slug}/editor?layer={rnd.choice(words)}&tab={tab}&item={rnd.choice(words)}&group={group}&frame=7"
            )
            assert answer.status_code == 200, tab
    for side in ("history", "parts", "parts?kind=wave", "parts?kind=x", "backing"):
        assert client.get(f"/patch/{slug}/side/{side}").status_code == 200
    assert client.get(f"/patch/{slug}/phrase-panel?snap=1/3&lane=x").status_code == 200
    drawn = client.get(f"/patch/{slug}/drawing?layer=body&source=square&path={SOURCE}.skew&at=0.7").json()
    assert drawn["line"].startswith("M") and len(drawn["bars"]) == 64
    assert client.get(f"/patch/{slug}/drawing?layer=body&source=x&path=nothing&at=0.7").json() == {}
    assert client.get(f"/patch/{slug}/wave.wav?path={SOURCE}").content[:4] == b"RIFF"
    assert client.get(f"/patch/{slug}/wave.wav?path=layers.body").status_code == 422


def test_steps_say_what_they_did(client, slug):  # noqa: F811
    post(client, slug, "notes", do="draw", pitch=41, start=1.0, snap="1/8")
    form(client, slug, "let-move", mover="snap", target="layers.body.sources.square.skew")
    said = client.get(f"/patch/{slug}/side/history").text
    assert "Draw F2" in said and "Body Square skew moves by Snap" in said
    newest = client.get(f"/patch/{slug}/side/history?most=1").text
    assert "skew moves by Snap" in newest and "Draw F2" not in newest and "side/history?most=4" in newest
    answer = form(client, slug, "duplicate-layer", layer="body")
    assert json.loads(answer.headers["hx-trigger"])["chosen"] == {"layer": "body-2"}


def test_a_patch_that_is_not_measured_yet_says_so():
    from kessel.web.pages import environment

    shown = environment.get_template("library/card.html").render(card=card_view("some-patch", None))
    assert "measuring" in shown and "all hold" not in shown and "/patch/some-patch/card" in shown


def test_stages_in_branches_say_in_which_they_stand(client, slug):  # noqa: F811
    editor = f"/patch/{slug}/editor?layer=edge&tab=stages"
    assert "<i>A</i> Thin" not in client.get(editor).text
    post(client, slug, "turn", path="layers.edge.branches.routing", text="parallel")
    post(client, slug, "turn", path="layers.edge.stages.lid.branch", text="B")
    shown = client.get(editor).text
    assert "<i>A</i> Thin" in shown and "<i>B</i> Lid" in shown


def test_names_of_notes_never_stand_over_each_other(desk):  # noqa: F811
    short = demo_patches()["sluice-gate"]
    crowded = apply(short, note_edits.repeated(short, 16)[0])
    for patch, most in ((short, 12), (crowded, 32)):
        notes = moving_view(patch, None, Selection("edge"), "any", 0).notes
        named = [at for at, _, name in notes if name]
        assert len(notes) == len(patch.phrase.notes) and 8 <= len(named) <= most
        assert min(b - a for a, b in pairwise(named)) >= 3.2


def test_a_frequency_is_tied_from_its_menu_and_let_go(client, slug):  # noqa: F811
    ends = {"path": "layers.edge.stages.thin.cutoff", "other": "layers.body.stages.pluck.cutoff"}
    menu = f"/patch/{slug}/control-menu?path={ends['path']}"
    assert "Tie to…" in client.get(menu).text
    assert form(client, slug, "tie-to", **ends).status_code == 200
    shown = client.get(menu).text
    assert "above Body Pluck cutoff, moves with it" in shown and 'data-value="ties.tie.interval"' in shown
    assert "tied to Body Pluck cutoff" in client.get(f"/patch/{slug}/editor?layer=edge&tab=stages").text
    again = form(client, slug, "tie-to", **ends)
    assert again.status_code == 422 and "already" in again.text
    assert form(client, slug, "untie-from", tie="tie").status_code == 200
    assert "Tie to…" in client.get(menu).text
    assert form(client, slug, "untie-from", tie="tie").status_code == 422


def test_what_was_heard_comes_as_wav_or_flac_once_there_is_something(client, desk):  # noqa: F811
    answer = client.get("/patch/undertow/heard.wav")
    assert answer.status_code == 422 and "nothing that was heard is kept" in answer.text
    assert client.get("/patch/undertow/heard.mp3").status_code in (404, 422)
    tape = desk.open("undertow").tape = Tape()
    x = 0.5 * np.sin(np.arange(3000) / 20.0) * np.ones((2, 1))
    tape.write(x)
    for kind in ("wav", "flac"):
        answer = client.get(f"/patch/undertow/heard.{kind}")
        assert answer.headers["content-disposition"] == f'attachment; filename="undertow-heard.{kind}"'
        found, rate = soundfile.read(io.BytesIO(answer.content))
        assert rate == 48000 and np.abs(found.T - x).max() < 2e-7
