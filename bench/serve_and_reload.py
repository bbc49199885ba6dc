"""Serve the demo set, and start again whenever a source file changes. For work on Kessel itself.

python bench/serve_and_reload.py [PORT]
"""

import os
import subprocess
import sys
import time
from pathlib import Path

HERE = Path(__file__).parents[1]
SOURCE = HERE / "src" / "kessel"


def newest() -> float:
    return max(p.stat().st_mtime for p in SOURCE.rglob("*") if p.suffix in {".py", ".html", ".css", ".js"})


def main() -> None:
    port = sys.argv[1] if len(sys.argv) > 1 else "8700"
    words = [sys.executable, "-m", "kessel", "demo", "--port", port, "--verbose"]
    environment = os.environ | {"PYTHONPATH": str(HERE / "src")}
    while True:
        seen = newest()
        server = subprocess.Popen(words, env=environment)
        try:
            while newest() == seen and server.poll() is None:
                time.sleep(0.5)
            if server.poll() is not None:
                print("the server ended; it starts again when a file changes", file=sys.stderr)
                while newest() == seen:
                    time.sleep(0.5)
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    try:
        main()
    except KeyboardInterrupt:
        sys.exit(0)
