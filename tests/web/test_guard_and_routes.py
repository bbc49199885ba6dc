"""Who may ask; what is answered to bad values, ids, files and paths; nothing half-done."""

import io
import json

import pytest
import soundfile as sf
from fastapi.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from kessel.demo import demo_patches
from kessel.desk import Desk
from kessel.formats import dump_patch
from kessel.web import create_app
from kessel.web.static_files import ADDRESS

HOME = {"origin": "http://127.0.0.1:8700"}
CUTOFF = "layers.body.stages.pluck.cutoff"


@pytest.fixture(scope="module")
def desk(tmp_path_factory):
    made = Desk(tmp_path_factory.mktemp("data"))
    made.seed_demo()
    return made


@pytest.fixture(scope="module")
def client(desk):
    with TestClient(create_app(desk), base_url="http://127.0.0.1:8700", raise_server_exceptions=False) as made:
        yield made


@pytest.fixture
def slug(desk):
    return desk.duplicate("sluice-gate")


def turn(client, slug, **words):
    return client.post(f"/patch/{slug}/turn", json=words, headers=HOME)


def test_it_answers_when_it_can_serve(client):
    assert client.get("/healthz").text == "ok\n"


@pytest.mark.parametrize(
    "host", ["evil.example", "127.0.0.1.evil.example", "10.0.0.1:8700", "", "localhost:80:80", "[::2]"]
)
def test_a_foreign_host_name_gets_nothing(client, host):
    assert client.get("/library", headers={"host": host}).status_code == 400


@pytest.mark.parametrize("host", ["127.0.0.1:8700", "localhost:8700", "localhost", "[::1]:8700"])
def test_its_own_names_are_answered(client, host):
    assert client.get("/healthz", headers={"host": host}).status_code == 200


@pytest.mark.parametrize(
    "origin", [None, "null", "http://evil.example", "http://127.0.0.1:9999", "http://localhost:8700"]
)
def test_writes_need_the_pages_own_origin(client, slug, origin, desk):
    headers = {} if origin is None else {"origin": origin}
    answer = client.post(f"/patch/{slug}/turn", json={"path": CUTOFF, "text": "500"}, headers=headers)
    assert answer.status_code == 403
    assert desk.open(slug).version == 0


def test_the_news_need_the_same_origin(client, slug):
    for headers in ({}, {"origin": "http://evil.example"}):
        with pytest.raises(WebSocketDisconnect), client.websocket_connect(f"/patch/{slug}/news", headers=headers):
            pass
    with client.websocket_connect(f"/patch/{slug}/news", headers=HOME | {"host": "127.0.0.1:8700"}) as socket:
        assert json.loads(socket.receive_text())["version"] == 0
    with pytest.raises(WebSocketDisconnect), client.websocket_connect("/patch/none/news", headers=HOME):
        pass


def test_every_answer_carries_a_strict_policy(client, slug):
    for path in ("/library", f"/patch/{slug}", f"{ADDRESS}/kessel.css", "/nothing"):
        policy = client.get(path).headers["content-security-policy"]
        assert "default-src 'none'" in policy and "unsafe" not in policy and "http" not in policy
    page = client.get(f"/patch/{slug}").text + client.get("/library").text
    assert " style=" not in page and "<script>" not in page and " onclick" not in page and "https://" not in page


def test_bodies_are_limited(client, slug):
    assert client.post(f"/patch/{slug}/turn", content=b"x" * 2_200_000, headers=HOME).status_code == 413

    def trickle():
        for _ in range(30):
            yield b"x" * 100_000

    json_kind = HOME | {"content-type": "application/json"}
    assert client.post(f"/patch/{slug}/turn", content=trickle(), headers=json_kind).status_code == 413


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"path": CUTOFF, "text": "loud"}, "can't be read here"),
        ({"path": CUTOFF, "text": "1 Hz"}, "goes from 20 Hz"),
        ({"path": "modulates only", "text": "1"}, "no control"),
        ({"path": CUTOFF}, "say one of"),
        ({"path": CUTOFF, "text": "1", "at": 0.5}, "say one of"),
        ({"path": CUTOFF, "at": "x"}, "at"),
        ({"path": CUTOFF, "at": 1e9}, "at"),
        ({"text": "1"}, "path"),
        ({"path": "layers.body.range.low", "text": "20k"}, "below the high edge"),
    ],
)
def test_a_bad_turn_gets_one_clear_line_and_changes_nothing(client, desk, slug, body, words):
    answer = turn(client, slug, **body)
    assert answer.status_code == 422
    assert words in answer.text and "\n" not in answer.text.strip() and "Traceback" not in answer.text
    assert desk.open(slug).version == 0


def test_nonsense_instead_of_json(client, slug):
    for content in (b"", b"{", b"\xff", b"[" * 5000, b'{"path": NaN}'):
        answer = client.post(
            f"/patch/{slug}/turn", content=content, headers=HOME | {"content-type": "application/json"}
        )
        assert answer.status_code in (400, 422) and "Traceback" not in answer.text


@pytest.mark.parametrize(
    "path", ["/patch/none", "/patch/../../etc/passwd", "/patch/%00", "/static/../app.py", "/patch/none/loop.wav", "/x"]
)
def test_a_path_to_nowhere_is_said_on_a_page(client, path):
    answer = client.get(path, headers={"accept": "text/html"})
    assert answer.status_code == 404
    assert "Traceback" not in answer.text


def test_turn_undo_redo_and_parts(client, desk, slug):
    said = turn(client, slug, path=CUTOFF, text="1.2k").json()
    assert (said["text"], said["label"]) == ("1.2 kHz", "Body Pluck cutoff 230 Hz → 1.2 kHz")
    assert client.post(f"/patch/{slug}/undo", headers=HOME).json()["label"].startswith("Body Pluck")
    assert client.post(f"/patch/{slug}/redo", headers=HOME).json()["label"].startswith("Body Pluck")
    assert client.post(f"/patch/{slug}/redo", headers=HOME).json()["label"] is None
    added = client.post(f"/patch/{slug}/add", data={"path": "layers.body.stages", "kind": "distortion"}, headers=HOME)
    assert json.loads(added.headers["hx-trigger"])["chosen"]["item"] == "distortion"
    move = {"path": "layers.body.stages.distortion", "by": -1}
    assert client.post(f"/patch/{slug}/move", data=move, headers=HOME).status_code == 200
    assert desk.open(slug).patch.layer("body").stages[0].id == "distortion"
    assert client.post(f"/patch/{slug}/remove", data={"path": move["path"]}, headers=HOME).status_code == 200
    for bad in ({"path": "layers", "kind": "filter"}, {"path": "modulates only", "kind": "filter"}, {"kind": "filter"}):
        assert client.post(f"/patch/{slug}/add", data=bad, headers=HOME).status_code == 422
    assert (
        client.post(f"/patch/{slug}/fix", data={"key": "x", "label": "x", "version": 0}, headers=HOME).status_code
        == 422
    )


@pytest.mark.parametrize(
    "tab", ["sources", "stages", "envelope", "voices", "mix", "chain", "movers", "worked", "output", "nonsense"]
)
@pytest.mark.parametrize("patch", sorted(demo_patches()))
def test_every_tab_of_every_demo_layer_is_drawn(client, patch, tab):
    for layer in demo_patches()[patch].layers:
        answer = client.get(f"/patch/{patch}/editor", params={"layer": layer.id, "tab": tab, "item": "none"})
        assert answer.status_code == 200
        assert 'role="tab"' in answer.text


def test_library_new_duplicate_rename_delete_put_back(client, desk):
    where = client.post("/library/new", headers=HOME).headers["hx-redirect"]
    made = where.rsplit("/", 1)[1]
    assert client.get(where).status_code == 200
    assert "New patch copy" in client.post(f"/patch/{made}/duplicate", headers=HOME).text
    assert "Night &amp; Day" in client.post(f"/patch/{made}/rename", data={"name": "Night & Day"}, headers=HOME).text
    assert client.post(f"/patch/{made}/rename", data={"name": " "}, headers=HOME).status_code == 422
    gone = client.post(f"/patch/{made}/delete", headers=HOME).text
    assert "Night &amp; Day was deleted" in gone and f'id="row-{made}"' not in gone
    assert client.get(where, headers={"accept": "text/html"}).status_code == 404
    assert f'id="row-{made}"' in client.post(f"/patch/{made}/put-back", headers=HOME).text


def test_export_and_import(client):
    text = client.get("/patch/mud-lantern/patch.json").text
    assert text == dump_patch(demo_patches()["mud-lantern"])
    answer = client.post("/library/import", files={"file": ("m.json", text)}, headers=HOME)
    assert "Mud Lantern" in answer.text
    for name, data in (("junk.json", b"\x00\x01"), ("<b>.json", b"{}"), ("nan.json", b'{"layers": [NaN]}')):
        answer = client.post("/library/import", files={"file": (name, data)}, headers=HOME)
        assert "was not imported" in answer.text and "<b>" not in answer.text
    assert client.post("/library/import", headers=HOME).status_code == 422


def test_the_loop_as_wav_and_the_card(client):
    data = client.get("/patch/salt-press/loop.wav")
    x, rate = sf.read(io.BytesIO(data.content), always_2d=True)
    assert rate == 48000 and x.shape == (round(8 * 60 * 48000 / 126), 2)
    assert "all hold" in client.get("/patch/mud-lantern/card").text
    assert "1 failing" in client.get("/patch/undertow/card").text


def test_a_head_is_answered_as_a_get_without_its_body(client, slug):
    for path in ("/library", f"/patch/{slug}", f"/patch/{slug}/patch.json", "/healthz", f"{ADDRESS}/page/boot.js"):
        get, head = client.get(path), client.head(path)
        assert (head.status_code, head.content) == (get.status_code, b"") == (200, b"")
        assert head.headers["content-type"] == get.headers["content-type"]
    assert client.head("/nothing").status_code == 404


@pytest.mark.parametrize(
    "origin",
    ["https://127.0.0.1:8700", "ws://127.0.0.1:8700", "http://127.0.0.1:8700.evil.example", "http://127.0.0.1"],
)
def test_the_socket_and_writes_compare_the_whole_origin(client, slug, origin):
    for where in ("live", "news"):
        with (
            pytest.raises(WebSocketDisconnect),
            client.websocket_connect(f"/patch/{slug}/{where}", headers={"origin": origin, "host": "127.0.0.1:8700"}),
        ):
            pass
    answer = client.post(f"/patch/{slug}/undo", headers={"origin": origin})
    assert answer.status_code == 403


def test_the_news_tell_every_version_and_how_measuring_goes(client, slug, desk):
    with client.websocket_connect(f"/patch/{slug}/news", headers=HOME | {"host": "127.0.0.1:8700"}) as news:
        first = news.receive_json()
        turn(client, slug, path="output.gain", text="-5")
        while (told := news.receive_json())["findings"] <= first["version"]:
            assert told["version"] >= first["version"] and told["problem"] == ""
        assert told["version"] == told["picture"] == told["findings"] == first["version"] + 1


@pytest.mark.parametrize(
    "name", ["\u200b", "\u2060\u2060", "a\u202eb", "\u3164", "\x07bell", "\ue000", "\u2800 \u2800"]
)
def test_names_that_can_not_be_seen_are_refused(client, slug, name):
    for where, words in (("rename", {"name": name}), ("turn", None)):
        if words is None:
            answer = turn(client, slug, path="layers.body.name", text=name)
        else:
            answer = client.post(f"/patch/{slug}/{where}", data=words, headers=HOME)
        assert answer.status_code == 422 and "name" in answer.text
    assert turn(client, slug, path="layers.body.name", text="Élan 低音 🔊").status_code == 200
