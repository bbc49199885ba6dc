"""What memory the server and the process that measures take while patches are opened in turn: python bench/memory.py [PATCHES]

Every patch is opened as a page does it, edited, measured, its cures sought; then the next. Resident: what each of the
two has in memory. Together: what both have, shared pages counted once (proportional set size).
"""

import sys
import tempfile
import threading
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))
sys.path.insert(0, str(Path(__file__).parents[1] / "src"))

from tests.web.serving import both, duplicated, edited_and_measured, memory, served, together

from kessel.demo import demo_patches


class Peak:
    """The most that was taken together, looked at ten times a second."""

    def __init__(self, pid):
        self.pid, self.most, self.over = pid, 0.0, threading.Event()
        self.thread = threading.Thread(target=self.look)

    def look(self):
        while not self.over.wait(0.1):
            try:
                self.most = max(self.most, together(self.pid))
            except OSError:
                continue

    def __enter__(self):
        self.thread.start()
        return self

    def __exit__(self, *_):
        self.over.set()
        self.thread.join()


def main():
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    with tempfile.TemporaryDirectory() as folder, served(Path(folder) / "data") as (process, address):
        slugs = list(demo_patches())
        with Peak(process.pid) as peak:
            for k in range(count):
                slug = slugs[k % len(slugs)]
                if k >= len(slugs):
                    slug = duplicated(address, slug)
                edited_and_measured(address, slug, 100 + k * 0.7, cures=True)
                if k % 5 == 4 or k == count - 1:
                    tell(f"{k + 1:3d} patches", process.pid, peak)
            time.sleep(5.0)
            tell("five seconds later", process.pid, peak)


def tell(when, pid, peak):
    """One line of figures."""
    own = [memory(p) for p in both(pid)]
    print(
        f"{when}: resident {own[0]:.0f} + {own[1]:.0f} = {sum(own):.0f} MiB, together {together(pid):.0f}, at most {peak.most:.0f}",
        flush=True,
    )


if __name__ == "__main__":
    main()
