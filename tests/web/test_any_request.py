"""Whatever is asked, no answer is a fault of the server: it is done, or refused in words."""

import io
import logging
import random

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings

from kessel.desk import KINDS, Desk
from kessel.formats import document_of
from kessel.patch import PARTS
from kessel.web import create_app

from ..plausible import Asker, everything
from ..unrendered import unrendered

BASE = "http://127.0.0.1"
WORDS = [
    *KINDS,
    *PARTS,
    *(name for kind in PARTS.values() for name, _ in kind.starting),
    "layer",
    "oscillator",
    "noise",
    "sample",
    "macro",
    "curve",
]


@pytest.fixture(scope="module")
def desk(tmp_path_factory):
    made = Desk(tmp_path_factory.mktemp("data"))
    # nothing is rendered here: what waits for a rendering is told at once that there is none
    made.render_worker.ask = unrendered()
    made.seed_demo()
    made.library.add(made.home(), everything().model_copy(update={"name": "Everything"}))
    yield made
    made.close()


@pytest.fixture(scope="module")
def client(desk):
    app = create_app(desk)
    return TestClient(app, base_url=BASE, headers={"origin": BASE}, raise_server_exceptions=False)


def answered(client, ask):
    files = None
    form = ask.form
    if form is not None and "file" in form:
        files = {"file": ("sent.json", io.BytesIO(b"{}"), "application/json")}
        form = {k: v for k, v in form.items() if k != "file"}
    return client.request(
        ask.method, ask.url, params=ask.query, data=form, files=files, json=ask.json, follow_redirects=False
    )


@pytest.mark.parametrize("slug", ["everything", "reed-weir", "ebb-motor"])
def test_requests_that_nearly_fit(desk, client, slug, caplog):
    rng = random.Random(f"bounded {slug}")
    done = 0
    for n in range(350):
        if n % 50 == 0:
            mine = desk.duplicate(slug)
            asker = Asker(client.app, mine, document_of(desk.library.load(mine)), WORDS, rng)
        ask = asker.one()
        if "/set/" in ask.url or "mend" in ask.url:
            continue
        found = answered(client, ask)
        done += found.status_code == 200
        assert found.status_code < 500, (ask, found.text)
        if desk.library.card(mine).deleted:
            desk.put_back(mine)
    assert done > 40
    assert [r for r in caplog.records if r.levelno >= logging.ERROR] == []


def test_requests_made_from_the_description(client):
    schema = schemathesis.openapi.from_dict(client.app.openapi())
    for operation in schema.get_all_operations():
        made = operation.ok()

        @settings(
            max_examples=6, deadline=None, database=None, derandomize=True, suppress_health_check=list(HealthCheck)
        )
        @given(case=made.as_strategy())
        def ask(case):
            if "slug" in case.path_parameters:
                case.path_parameters["slug"] = "salt-press"
            words = case.as_transport_kwargs(base_url=BASE)
            words = {
                k: words[k] for k in ("method", "url", "params", "data", "json", "headers") if words.get(k) is not None
            }
            words["headers"] = {k: v for k, v in dict(words.get("headers", {})).items() if k.lower() == "content-type"}
            found = client.request(**words, follow_redirects=False)
            assert found.status_code < 500, (words, found.text)

        ask()
