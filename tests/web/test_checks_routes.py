"""Routes of the Checks workspace: every topic is drawn, bad words get one plain line and change nothing."""

import io
import re

import numpy as np
import pytest
import soundfile as sf

from kessel.checks import Evidence, Limits, Where, check
from kessel.demo import demo_patches
from kessel.formats import wav_bytes
from kessel.web.views.checks import TOPICS
from kessel.web.views.evidence import TOPIC_OF, VIEW_OF, spot_of

from ..making import layer, note, patch, tone
from .test_guard_and_routes import HOME, client, desk, slug  # noqa: F401


def form(client, slug, where, **words):  # noqa: F811
    return client.post(f"/patch/{slug}/{where}", data=words, headers=HOME)


def drawn(client, slug, topic, **words):  # noqa: F811
    asked = {"view": "checks", "topic": topic, **words}
    return client.get(f"/patch/{slug}/sheet", params=asked).text


@pytest.mark.parametrize("topic", [t[0] for t in TOPICS])
def test_every_topic_is_drawn(client, topic):  # noqa: F811
    page = client.get("/patch/undertow", params={"view": "checks", "topic": topic}).text
    assert f'aria-label="Checks: {topic}"' in page
    answer = drawn(client, "undertow", topic)
    assert f'id="topic-{topic}"' in answer and "check-problem" not in answer
    assert "load delay" not in answer.split("hx-sync")[0]
    assert not re.search(r"\bnan\b", answer) and "None" not in answer


def test_the_summary_says_what_is_known_of_keys_and_rooms(client, slug):  # noqa: F811
    page = drawn(client, slug, "summary")
    assert "not measured yet" in page and "not measured yet" in page
    drawn(client, slug, "rooms")
    form(client, slug, "sweep", first="28", last="30")
    # each answer waits for the next keys
    assert any("of E1 to F♯1" in drawn(client, slug, "summary") for _ in range(20) if drawn(client, slug, "keys"))
    page = drawn(client, slug, "summary")
    assert "Playable: E1 to F♯1" in page
    assert "The pitch is clear in 4 of 6 rooms; it is lost in Phone, Laptop" in page
    # neither is counted as a check, and an edit makes both unknown
    assert "checks hold" in page
    client.post(f"/patch/{slug}/turn", json={"path": "layers.body.level", "text": "-9"}, headers=HOME)
    page = drawn(client, slug, "summary")
    assert "not measured yet" in page and "not measured yet" in page


@pytest.mark.parametrize("slug_of", sorted({*TOPIC_OF, *VIEW_OF}))
def test_the_evidence_of_every_check_stands_somewhere(slug_of):
    spot = spot_of(slug_of, Where())
    assert (spot.topic in {t[0] for t in TOPICS}) != (spot.view in ("layers", "movement", "shaping"))


def test_every_finding_of_the_demo_set_has_its_evidence():
    known = {*TOPIC_OF, *VIEW_OF}
    for p in demo_patches().values():
        assert {f.check for f in check(Evidence(p, seeks=False))} <= known


@pytest.mark.parametrize(
    ("slug_of", "path", "want"),
    [
        ("stage-clips", "worked.crush", ("shaping", "worked", "", "crush", "")),
        (
            "stage-clips",
            "worked.split.paths.low.items.drive",
            ("shaping", "worked", "", "split.paths.low.items.drive", ""),
        ),
        ("stage-clips", "layers.body.chain.drive", ("shaping", "chain", "body", "drive", "")),
        ("wet-lows", "returns.space.chain.room", ("shaping", "returns", "", "room", "space")),
        ("stage-clips", "output.gain", ("shaping", "output", "", "", "")),
        ("resonance-clips", "layers.body.stages.pluck.resonance", ("layers", "stages", "body", "pluck", "")),
        ("idle-movement", "layers.body.stages.pluck.cutoff", ("movement", "", "body", "", "")),
    ],
)
def test_the_place_of_a_finding_is_chosen(slug_of, path, want):
    spot = spot_of(slug_of, Where(("body",), path=path))
    assert (spot.view, spot.tab, spot.layer, spot.item, spot.what) == want


@pytest.mark.parametrize(
    ("where", "words"),
    [
        ("limit", {"name": "sum_loss_db", "value": "a lot"}),
        ("limit", {"name": "sum_loss_db", "value": "12"}),
        ("limit", {"name": "nothing", "value": "1"}),
        ("align", {"version": "77"}),
        ("sweep", {"first": "40", "last": "20"}),
        ("sweep", {"first": "0", "last": "127"}),
        ("even-keys", {"first": "24", "last": "48"}),
        ("room", {"room": "car", "name": "bump", "value": "99 dB"}),
        ("room", {"room": "cave", "name": "bump", "value": "1 dB"}),
        ("room", {"room": "car", "name": "id", "value": "x"}),
        ("room-add", {"room": "cave"}),
        ("room-drop", {"room": "cave"}),
        ("duck-kick", {"depth": "99", "hold": "10"}),
        ("duck-kick", {"depth": "nan", "hold": "10"}),
        ("tune-kick", {"hz": "1"}),
        ("reference", {"word": "0" * 32}),
        ("reference/stretch", {"name": "start", "value": "1 s"}),
    ],
)
def test_bad_words_are_answered_in_one_line(client, slug, where, words):  # noqa: F811
    before = client.get(f"/patch/{slug}/patch.json").json()
    answer = form(client, slug, where, **words)
    assert answer.status_code in (404, 422)
    assert "\n" not in answer.text.strip() and "Traceback" not in answer.text
    assert client.get(f"/patch/{slug}/patch.json").json() == before


def test_pictures_are_pngs(client):  # noqa: F811
    for name in ("scope.png", "low.png"):
        answer = client.get(f"/patch/undertow/{name}")
        assert answer.headers["content-type"] == "image/png" and answer.content.startswith(b"\x89PNG")
    assert client.get("/patch/nobody/scope.png").status_code == 404


def test_an_unknown_topic_or_pick_shows_the_first(client):  # noqa: F811
    assert 'aria-label="Checks: summary"' in drawn(client, "undertow", "nonsense")
    assert "Sub and the worked path" in drawn(client, "undertow", "alignment", pick="<script>")
    assert "Main floor" in drawn(client, "undertow", "rooms", pick="modulates only")
    assert "Beside Kick" in drawn(client, "undertow", "neighbours", pick="loop:none")


def test_a_reference_is_taken_in_cut_and_let_go(client, slug):  # noqa: F811
    data = io.BytesIO()
    sf.write(data, np.stack([tone(110.0, -12.0, 4.0)] * 2, axis=1), 44100, format="FLAC")
    answer = client.post(f"/patch/{slug}/reference/file", files={"file": ("near.flac", data.getvalue())}, headers=HOME)
    assert answer.json()["label"] == "near is the reference" and "rejudged" in answer.headers["hx-trigger"]
    assert "needs" in drawn(client, slug, "reference")
    assert form(client, slug, "reference/stretch", name="start", value="0.5 s").status_code == 200
    assert form(client, slug, "reference/stretch", name="seconds", value="1,5").status_code == 200
    assert form(client, slug, "reference/stretch", name="tempo", value="120 BPM").status_code == 200
    page = drawn(client, slug, "reference")
    assert 'data-stretch="4.3' in page
    assert 'value="0.5 s"' in page and 'value="1.5 s"' in page and 'value="120 BPM"' in page
    form(client, slug, "reference/whole-stretch", start="1.25", seconds="0.01")
    page = drawn(client, slug, "reference")
    assert 'value="1.25 s"' in page and 'value="0.5 s"' in page
    for name, value in (("start", "99 s"), ("seconds", "0"), ("tempo", "7"), ("seconds", "long")):
        assert form(client, slug, "reference/stretch", name=name, value=value).status_code == 422
    assert client.post(
        f"/patch/{slug}/reference/file", files={"file": ("x.wav", b"RIFF")}, headers=HOME
    ).status_code in (415, 422)
    assert form(client, slug, "reference/drop").status_code == 200
    assert "Import a record" in drawn(client, slug, "reference")


def test_another_patch_and_a_loop_are_neighbours(client, slug):  # noqa: F811
    x = np.stack([tone(60.0, -12.0, 2.0)] * 2)
    client.post(f"/patch/{slug}/backing/loop", files={"file": ("line.wav", wav_bytes(x))}, headers=HOME)
    form(client, slug, "backing/patch", other="mud-lantern")
    page = drawn(client, slug, "neighbours")
    words = re.findall(r'"pick": "([^"]+)"', page.split('aria-label="Neighbour"')[1].split("</div>")[0])
    assert words[0] == "kick" and words[1].startswith("loop:") and words[2].startswith("patch:")
    for word in words:
        page = drawn(client, slug, "neighbours", pick=word)
        assert "louder in the lows" in page and "Where it sounds" in page


def test_rooms_over_the_page(client):  # noqa: F811
    assert form(client, "undertow", "room", room="car", name="bump_at", value="80 Hz").status_code == 200
    assert 'value="80 Hz"' in drawn(client, "undertow", "rooms", pick="car")
    assert form(client, "undertow", "room-add", room="car").status_code == 200
    assert "Car 2" in drawn(client, "undertow", "rooms")
    form(client, "undertow", "room-drop", room="car-2")
    form(client, "undertow", "rooms-restore")
    page = drawn(client, "undertow", "rooms", pick="car")
    assert "Car 2" not in page and 'value="60 Hz"' in page


def test_the_set_and_the_keys_are_begun_and_stopped(client, slug):  # noqa: F811
    assert client.post("/set/1/check", headers=HOME).status_code == 200
    assert client.post("/set/1/check-cancel", headers=HOME).status_code == 200
    assert client.post("/set/99/check", headers=HOME).status_code == 422
    assert form(client, slug, "sweep", first="30", last="31").status_code == 200
    while "sweep-progress" in drawn(client, slug, "keys", pick="28-40"):
        pass
    assert "F♯1" in drawn(client, slug, "keys", pick="28-40")
    assert form(client, slug, "sweep-cancel").status_code == 200


ODD = {
    "no notes": patch(notes=[]),
    "noise alone": patch(layer(sources=[{"kind": "noise", "id": "n", "name": "N"}])),
    "one short note": patch(notes=[note(60, 3.9, 0.02)]),
}


@pytest.mark.parametrize("name", sorted(ODD))
def test_odd_patches_are_drawn_on_every_topic(client, desk, name):  # noqa: F811
    made = desk.library.add(desk.home(), ODD[name])
    for topic, *_ in TOPICS:
        answer = drawn(client, made, topic)
        assert f'id="topic-{topic}"' in answer and "check-problem" not in answer, topic
        assert not re.search(r"\bnan\b", answer)
    assert client.get(f"/patch/{made}/scope.png").status_code == 200
    desk.library.delete(made)


def test_the_level_is_evened_by_key_and_struck_again(client, slug):  # noqa: F811
    form(client, slug, "sweep", first="24", last="28")
    while "sweep-progress" in drawn(client, slug, "keys", pick="24-48"):
        pass
    before = client.get(f"/patch/{slug}/patch.json").json()
    answer = form(client, slug, "even-keys", first="24", last="28")
    after = client.get(f"/patch/{slug}/patch.json").json()
    assert answer.status_code == 200, answer.text
    assert answer.json()["label"] == "Even the level by key"
    new = [m for m in after["movements"] if m["mover"] == "key"]
    assert {m["target"] for m in new} == {f"layers.{x['id']}.level" for x in after["layers"]}
    assert len({m["amount"] for m in new}) == 1 and before["movements"] != after["movements"]
    # what it came to is struck at once
    page = drawn(client, slug, "keys", pick="24-48")
    assert "sweep-progress" in page or "C1 loudness" in page


def test_vectors_that_a_hand_would_make(client):  # noqa: F811
    drawn(client, "undertow", "alignment")
    asked = {"key": "path sub body", "path": "layers.sub.delay"}
    found = client.get("/patch/undertow/foreseen", params={**asked, "steps": "0"}).json()
    still = {d["note"]: d["loss"] for d in found}
    moved = client.get("/patch/undertow/foreseen", params={**asked, "at": "0.15"}).json()
    assert len(found) == len(moved) == 7 and any(still[d["note"]] != d["loss"] for d in moved)
    for words in ({"key": "no pair"}, {"path": "layers.sub.pan"}, {"path": "layers.nobody.delay"}):
        assert client.get("/patch/undertow/foreseen", params={**asked, "at": "0.2", **words}).json() == []


def test_all_limits_are_shown_where_asked_for(client):  # noqa: F811
    assert "Set limit:" not in drawn(client, "undertow", "summary")
    assert drawn(client, "undertow", "summary", pick="limits").count("Set limit:") == len(Limits.model_fields)
