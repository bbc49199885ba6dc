"""Compare the sound of two trees of Kessel: every demo patch, bit for bit.

    python bench/renders.py OTHER_TREE

Renders the loop of every demo patch and of the reference patch with the command of each tree: the sum, every layer,
five bars of the running loop, and the mono fold through two playback rooms. Prints what differs; exit status 1 when
anything does.
"""

import hashlib
import json
import os
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import soundfile

HERE = Path(__file__).parents[1]
REFERENCE = "bench-reference"


def file_of(tree: Path, name: str) -> Path:
    return tree / "src" / "kessel" / "demo" / f"{name}.json"


def kessel(tree: Path, *words: str) -> str:
    environment = os.environ | {"PYTHONPATH": str(tree / "src")}
    done = subprocess.run([sys.executable, "-m", "kessel", *words], env=environment, check=True, capture_output=True)
    return done.stdout.decode()


def renderings() -> list[tuple[str, ...]]:
    slugs = [line.split()[0] for line in kessel(HERE, "list").splitlines()]
    found: list[tuple[str, ...]] = []
    for name in [*slugs, REFERENCE]:
        found += [(name,), (name, "--bars", "5"), (name, "--mono", "--room", "phone"), (name, "--room", "main-floor")]
        found += [(name, "--layer", x["id"]) for x in json.loads(file_of(HERE, name).read_text("utf-8"))["layers"]]
    return found


def digest(tree: Path, words: tuple[str, ...]) -> str:
    with tempfile.NamedTemporaryFile(suffix=".wav") as file:
        # every tree reads its own patches, which may be in another version of the file
        kessel(tree, "render", str(file_of(tree, words[0])), file.name, *words[1:])
        samples, rate = soundfile.read(file.name, dtype="float32")
        return hashlib.sha256(repr((rate, samples.shape)).encode() + samples.tobytes()).hexdigest()


def main() -> int:
    other = Path(sys.argv[1]).resolve()
    todo = renderings()
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        ours = pool.map(lambda words: digest(HERE, words), todo)
        theirs = pool.map(lambda words: digest(other, words), todo)
        differing = [words for words, a, b in zip(todo, ours, theirs, strict=True) if a != b]
    for words in differing:
        print("differs:", " ".join(words))
    print(f"{len(todo) - len(differing)} of {len(todo)} renderings are the same, bit for bit")
    return 1 if differing else 0


if __name__ == "__main__":
    sys.exit(main())
