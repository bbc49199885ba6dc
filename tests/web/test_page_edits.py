"""What pages send and get: edits that come twice, refusals, files and pictures that may be kept."""

import asyncio
import gzip

from starlette.datastructures import Headers

from kessel.web.page_edits import Repeats
from kessel.web.static_files import ADDRESS

from .test_guard_and_routes import HOME, client, desk, slug  # noqa: F401

OCTAVE = {"layer": "body", "by": "-1"}


def octave_of(client, slug):  # noqa: F811
    layers = client.get(f"/patch/{slug}/patch.json").json()["layers"]
    return [s["octave"] for x in layers if x["id"] == "body" for s in x["sources"]]


def test_an_edit_that_comes_twice_is_made_once(client, slug):  # noqa: F811
    before = octave_of(client, slug)
    first, second = (
        client.post(f"/patch/{slug}/octave", data=OCTAVE, headers=HOME | {"X-Edit": "one"}) for _ in range(2)
    )
    assert (first.status_code, first.json()) == (second.status_code, second.json())
    assert first.headers["hx-trigger"] == second.headers["hx-trigger"]
    assert octave_of(client, slug) == [x - 1 for x in before]
    client.post(f"/patch/{slug}/octave", data=OCTAVE, headers=HOME | {"X-Edit": "two"})
    client.post(f"/patch/{slug}/octave", data=OCTAVE, headers=HOME)
    assert octave_of(client, slug) == [x - 3 for x in before]


def test_a_refusal_to_a_page_is_no_error_but_says_so(client, slug):  # noqa: F811
    turn = {"path": "layers.body.level", "text": "loud"}
    plain = client.post(f"/patch/{slug}/turn", json=turn, headers=HOME)
    marked = client.post(f"/patch/{slug}/turn", json=turn, headers=HOME | {"X-Edit": "three"})
    assert plain.status_code == 422 and "x-refused" not in plain.headers
    assert marked.status_code == 200 and marked.headers["x-refused"] == "422" and marked.text == plain.text
    assert client.post(f"/patch/{slug}/turn", json=turn, headers={"X-Edit": "four"}).headers["x-refused"] == "403"
    for own in ({"X-Page": "asks"}, {"HX-Request": "true"}):
        gone = client.get(f"/patch/{slug}/control-menu", params={"path": "layers.gone.level"}, headers=own)
        assert gone.status_code == 200 and gone.headers["x-refused"] in ("404", "422")


def test_files_are_kept_for_ever_under_an_address_of_their_content(client):  # noqa: F811
    page = client.get("/library").text
    addresses = {word.split('"')[0] for word in page.split('"/static/')[1:]}
    assert len(addresses) > 6 and all(f"/static/{a}".startswith(f"{ADDRESS}/") for a in addresses)
    for address in addresses:
        found = client.get(f"/static/{address}", headers={"accept-encoding": "gzip"})
        assert found.status_code == 200 and "immutable" in found.headers["cache-control"]
    style = client.get(f"{ADDRESS}/vendor/bulma.min.css", headers={"accept-encoding": "gzip"})
    assert style.headers["content-encoding"] == "gzip"
    assert len(gzip.compress(style.content)) < 0.2 * len(style.content)
    assert client.get("/library").headers["cache-control"] == "no-store"
    assert client.get("/static/kessel.css").status_code == 404
    assert client.get(f"{ADDRESS}/none.css").headers["cache-control"] == "no-store"


def test_a_picture_is_kept_by_the_content_it_shows(client, slug):  # noqa: F811
    def address():
        page = client.get(f"/patch/{slug}/sheet?view=movement").text
        return next(w.split('"')[0] for w in page.split('src="')[1:] if "spectrogram" in w).replace("&amp;", "&")

    first = address()
    assert "immutable" in client.get(first).headers["cache-control"]
    client.post(f"/patch/{slug}/turn", json={"path": "layers.body.level", "text": "-20"}, headers=HOME)
    louder = address()
    assert louder != first
    # what is not shown any more is not kept under that name
    assert client.get(first).headers["cache-control"] == "no-store"
    client.post(f"/patch/{slug}/undo", headers=HOME)
    assert address() == first


def test_an_edit_waits_for_the_one_before_it():
    made = []

    async def app(scope, receive, send):
        made.append(Headers(scope=scope)["x-edit"])
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b""})

    def edit(name, before=""):
        headers = [(b"x-edit", name.encode()), *([(b"x-after", before.encode())] if before else [])]
        return {"type": "http", "method": "POST", "path": "/patch/a/turn", "headers": headers}

    async def sent(_message):
        pass

    async def leave():
        line = Repeats(app)
        await asyncio.gather(*(line(edit(*names), None, sent) for names in (("c", "b"), ("b", "a"), ("a",))))

    asyncio.run(leave())
    assert made == ["a", "b", "c"]
