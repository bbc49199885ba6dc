"""The patch beside a kick, beside another sound, and beside a recording."""

import numpy as np
import pytest

from kessel.checks import Evidence, Limits, check, with_harms
from kessel.checks.playback.neighbours import kick_alone, names_of, neighbours, over_loop
from kessel.checks.playback.reference import compare, envelope_over_beat
from kessel.engine import RenderCache, Track
from kessel.patch import Edit, apply

from ...making import RATE, edited, layer, note, oscillator, patch, tone

TAKES = RenderCache()
LIMITS = Limits()
AXIS = 20.0 * 1000.0 ** (np.arange(480) / 479)


def bass(level=-6.0, pitch=33, **words):
    return patch(layer("one", level=level), notes=[note(pitch, 0, 4)], **words)


def beside(p, x, **words):
    return neighbours(Evidence(p, TAKES, seeks=False), "Other", x, LIMITS, **words)


def test_two_tones_on_one_pitch_meet_by_the_closed_form():
    """The same sine at half the level, turned by an angle: sum loss, levels and owner follow."""
    e = Evidence(bass(), TAKES, seeks=False)
    n = e.loop.sum.shape[1]
    hz, own = 55.0, e.loop.sum[0]
    start = np.angle(np.fft.rfft(own * np.hanning(n))[round(hz * n / RATE)])
    t = np.arange(n) / RATE
    for degrees in (0.0, 90.0, 150.0):
        x = 0.5 * 10 ** (-6 / 20) * np.cos(2 * np.pi * hz * t + start + np.radians(degrees))
        found = beside(bass(), np.stack([x, x]))
        (meeting,) = found.meetings
        want = 20 * np.log10(abs(1 + 0.5 * np.exp(1j * np.radians(degrees))) / 1.5)
        assert meeting.loss == pytest.approx(want, abs=0.35)
        assert meeting.own - meeting.other == pytest.approx(6.0, abs=0.2)
        assert meeting.owner == "patch"
        assert found.over == pytest.approx(6.0, abs=0.3)
        assert found.duck == pytest.approx(12.0, abs=0.4)
        assert found.share == pytest.approx(1.0, abs=0.01)


def test_sounds_that_never_sound_together_do_not_meet():
    p = patch(layer("one", level=-6.0), notes=[note(33, 0, 1.9)])
    n = Evidence(p, TAKES, seeks=False).loop.sum.shape[1]
    x = np.zeros(n)
    x[n // 2 + 4800 : n - 4800] = tone(55.0, -6.0, 2.0)[: n - 4800 - (n // 2 + 4800)]
    found = beside(p, np.stack([x, x]))
    assert found.share < 0.05 and found.meetings == ()
    assert found.over < -20.0


def test_silence_beside_a_patch_is_no_trouble():
    p = bass()
    n = Evidence(p, TAKES, seeks=False).loop.sum.shape[1]
    found = beside(p, np.zeros((2, n)))
    assert found.over is None and found.duck == 0.0 and found.room == () and found.room_db is None


def test_room_above_is_what_stands_over_the_patch():
    p = bass()
    n = Evidence(p, TAKES, seeks=False).loop.sum.shape[1]
    x = tone(1000.0, -20.0, n / RATE)[:n]
    found = beside(p, np.stack([x, x]))
    best = max(found.room, key=lambda r: r[1])
    assert best[0] == pytest.approx(1000.0, rel=0.01) and best[1] > 20.0


def test_a_track_goes_round_with_the_loop():
    e = Evidence(bass(), TAKES, seeks=False)
    n = e.loop.sum.shape[1]
    ramp = np.arange(n // 4, dtype=np.float32)
    x = over_loop(e, Track("t", np.stack([ramp, ramp]), 1.0, 0.0))
    assert x.shape == (2, n) and np.array_equal(x[0, : ramp.size], ramp)
    assert np.array_equal(x[0, ramp.size : 2 * ramp.size], ramp)


def clash(p):
    return next((f for f in check(Evidence(p, TAKES)) if f.check == "kick-clash"), None)


def test_a_bass_on_the_kick_clashes_and_each_fix_helps():
    p = edited(bass(-3.0, 31), backing__beat__on=True, backing__beat__kick_pitch=49.0)
    found = clash(p)
    assert found.verdict == "look" and found.value > -LIMITS.kick_room_db
    assert found.fixes[0].label.startswith("Duck") and found.fixes[0].after <= -LIMITS.kick_room_db
    for fix in found.fixes:
        again = clash(apply(p, fix.edits))
        assert again.value == pytest.approx(fix.after, abs=0.1)
        assert again.value < found.value - 1.0
    assert clash(apply(p, found.fixes[0].edits)).verdict == "holds"


def test_no_kick_no_clash():
    assert clash(bass()) is None
    assert clash(edited(bass(), backing__beat__on=True, backing__beat__kick=-72.0)) is None
    assert clash(edited(bass(-40.0, 50), backing__beat__on=True)).verdict == "holds"


def test_the_kick_alone_is_no_snare_and_no_hat():
    p = edited(bass(), backing__beat__on=True, backing__beat__level=0.0)
    x = kick_alone(p).x[0].astype(np.float64)
    power = np.abs(np.fft.rfft(x)) ** 2
    hz = np.arange(power.size) * RATE / x.size
    assert power[hz > 5000].sum() < 0.01 * power.sum()
    assert [w for w, _ in names_of(p.backing)] == ["kick"]


# a recording


def sound(level=-12.0, extra=None):
    e = Evidence(patch(layer("one", sources=[oscillator("saw")], level=level)), TAKES, seeks=False)
    x = e.loop.sum.copy()
    return e, x if extra is None else x + extra(x.shape[1])


def test_a_patch_against_itself_differs_in_nothing():
    e, x = sound()
    found = compare(e, 0.25 * x, e.patch.tempo, AXIS)
    assert found.differences == ()
    assert found.gain == pytest.approx(20 * np.log10(4), abs=0.05)
    for name, (level, loss, _) in found.own.bands.items():
        other = found.other.bands[name]
        assert (level is None) == (other[0] is None)
        if level is not None:
            assert level == pytest.approx(other[0], abs=0.3) and loss == pytest.approx(other[1], abs=0.05)
    np.testing.assert_allclose(found.own.envelope, found.other.envelope, atol=0.2)


def test_what_is_missing_is_said_first_with_what_could_be_done():
    """The recording has a strong 80 Hz that the patch has not: low is asked for, of the layer that is there."""
    e, x = sound(extra=lambda n: np.repeat(tone(80.0, -18.0, n / RATE)[None, :n], 2, axis=0))
    found = compare(e, x, e.patch.tempo, AXIS)
    first = found.differences[0]
    assert first.low_hz == 60.0 and first.value < -3.0
    assert "dB more 60-120: raise One" in first.advice
    weights = [d.weight for d in found.differences]
    assert weights == sorted(weights, reverse=True)


def test_a_wide_recording_is_said_to_be_wider():
    rng = np.random.default_rng(5)

    def side(n):
        s = 0.1 * rng.standard_normal(n)
        return np.stack([s, -s])

    e, x = sound(extra=side)
    found = compare(e, x, e.patch.tempo, AXIS)
    assert any(d.what in ("width", "mono") for d in found.differences)


def test_the_envelope_over_a_beat_is_the_gate_it_was_made_with():
    beat = RATE // 2
    x = np.repeat(tone(100.0, 0.0, 4.0)[None], 2, axis=0)
    x[:, np.arange(x.shape[1]) % beat >= beat // 2] *= 0.1
    y = envelope_over_beat(x, beat)
    assert y[:15].mean() - y[17:].mean() == pytest.approx(20.0, abs=0.5)


# what a fix makes worse


def test_a_fix_says_what_it_makes_worse():
    """Raising a hollow fundamental drives the output over its limit: the fix says so."""
    sub = layer("sub", sources=[oscillator("sine")], level=-14.0)
    body = layer("body", sources=[oscillator("sine", octave=1)], level=-3.5)
    e = Evidence(patch(sub, body), TAKES)
    found = {f.check: f for f in with_harms(check(e), e)}
    (fix,) = found["hollow"].fixes
    after = {f.check: f.verdict for f in check(Evidence(apply(e.patch, fix.edits), TAKES, seeks=False))}
    assert found["output-peak"].verdict == "holds" and after["output-peak"] == "fails"
    assert any("Peak level" in h for h in fix.harms)
    assert all(f.fixes == () or f.verdict != "holds" for f in found.values())


def test_a_harmless_fix_says_so():
    p = patch(
        layer("sub", sources=[oscillator("sine")], level=-12.0),
        layer("body", sources=[oscillator("saw", phase=180.0)], level=-12.0),
    )
    e = Evidence(p, TAKES)
    found = next(f for f in with_harms(check(e), e) if f.check == "layers-add-up")
    assert found.fixes and all(x.harms == () for x in found.fixes)
    assert found.plain()["fixes"][0]["harms"] == []
    assert apply(p, [Edit("name", "X")]).name == "X"
