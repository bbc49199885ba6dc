"""The patch beside what plays with it: a kick, another patch, an imported loop."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from ...engine import RATE, Track, beat_track, gain_of, kick_beats
from ...measure import Spectrum
from ...patch import Backing, Edit, Patch, note_name, write
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits, Where

_Real = NDArray[np.floating[Any]]

TOP_HZ = 150.0
"""Overlaps above this frequency are no conflict in the lows."""
ABOVE = (200.0, 4000.0)
FRAME = RATE // 50
_ACTIVE_DB = 18.0
"""A neighbour counts as sounding where its lows are within this many dB of their loudest."""
_PITCHES = tuple(range(40, 76))
_HALF_OCTAVE = 2.0**0.25


@dataclass(frozen=True)
class Meeting:
    """A note and the neighbour while both sound.

    own, other: levels of both below 150 Hz in dB. loss: sum loss at common frequencies, in dB.
    """

    note: str
    beat: float
    own: float
    other: float
    loss: float | None

    @property
    def owner(self) -> str:
        """Who dominates the lows: "patch", "neighbour", or "both" within 3 dB."""
        apart = self.own - self.other
        return "patch" if apart > 3.0 else "neighbour" if apart < -3.0 else "both"


@dataclass(frozen=True)
class Neighbours:
    """The patch beside one neighbour.

    own_time, other_time: levels below 150 Hz in dB, every 20 ms. own_curve, other_curve: along hz. share: of the
    neighbour's low power while the patch sounds, 0..1. band: the middle 80 % of the neighbour's lows, in Hz. over: how
    far the patch exceeds it there, in dB. duck: gain reduction in dB that the limit needs; hold_ms: its duration.
    pitch: of a kick in Hz, with the most room. room: what of it exceeds the patch from 200 Hz to 4 kHz, by third octave
    (Hz, dB).
    """

    name: str
    own_time: _Real
    other_time: _Real
    own_curve: _Real
    other_curve: _Real
    hz: _Real
    share: float
    band: tuple[float, float]
    over: float | None
    meetings: tuple[Meeting, ...]
    duck: float
    hold_ms: float
    pitch: float | None
    room: tuple[tuple[float, float], ...]
    room_db: float | None


def kick_alone(patch: Patch) -> Track:
    """The kick of the backing beat by itself, at its level."""
    beat = patch.backing.beat.model_copy(update={"snare": -72.0, "hats": -72.0, "on": True})
    track = beat_track(beat, patch.tempo)
    level = gain_of(patch.backing.beat.level)
    return Track("kick", (track.x * level).astype(np.float32), track.beats)


def over_loop(e: Evidence, track: Track) -> NDArray[np.float64]:
    """A track along the patch's loop, (2, n)."""
    n = e.loop.sum.shape[1]
    per_beat = n / e.patch.phrase.beats
    first = round((-track.offset % track.beats) * per_beat)
    return np.asarray(track.x[:, (first + np.arange(n)) % track.x.shape[1]], dtype=np.float64)


def _lows(x: _Real) -> _Real:
    sos = scipy.signal.butter(4, TOP_HZ, fs=RATE, output="sos")
    return np.asarray(scipy.signal.sosfiltfilt(sos, 0.5 * (x[0] + x[1])))


def _frames(x: _Real) -> _Real:
    count = max(1, x.size // FRAME)
    return np.asarray(np.square(x[: count * FRAME]).reshape(count, -1).mean(axis=1))


def _db(power: _Real | float) -> _Real:
    return np.asarray(10.0 * np.log10(np.maximum(2.0 * np.asarray(power), 1e-12)))


def _middle(s: Spectrum) -> tuple[float, float]:
    """The band that holds the middle 80 % of the power between 20 and 150 Hz."""
    hz = s.hz
    inside = (hz >= 20.0) & (hz <= TOP_HZ)
    total = np.cumsum(0.5 * (s.left + s.right)[inside])
    if total.size == 0 or total[-1] <= 1e-14:
        return 20.0, TOP_HZ
    low, high = np.searchsorted(total, [0.1 * total[-1], 0.9 * total[-1]])
    found = hz[inside]
    return float(found[low]), float(max(found[min(high, found.size - 1)], found[low] + 1.0))


def _shared_loss(a: _Real, b: _Real) -> float | None:
    """Sum loss of two stretches at their common frequencies below 150 Hz, in dB."""
    if a.size < RATE // 25:
        return None
    window = np.hanning(a.size)
    fa, fb = np.fft.rfft(a * window), np.fft.rfft(b * window)
    hz = np.arange(fa.size) * RATE / a.size
    pa, pb = np.abs(fa), np.abs(fb)
    inside = (hz >= 20.0) & (hz <= TOP_HZ)
    inside &= (pa > 0.05 * pa.max(initial=0.0)) & (pb > 0.05 * pb.max(initial=0.0))
    apart = float(np.square(pa + pb)[inside].sum())
    if not inside.any() or apart <= 1e-12:
        return None
    return 10.0 * math.log10(max(float(np.square(np.abs(fa + fb))[inside].sum()), 1e-9 * apart) / apart)


def _meetings(e: Evidence, own: _Real, other: _Real, active: NDArray[np.bool_]) -> list[Meeting]:
    found = []
    for note in e.notes:
        first, last = note.start // FRAME, min((note.start + note.length) // FRAME, active.size)
        both = np.flatnonzero(active[first:last]) + first
        if both.size < 2:
            continue
        rows = slice(int(both[0]) * FRAME, int(both[-1] + 1) * FRAME)
        a, b = own[rows], other[rows]
        levels = [float(_db(float(np.mean(np.square(x))))) for x in (a, b)]
        found.append(Meeting(note_name(note.pitch), note.beat, levels[0], levels[1], _shared_loss(a, b)))
    return found


def _free_pitch(e: Evidence) -> float:
    """The kick pitch, 40 to 75 Hz, around which the patch has least power; the middle one of the best."""
    s = e.sum.spectrum
    power = np.array([s.power(hz / _HALF_OCTAVE, hz * _HALF_OCTAVE) for hz in _PITCHES])
    best = np.flatnonzero(power <= power.min() * 1.26 + 1e-12)
    return float(_PITCHES[int(best[best.size // 2])])


def neighbours(e: Evidence, name: str, x: NDArray[np.float64], limits: Limits, kick: bool = False) -> Neighbours:
    """The patch's loop beside x, (2, n) of the same length."""
    own, other = _lows(e.loop.sum), _lows(x)
    own_power, other_power = _frames(own), _frames(other)
    theirs = Spectrum.of(x, wrap=True)
    hz = 20.0 * (250.0 / 20.0) ** (np.arange(240) / 239)
    active = other_power > max(other_power.max(initial=0.0) * 10.0 ** (-_ACTIVE_DB / 10.0), 1e-9)
    sounding = own_power > max(own_power.max(initial=0.0) * 10.0 ** (-_ACTIVE_DB / 10.0), 1e-9)
    share = float(other_power[active & sounding].sum() / max(other_power.sum(), 1e-20))
    low, high = _middle(theirs)
    over = _over(e, x, low, high, active)
    count = int(active.sum())
    runs = max(1, int((np.diff(np.concatenate([[0], active.astype(int)])) == 1).sum()))
    rows = []
    for k in range(-7, 7):
        centre = 1000.0 * 2.0 ** (k / 3.0)
        a, b = (s.level(centre * 2 ** (-1 / 6), centre * 2 ** (1 / 6)) for s in (e.sum.spectrum, theirs))
        if b is not None and b > -80.0:
            rows.append((centre, b - (-100.0 if a is None else a)))
    a, b = (s.level(*ABOVE) for s in (e.sum.spectrum, theirs))
    return Neighbours(
        name=name,
        own_time=_db(own_power),
        other_time=_db(other_power),
        own_curve=e.sum.spectrum.curve(hz),
        other_curve=theirs.curve(hz),
        hz=hz,
        share=share,
        band=(low, high),
        over=over,
        meetings=tuple(_meetings(e, own, other, active)),
        duck=max(0.0, round(over + limits.kick_room_db, 1)) if over is not None else 0.0,
        hold_ms=1000.0 * count / runs * FRAME / RATE,
        pitch=_free_pitch(e) if kick else None,
        room=tuple(rows),
        room_db=b - a if a is not None and b is not None and b > -80 else None,
    )


def _over(e: Evidence, x: _Real, low: float, high: float, active: NDArray[np.bool_]) -> float | None:
    """How far the loop exceeds x between two frequencies while x sounds, in dB."""
    if not active.any():
        return None
    wide = scipy.signal.butter(2, [max(low / 1.12, 15.0), high * 1.12], "band", fs=RATE, output="sos")
    powers = [_frames(np.asarray(scipy.signal.sosfiltfilt(wide, 0.5 * (y[0] + y[1])))) for y in (e.loop.sum, x)]
    n = min(powers[0].size, active.size)
    own, other = (float(p[:n][active[:n]].sum()) for p in powers)
    return 10.0 * math.log10(max(own, 1e-14) / max(other, 1e-14)) if other > 1e-12 else None


def _clash(e: Evidence, limits: Limits) -> Neighbours:
    return neighbours(e, "Kick", over_loop(e, kick_alone(e.patch)), limits, kick=True)


def _fixes(e: Evidence, found: Neighbours, limits: Limits) -> tuple[Fix, ...]:
    fixes = []
    assert found.over is not None
    for more in (1.0, 4.0, 8.0):
        depth = min(round(found.duck + more, 1), 60.0)
        hold = float(min(round(found.hold_ms), 500))
        edits: tuple[Edit, ...] = (
            Edit("output.duck.on", True),
            Edit("output.duck.depth", depth),
            Edit("output.duck.attack", 0.5),
            Edit("output.duck.hold", hold),
        )
        after = _clash(e.with_edits(edits), limits).over
        if after is not None and after <= -limits.kick_room_db:
            fixes.append(Fix(f"Duck {write(depth, 'dB')} for {hold:.0f} ms", edits, after))
            break
    pitch = found.pitch
    if pitch is not None and abs(pitch - e.patch.backing.beat.kick_pitch) > 2.0:
        edits = (Edit("backing.beat.kick_pitch", pitch),)
        after = _clash(e.with_edits(edits), limits).over
        if after is not None and after < found.over - 1.0:
            fixes.append(Fix(f"Tune the kick to {write(pitch, 'Hz')}", edits, after))
    return tuple(fixes)


def kick_clash(e: Evidence, limits: Limits) -> list[Finding]:
    """Whether the patch leaves room for the kick of the backing beat, if the beat is on."""
    beat = e.patch.backing.beat
    if not beat.on or beat.kick <= -60 or beat.level <= -60 or not kick_beats(beat.pattern):
        return []
    found = _clash(e, limits)
    if found.over is None:
        return []
    held = found.over <= -limits.kick_room_db
    low, high = found.band
    beats = ", ".join(f"{b + 1:g}" for b in kick_beats(beat.pattern)[:4])
    side = "over" if found.over > 0 else "under"
    text = (
        f"The patch is {write(abs(found.over), 'dB')} {side} the kick between {low:.0f} and {high:.0f} Hz "
        f"while it sounds (beats {beats})"
    )
    return [
        Finding(
            check="kick-clash",
            verdict="holds" if held else "look",
            title="The kick has room" if held else "The patch masks the kick",
            text=text,
            value=found.over,
            unit="dB",
            limit=-limits.kick_room_db,
            limit_text=f"{write(limits.kick_room_db, 'dB')} under the kick",
            limit_name="kick_room_db",
            where=Where(low_hz=low, high_hz=high),
            fixes=() if held else e.sought(lambda: _fixes(e, found, limits)),
        )
    ]


def names_of(backing: Backing) -> list[tuple[str, str]]:
    """What can be a neighbour of a patch, by word: the kick, loops, other patches."""
    found = [("kick", "Kick")]
    found += [(f"loop:{p.id}", p.name) for p in backing.loops]
    return found + [(f"patch:{p.id}", p.name) for p in backing.patches]
