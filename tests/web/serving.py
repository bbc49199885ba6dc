"""A server of its own for tests that hurt it: a process with its folder, that can be watched and asked."""

import contextlib
import json
import os
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path

from websockets.sync.client import connect

SOURCE = str(Path(__file__).parents[2] / "src")


@contextlib.contextmanager
def served(folder, word="demo", port=0):
    """A server on a folder: its process and its address."""
    words = [sys.executable, "-m", "kessel", word, "--port", str(port), "--data", str(folder)]
    with subprocess.Popen(
        words, stdout=subprocess.PIPE, text=True, env=os.environ | {"PYTHONPATH": SOURCE, "KESSEL_CHECKED": "0"}
    ) as server:
        try:
            yield server, server.stdout.readline().split()[3].rstrip("/")
        finally:
            server.terminate()


def ask(address, path, data=None, headers=None, method=None):
    """Status and text of an answer."""
    url = urllib.request.Request(
        address + path, data=data, headers={"origin": address} | (headers or {}), method=method
    )
    try:
        with urllib.request.urlopen(url, timeout=300) as answer:
            return answer.status, answer.read().decode("utf-8", "replace")
    except urllib.error.HTTPError as problem:
        return problem.code, problem.read().decode("utf-8", "replace")


def made_by(address, act):
    """Do what puts one patch onto the shelf; its slug."""

    def slugs():
        return {row.split('"')[0] for row in ask(address, "/library")[1].split('id="row-')[1:]}

    before = slugs()
    assert act()[0] == 200
    return (slugs() - before).pop()


def duplicated(address, slug):
    """Make a copy of a patch; its slug."""
    return made_by(address, lambda: ask(address, f"/patch/{slug}/duplicate", method="POST"))


def sent(address, path, name, data, fields=None, headers=None):
    """Send a file as a page does; ``data``: bytes, or a path that is read while it is sent."""
    edge = "edge-of-a-part"
    head = "".join(
        f'--{edge}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in (fields or {}).items()
    )
    head += f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
    tail = f"\r\n--{edge}--\r\n".encode()
    size = Path(data).stat().st_size if isinstance(data, Path) else len(data)

    def parts():
        yield head.encode()
        if isinstance(data, Path):
            with data.open("rb") as f:
                while piece := f.read(1 << 20):
                    yield piece
        else:
            yield data
        yield tail

    more = {
        "content-type": f"multipart/form-data; boundary={edge}",
        "content-length": str(len(head.encode()) + size + len(tail)),
    }
    return ask(address, path, parts(), more | (headers or {}), "POST")


class Listener:
    """Plays a patch and hears at the speed of sound. heard: samples that came; gaps: how often the next was not there."""

    _FIRST = 12

    def __init__(self, address, slug):
        self.gaps = self.heard = 0
        self._over, self._sounds = threading.Event(), threading.Event()
        port = json.loads(ask(address, "/player")[1])["port"]
        self._opening = connect(f"ws://127.0.0.1:{port}/patch/{slug}/live", origin=address)
        self._thread = threading.Thread(target=self._listen)

    def __enter__(self):
        self._player = self._opening.__enter__()
        for word in ("on", "play"):
            self._player.send(json.dumps({"do": word}))
        self._thread.start()
        assert self._sounds.wait(60)
        return self

    def __exit__(self, *_):
        self._over.set()
        self._thread.join(30)
        self._opening.__exit__(*_)

    def _listen(self):
        began = None
        while not self._over.is_set():
            data = None
            with contextlib.suppress(TimeoutError):
                data = self._player.recv(timeout=0.01)
            self.heard += 1024 * isinstance(data, bytes)
            got = self.heard
            if not got:
                continue
            began = began or time.perf_counter()
            passed = int((time.perf_counter() - began) * 48000)
            if got >= self._FIRST * 1024:
                self._sounds.set()
                if passed > got:
                    self.gaps += 1
                    began = time.perf_counter() - got / 48000
            self._player.send(json.dumps({"do": "heard", "frames": min(got, passed)}))


def children(pid):
    """Processes that a process started, and theirs."""
    found = []
    for task in Path(f"/proc/{pid}/task").iterdir():
        for child in (task / "children").read_text().split():
            found += [int(child), *children(int(child))]
    return found


def beside(pid):
    """The processes of Kessel beside a server, and the one that they are copies of."""
    return [p for p in children(pid) if b"tracker" not in Path(f"/proc/{p}/cmdline").read_bytes()]


def memory(pid, field="VmRSS"):
    """Memory of a process in MiB."""
    lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith(f"{field}:")) / 1024


def both(pid):
    """The server, and of what it started the process that takes most: the one that measures."""
    return [pid, max(children(pid), key=memory)]


def together(pid):
    """MiB of both, shared pages counted once."""
    total = 0
    for p in both(pid):
        lines = Path(f"/proc/{p}/smaps_rollup").read_text().splitlines()
        total += sum(int(line.split()[1]) for line in lines if line.startswith("Pss:"))
    return total / 1024


def edited_and_measured(address, slug, tempo, cures=False):
    """Open a patch, give it a tempo, and wait until it is measured; ``cures``: and what cures it is known."""
    assert ask(address, f"/patch/{slug}")[0] == 200
    turn = json.dumps({"path": "tempo", "text": str(tempo)}).encode()
    assert ask(address, f"/patch/{slug}/turn", turn, {"content-type": "application/json"})[0] == 200
    for _ in range(20):
        rail = ask(address, f"/patch/{slug}/rail?stage={2 if cures else 0}")[1]
        if "<article" in rail and not (cures and "looking for a fix" in rail):
            return
    raise AssertionError(f"{slug} is not measured: {rail[:200]}")
