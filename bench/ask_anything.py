"""Send requests that nearly fit to every route, and list every fault: python bench/ask_anything.py [COUNT] [SEED]"""

import logging
import random
import sys
import tempfile
import traceback
from collections import Counter
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))
sys.path.insert(0, str(Path(__file__).parents[1] / "src"))

from fastapi.testclient import TestClient
from tests.plausible import Asker, everything
from tests.unrendered import unrendered
from tests.web.test_any_request import BASE, WORDS, answered

from kessel.demo import demo_patches
from kessel.desk import Desk
from kessel.formats import document_of
from kessel.web import create_app


class Faults(logging.Handler):
    """Where each fault was raised, with an example."""

    def __init__(self):
        super().__init__()
        self.found = Counter()
        self.example = {}
        self.asked = None

    def emit(self, record):
        if record.exc_info and record.exc_info[2] is not None:
            frame = [f for f in traceback.extract_tb(record.exc_info[2]) if "/kessel/" in f.filename][-1]
            key = f"{frame.filename.split('/kessel/')[-1]}:{frame.lineno} {record.exc_info[0].__name__}: {record.exc_info[1]}"[
                :160
            ]
            self.found[key] += 1
            self.example.setdefault(key, self.asked)


def main():
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 5000
    rng = random.Random(sys.argv[2] if len(sys.argv) > 2 else "1")
    faults = Faults()
    logging.getLogger().addHandler(faults)
    answers = Counter()
    with tempfile.TemporaryDirectory() as folder:
        desk = Desk(Path(folder))
        desk.render_worker.ask = unrendered()
        desk.seed_demo()
        desk.library.add(desk.home(), everything().model_copy(update={"name": "Everything"}))
        client = TestClient(create_app(desk), base_url=BASE, headers={"origin": BASE}, raise_server_exceptions=False)
        for n in range(count):
            if n % 60 == 0:
                slug = desk.duplicate(rng.choice(["everything", *demo_patches()]))
                asker = Asker(client.app, slug, document_of(desk.library.load(slug)), WORDS, rng)
            ask = asker.one()
            faults.asked = ask
            found = answered(client, ask)
            answers[found.status_code] += 1
            if desk.library.card(slug).deleted:
                desk.put_back(slug)
        desk.close()
    print(f"{count} requests: " + ", ".join(f"{n} x {s}" for s, n in sorted(answers.items())))
    for key, n in faults.found.most_common():
        print(f"{n:5d}  {key}\n       {faults.example[key]}")


if __name__ == "__main__":
    main()
