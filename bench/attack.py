"""While a stream plays and hostile and long files are read: python bench/attack.py

How long /healthz takes, how much memory grows, and how often the next quantum of the stream was not there in time.
"""

import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))
sys.path.insert(0, str(Path(__file__).parents[1] / "src"))

import numpy as np
import soundfile
from tests.intake.test_intake import HOSTILE
from tests.web.serving import Listener, sent, served
from tests.web.test_under_attack import ROUTES, Watch


def long_wav(folder):
    """Ten minutes of stereo at 48 kHz and 24 bit."""
    path = folder / "ten minutes.wav"
    x = 0.2 * np.random.default_rng(3).standard_normal((48000 * 10, 2))
    with soundfile.SoundFile(path, "w", 48000, 2, "PCM_24") as f:
        for _ in range(60):
            f.write(x)
    return path


def main():
    with tempfile.TemporaryDirectory() as folder, served(Path(folder) / "data") as (process, address):
        sent(address, "/library/import", "warm.json", b"{}")
        rows = [
            (name, ROUTES.get(k, "/patch/sluice-gate/reference/file"), f"sent.{k}", make())
            for name, (k, make, _) in HOSTILE.items()
        ]
        path = long_wav(Path(folder))
        rows.append(("ten minutes", "/patch/sluice-gate/reference/file", path.name, path))
        for name, route, called, data in rows:
            with Listener(address, "undertow") as stream, Watch(process, address) as watch:
                status, text = sent(address, route, called, data)
            said = (
                text[:90]
                if status == 422 or "Reference" in text or "reference" in text[:200]
                else "refused on the page"
                if "was not taken in" in text
                else "taken"
            )
            print(
                f"{name:<12} {status}  99 of 100 within {1000 * np.quantile(watch.took, 0.99):5.1f} ms of {len(watch.took):5d}, slowest {1000 * max(watch.took):6.1f} ms, memory +{watch.most - watch.base:4.0f} MiB, {stream.gaps} gaps  {said}",
                flush=True,
            )


if __name__ == "__main__":
    main()
