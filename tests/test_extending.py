"""An effect and a mover come in by files of their own and one line each."""

import os
import subprocess
import sys
from pathlib import Path

HERE = Path(__file__).parents[1]


def test_an_effect_and_a_mover_come_in_by_their_own_files_and_one_line_each():
    environment = os.environ | {"PYTHONPATH": f"{HERE / 'src'}{os.pathsep}{HERE}"}
    done = subprocess.run(
        [sys.executable, "-m", "tests.throwaway.drive"], env=environment, cwd=HERE, capture_output=True, text=True
    )
    assert done.stdout.strip() == "both are whole", done.stderr[-2000:]
