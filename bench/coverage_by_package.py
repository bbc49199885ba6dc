"""What share of each package's lines the tests run: python bench/coverage_by_package.py [TESTS...]

Without arguments all tests but those of the pages, which run the server in a process of its own. Lines of compiled loops
never run as Python and are left out. docs/reliability.md has the last figures.
"""

import json
import os
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).parents[1]
SETTINGS = """[run]
source = {root}/src/kessel
concurrency = thread,multiprocessing
parallel = true
data_file = {folder}/data
[report]
exclude_also =
    if TYPE_CHECKING:
    @kernel
    @inline
    @portion
"""


def main() -> int:
    """Run the tests, and print the shares."""
    asked = sys.argv[1:] or ["tests"]
    with tempfile.TemporaryDirectory() as folder:
        settings = Path(folder) / "settings"
        settings.write_text(SETTINGS.format(root=ROOT, folder=folder), encoding="utf-8")
        coverage = [sys.executable, "-m", "coverage"]
        given = f"--rcfile={settings}"
        run = ["-m", "pytest", "-q", "-p", "no:xdist", "-p", "no:cacheprovider", "-m", "not page", *asked]
        environment = os.environ | {"PYTHONPATH": str(ROOT / "src")}
        subprocess.run([*coverage, "run", given, *run], cwd=ROOT, check=False, env=environment)
        subprocess.run([*coverage, "combine", "-q", given], cwd=ROOT, check=True)
        written = Path(folder) / "report.json"
        subprocess.run([*coverage, "json", "-q", given, "-o", str(written)], cwd=ROOT, check=True)
        files = json.loads(written.read_text("utf-8"))["files"]
    lines: Counter[str] = Counter()
    met: Counter[str] = Counter()
    for name, file in files.items():
        package = Path(name).relative_to(Path("src/kessel")).parts[0]
        lines[package] += file["summary"]["num_statements"]
        met[package] += file["summary"]["covered_lines"]
    for package in sorted(lines):
        if lines[package]:
            print(f"{package:<14} {100 * met[package] / lines[package]:5.1f} % of {lines[package]} lines")
    return 0


if __name__ == "__main__":
    sys.exit(main())
