"""Try an installed Kessel: ``python packaged.py KESSEL_COMMAND``, far from the source tree.

Serves the demo set from an empty folder and asks for a page, a fragment, a style, a script and a font. Raises where
something is missing.
"""

import subprocess
import sys
import tempfile
import urllib.request
from pathlib import Path


def run(*words: str) -> str:
    return subprocess.run(words, check=True, capture_output=True, text=True).stdout


def get(address: str, path: str) -> str:
    with urllib.request.urlopen(f"{address}{path}", timeout=60) as answer:
        return answer.read().decode("utf-8", "replace")


def main(command: str) -> None:
    run(command, "compile")
    assert "sluice-gate" in run(command, "list")
    assert '"title"' in run(command, "schema")
    with tempfile.TemporaryDirectory() as folder:
        server = subprocess.Popen(
            [command, "demo", "--port", "0", "--data", folder], stdout=subprocess.PIPE, text=True, bufsize=1
        )
        try:
            assert server.stdout is not None
            address = next(word for line in server.stdout for word in line.split() if word.startswith("http://"))
            address = address.rstrip("/")
            assert "Sluice Gate" in get(address, "/library")
            for view in ("layers", "movement", "shaping", "checks"):
                assert "Findings" in get(address, f"/patch/sluice-gate?view={view}")
            page = get(address, "/library")
            for path in sorted({word.split('"')[0] for word in page.split('"/static/')[1:]}):
                assert get(address, f"/static/{path}"), path
        finally:
            server.terminate()
            server.wait(30)
        assert (Path(folder) / "kessel.db").exists()


if __name__ == "__main__":
    main(sys.argv[1])
    print("the installed command serves the demo set")
