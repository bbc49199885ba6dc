"""A desk with the demo set on it."""

import pytest

from kessel.desk import Desk


@pytest.fixture(scope="module")
def desk(tmp_path_factory):
    made = Desk(tmp_path_factory.mktemp("data"))
    made.seed_demo()
    yield made
    made.close()


@pytest.fixture
def opened(desk):
    return desk.open(desk.duplicate("sluice-gate"))
