"""Mutants of every format, at the page and at the command: python bench/fuzz_files.py [COUNT] [SEED] [FORMAT...]

Counts what was taken and what was refused in one line, and names every answer that is neither.
"""

import io
import random
import sys
import tempfile
from collections import Counter
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))
sys.path.insert(0, str(Path(__file__).parents[1] / "src"))

from tests.mutants import mutant, originals
from tests.web.serving import ask, children, memory, sent, served

from kessel.cli import main as command

ROUTES = {"json": "/library/import", "zip": "/library/import", "midi": "/patch/sluice-gate/midi"}


def at_the_command(kind, path):
    """Exit status and stderr of the command that reads such a file; None where no command does."""
    out = path.with_suffix(".out.wav")
    words = {"json": ["render", str(path), str(out), "--bars", "1"], "midi": None, "zip": None}.get(
        kind, ["measure", str(path)]
    )
    if words is None:
        return None
    told = io.StringIO()
    with redirect_stderr(told), redirect_stdout(io.StringIO()):
        try:
            status = command(words)
        except SystemExit as ended:
            status = ended.code
    return status, told.getvalue()


def main():
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    seed = sys.argv[2] if len(sys.argv) > 2 else "1"
    with tempfile.TemporaryDirectory() as folder, served(Path(folder) / "data") as (process, address):
        reader = list(children(process.pid))
        for kind, (ending, good) in originals().items():
            if sys.argv[3:] and kind not in sys.argv[3:]:
                continue
            rng = random.Random(f"{seed} {kind}")
            page, shell, odd = Counter(), Counter(), Counter()
            for _ in range(count):
                data = mutant(rng.choice(good), rng)
                name = f"mutant.{ending}"
                status, text = sent(address, ROUTES.get(kind, "/patch/sluice-gate/reference/file"), name, data)
                refused = status == 422 or "was not taken in" in text
                page["refused" if refused else "taken" if status == 200 else "odd"] += 1
                if status >= 500 or "Traceback" in text or (status == 422 and not text.isprintable()):
                    odd[f"page {status}: {text[:120]}"] += 1
                path = Path(folder) / name
                path.write_bytes(data)
                try:
                    found = at_the_command(kind, path)
                except BaseException as problem:
                    odd[f"command {type(problem).__name__}: {problem}"[:140]] += 1
                    continue
                if found is not None:
                    shell["refused" if found[0] == 2 else "taken"] += 1
                    if found[0] not in (0, 1, 2) or (
                        found[0] == 2 and (found[1].count("\n") != 1 or not found[1].strip().isprintable())
                    ):
                        odd[f"command {found[0]}: {found[1][:120]}"] += 1
            left = sum(1 for _ in (Path(folder) / "data" / "incoming").glob("*"))
            print(
                f"{kind}: {count} mutants; page {dict(page)}; command {dict(shell) or 'has no reader'}; left behind {left}; odd {dict(odd) or 'none'}",
                flush=True,
            )
        print(
            f"server {memory(process.pid):.0f} MiB; library answers {ask(address, '/library')[0]}; processes {len(children(process.pid))} of {len(reader)}"
        )


if __name__ == "__main__":
    main()
