"""Long random walks over every gesture, undone to the start and redone to the end: python bench/walks.py [COUNT] [SEED...]

With ``--deep`` cures and alignments are measured for real.
"""

import random
import sys
import tempfile
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))
sys.path.insert(0, str(Path(__file__).parents[1] / "src"))

from tests.desk.test_walks import NOISE
from tests.plausible import everything
from tests.unrendered import unrendered
from tests.walks import GESTURES, Walker, run

from kessel.demo import demo_patches
from kessel.desk import Desk


def main():
    given = [a for a in sys.argv[1:] if not a.startswith("--")]
    count, seeds = int(given[0]) if given else 2000, given[1:] or ["1", "2", "3"]
    deep = "--deep" in sys.argv
    unseen = set(GESTURES)
    for seed in seeds:
        with tempfile.TemporaryDirectory() as folder:
            desk = Desk(Path(folder))
            if not deep:
                desk.render_worker.ask = unrendered(NOISE)
            desk.seed_demo()
            desk.library.add(desk.home(), everything().model_copy(update={"name": "Everything"}))
            slug = random.Random(seed).choice(["everything", *demo_patches()])
            walker = Walker(desk, desk.duplicate(slug), seed, deep)
            began = time.perf_counter()
            run(walker, count)
            unseen -= set(walker.done)
            print(
                f"seed {seed} on {slug}: {count} tries, {sum(walker.done.values())} gestures of {len(walker.done)} kinds, {len(walker.kept) - 1} steps back to the start and on to the end, {time.perf_counter() - began:.0f} s",
                flush=True,
            )
            desk.close()
    print("never done:", ", ".join(sorted(unseen)) or "none")


if __name__ == "__main__":
    main()
