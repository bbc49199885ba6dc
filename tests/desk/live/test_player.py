"""What is heard beside the engine: a change between the engine, the rendered loop and a held moment never clicks."""

import numpy as np
import pytest

from kessel.desk.live.backing_mix import BackingMix
from kessel.desk.live.listening import Monitor
from kessel.desk.live.player import Player
from kessel.engine import QUANTUM, RATE

from ...making import layer, note, oscillator, patch

HZ = 90.0


def wave(player, gain):
    n = player.engine.schedule.length
    return gain * np.sin(2 * np.pi * HZ * np.arange(n) / RATE) * np.ones((2, 1))


@pytest.fixture
def played():
    """A player that is fed from a loop, and the loops it can be given."""
    loops = {}
    made = patch(
        layer("one", sources=[oscillator("sine")]), tempo=120.0, phrase={"bars": 1, "notes": [note(33, 0, 3.9)]}
    )
    player = Player(made, BackingMix(None), Monitor(None), lambda: loops.get("now"))
    loops["now"] = wave(player, 0.5)
    player.start()
    return player, loops


def heard(player, quanta, fed=True):
    return np.concatenate([player.quantum(fed)[0] for _ in range(quanta)], axis=1)


@pytest.mark.parametrize(
    "change",
    [
        lambda player, loops: loops.update(now=wave(player, -0.5)),
        lambda player, loops: loops.update(now=None),
        lambda player, loops: player.start(),
        lambda player, loops: player.stop(),
        lambda player, loops: setattr(player, "held", 1.02),
    ],
    ids=["another loop", "no loop", "from the beginning", "stopped", "a moment is held"],
)
def test_no_change_clicks_while_the_loop_is_played(played, change):
    player, loops = played
    before = heard(player, 7)
    change(player, loops)
    after = heard(player, 7)
    x = np.concatenate([before, after], axis=1)[0, QUANTUM:]
    # a sine of 90 Hz, half as loud as full, fades at most from one sign to the other over a quantum
    steepest = 0.5 * 2 * np.pi * HZ / RATE + 2 * 0.5 / QUANTUM
    assert np.abs(np.diff(x)).max() < 1.1 * steepest
    assert np.abs(before).max() > 0.45


def test_a_held_moment_moves_and_ends_without_a_click(played):
    player, _ = played
    heard(player, 3)
    player.held = 1.02
    held = heard(player, 4)
    player.held = 2.31
    moved = heard(player, 4)
    player.held = None
    x = np.concatenate([held, moved, heard(player, 4)], axis=1)[0]
    # two windows of the sine overlap, each of which rises over two quanta
    steepest = 2 * 0.5 * 2 * np.pi * HZ / RATE + 4 * 0.5 / QUANTUM
    assert np.abs(np.diff(x)).max() < steepest


@pytest.mark.parametrize("beat", [0.0, 1.25, 3.5])
def test_the_phrase_begins_at_a_beat(played, beat):
    player, loops = played
    heard(player, 3)
    player.start(beat)
    assert player.beat == pytest.approx(beat, abs=1e-3)
    heard(player, 1)
    at = round(beat / 4 * loops["now"].shape[1]) + QUANTUM
    assert np.allclose(heard(player, 2), loops["now"][:, (at + np.arange(2 * QUANTUM)) % loops["now"].shape[1]])
