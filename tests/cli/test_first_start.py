"""The first start: while the loops are compiled the port answers with the library and the progress."""

import json
import socket
import threading
import urllib.error
import urllib.request

import pytest
from starlette.testclient import TestClient

from kessel.cli import compiling, first_start
from kessel.cli.command import Problem
from kessel.cli.first_start import shelves_of, wait_for_loops
from kessel.demo import SET_NAME, demo_patches
from kessel.library import Library
from kessel.waiting import Progress, Shelf, waiting_app


@pytest.fixture
def page():
    progress = Progress(done=3, of=41, begun=100.0)
    shelf = Shelf("Basses & <more>", (("Low Tide", "84 BPM, G minor. Dark."),))
    with TestClient(waiting_app(progress, [shelf]), base_url="http://127.0.0.1:8000") as client:
        yield client, progress


def test_whatever_is_asked_for_shows_the_library_and_how_far_it_is(page):
    client, _ = page
    for path in ("/", "/library", "/patch/undertow"):
        answer = client.get(path)
        assert answer.status_code == 503 and "Retry-After" in answer.headers
        assert "getting ready" in answer.text and "Low Tide" in answer.text and "3 of 41 parts" in answer.text
        assert (
            "Basses &amp; &lt;more&gt;" in answer.text
            and "script-src 'self'" in answer.headers["Content-Security-Policy"]
        )


def test_the_progress_is_told_and_its_files_are_there(page):
    client, progress = page
    assert client.get("/waiting/progress").json()["done"] == 3
    progress.done = 41
    assert "opening" in client.get("/waiting/progress").json()["words"]
    for name in ("theme.css", "kessel.css", "vendor/bulma.min.css", "page/waiting.js", "page/theme.js", "mark.svg"):
        assert client.get(f"/waiting/files/{name}").status_code == 200
    assert client.get("/waiting/files/../app.py").status_code in (404, 503)


def test_nothing_can_be_written_and_other_hosts_are_refused(page):
    client, _ = page
    assert client.post("/library/new").status_code == 503
    assert client.get("/", headers={"host": "elsewhere.example"}).status_code == 400


def test_the_shelves_are_those_of_the_library(tmp_path):
    library = Library(tmp_path)
    assert shelves_of(library, False) == []
    (demo,) = shelves_of(library, True)
    assert len(demo.patches) == len(demo_patches()) and demo.patches[0][1].startswith("84 BPM, G minor. ")
    library.seed_demo(SET_NAME, demo_patches())
    kept = library.add(library.add_set("Mine"), demo_patches()["undertow"].model_copy(update={"name": "Low Tide"}))
    gone = library.add(library.sets()[-1].id, demo_patches()["undertow"])
    library.delete(gone)
    names = {shelf.name: [name for name, _ in shelf.patches] for shelf in shelves_of(library, True)}
    assert names["Mine"] == ["Low Tide"] and kept in [c.slug for c in library.patches()]
    library.close()


class Workers:
    """Stands for the processes that compile: waits until it may go on, or fails."""

    def __init__(self, go, fails=None):
        self.go, self.fails = go, fails

    def __enter__(self):
        return self

    def __exit__(self, *_):
        pass

    def imap_unordered(self, _work, names):
        for name in names:
            assert self.go.wait(30)
            if self.fails:
                raise self.fails
            yield name


@pytest.fixture
def listener():
    with socket.create_server(("127.0.0.1", 0)) as made:
        yield made


def asked(listener, path):
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{listener.getsockname()[1]}{path}", timeout=20) as answer:
            return answer.status, answer.read().decode()
    except urllib.error.HTTPError as refused:
        return refused.code, refused.read().decode()


def test_the_port_answers_until_all_is_compiled_and_is_still_held_then(listener, monkeypatch, tmp_path):
    monkeypatch.setenv("KESSEL_COMPILED", str(tmp_path))
    go = threading.Event()
    monkeypatch.setattr(first_start, "compilers", lambda: Workers(go))
    assert compiling.is_first_use()
    seen = []

    def look():
        seen.append(asked(listener, "/library"))
        seen.append(asked(listener, "/waiting/progress"))
        go.set()

    looking = threading.Thread(target=look)
    looking.start()
    wait_for_loops(listener, [Shelf("Set", (("Low Tide", "a line"),))])
    looking.join(30)
    assert seen[0][0] == 503 and "Low Tide" in seen[0][1]
    assert json.loads(seen[1][1])["done"] == 0
    assert not compiling.is_first_use()
    # whoever asks before the real server takes over waits at the socket
    with socket.create_connection(listener.getsockname(), timeout=5):
        pass


def test_loops_that_cannot_be_compiled_are_one_line(listener, monkeypatch, tmp_path):
    monkeypatch.setenv("KESSEL_COMPILED", str(tmp_path))
    go = threading.Event()
    go.set()
    monkeypatch.setattr(first_start, "compilers", lambda: Workers(go, OSError(28, "No space left on device")))
    with pytest.raises(Problem, match=r"the loops can't be compiled: .*No space left") as told:
        wait_for_loops(listener, [])
    assert "\n" not in str(told.value)
    assert compiling.is_first_use()
