"""Playback rooms, quantum by quantum or for a whole loop."""

from __future__ import annotations

import importlib
import math

import numpy as np
import scipy
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.dynamics.limiter import LATENCY, limit, rest
from ...patch import Room

_Real = NDArray[np.float64]

_WALLS = ((1.0, 0.9, 0.55), (1.53, 0.6, 0.85), (2.21, 0.7, 0.45), (3.17, 0.4, 0.6))
"""Delay as a multiple of the first wall's, level left, level right."""
_RELEASE_MS = 120.0
_ORDERS = {"12 dB": 2, "24 dB": 4}


def load_rooms() -> None:
    """Load the filter design library, which takes a while, before it is needed in real time."""
    importlib.import_module("scipy.signal")


def _shelf(db: float, hz: float) -> _Real:
    """A second-order low shelf, (1, 6), with half its gain at hz. R. Bristow-Johnson, Audio EQ Cookbook, S = 1."""
    a = 10.0 ** (db / 40.0)
    w = 2.0 * math.pi * hz / RATE
    c, root = math.cos(w), math.sqrt(a) * math.sin(w) * math.sqrt(2.0)
    b0, b1, b2 = a * ((a + 1) - (a - 1) * c + root), 2 * a * ((a - 1) - (a + 1) * c), a * ((a + 1) - (a - 1) * c - root)
    a0, a1, a2 = (a + 1) + (a - 1) * c + root, -2 * ((a - 1) + (a + 1) * c), (a + 1) + (a - 1) * c - root
    return np.asarray(np.array([[b0, b1, b2, a0, a1, a2]]) / a0)


def _peak(db: float, hz: float, q: float) -> _Real:
    """A second-order peak, (1, 6). The same source."""
    a = 10.0 ** (db / 40.0)
    w = 2.0 * math.pi * hz / RATE
    alpha = math.sin(w) / (2.0 * q)
    a0 = 1.0 + alpha / a
    found = np.array([[1 + alpha * a, -2 * math.cos(w), 1 - alpha * a, a0, -2 * math.cos(w), 1 - alpha / a]])
    return np.asarray(found / a0)


def filters_of(room: Room) -> _Real:
    """Second-order sections of a room for both channels, (sections, 6)."""
    parts = [np.array([[1.0, 0.0, 0.0, 1.0, 0.0, 0.0]])]
    if room.low_slope != "off":
        parts.append(scipy.signal.butter(_ORDERS[room.low_slope], room.low_cut, "high", fs=RATE, output="sos"))
    if room.high_slope != "off":
        parts.append(scipy.signal.butter(_ORDERS[room.high_slope], room.high_cut, "low", fs=RATE, output="sos"))
    if room.shelf:
        parts.append(_shelf(room.shelf, room.shelf_at))
    if room.bump:
        parts.append(_peak(room.bump, room.bump_at, room.bump_q))
    return np.concatenate(parts)


def _side_cut(room: Room) -> _Real:
    """Sections of the side signal's high-pass at a room's mono edge. Linkwitz-Riley, 24 dB per octave."""
    own: _Real = scipy.signal.butter(2, room.mono_below, "high", fs=RATE, output="sos")
    return np.concatenate([own, own])


def room_response(room: Room, hz: NDArray[np.floating]) -> tuple[_Real, _Real]:
    """Power response of a room for middle and side at frequencies in Hz, without reflections and ceiling."""
    w = np.clip(2.0 * np.pi * np.asarray(hz, dtype=np.float64) / RATE, 0.0, np.pi)
    both = np.square(np.abs(scipy.signal.sosfreqz(filters_of(room), w)[1]))
    if room.mono_below <= 20.0:
        return both, both
    if room.mono_below >= 20000.0:
        return both, np.zeros_like(both)
    return both, both * np.square(np.abs(scipy.signal.sosfreqz(_side_cut(room), w)[1]))


class RoomProcessor:
    """Plays through one room, with ``latency`` samples of latency."""

    def __init__(self, room: Room) -> None:
        self.room = room
        self._sos = filters_of(room)
        self._state = np.zeros((self._sos.shape[0], 2, 2))
        self._side = _side_cut(room) if 20.0 < room.mono_below < 20000.0 else None
        self._side_state = np.zeros((2, 2))
        self._walls = 10.0 ** (room.reflections / 20.0) if room.reflections > -36.0 else 0.0
        first = room.spread * RATE / 1000.0
        self._late = [max(1, round(first * d)) for d, _, _ in _WALLS]
        self._past = np.zeros((2, max(self._late)))
        self._limiter = rest() if room.ceiling_mode == "limiter" else None
        self.latency = LATENCY if self._limiter is not None else 0

    def process(self, x: _Real) -> _Real:
        """The next samples, (2, n) of whole quanta."""
        y: _Real
        y, self._state = scipy.signal.sosfilt(self._sos, x, axis=1, zi=self._state)
        if self.room.mono_below > 20.0:
            mid, side = 0.5 * (y[0] + y[1]), 0.5 * (y[0] - y[1])
            if self._side is None:
                side = np.zeros_like(side)
            else:
                side, self._side_state = scipy.signal.sosfilt(self._side, side, zi=self._side_state)
            y = np.stack([mid + side, mid - side])
        if self._walls:
            y = y + self._reflected(y)
        if self._limiter is not None:
            y = np.ascontiguousarray(y)
            top = 10.0 ** ((self.room.ceiling - 0.05) / 20.0)
            fall = math.exp(-1000.0 / (_RELEASE_MS * RATE))
            for at in range(0, y.shape[1], QUANTUM):
                block = np.ascontiguousarray(y[:, at : at + QUANTUM])
                limit(block, top, fall, self._limiter)
                y[:, at : at + QUANTUM] = block
        elif self.room.ceiling_mode == "hard":
            top = 10.0 ** (self.room.ceiling / 20.0)
            y = np.clip(y, -top, top)
        return y

    def _reflected(self, y: _Real) -> _Real:
        line = np.concatenate([self._past, y], axis=1)
        start, n = self._past.shape[1], y.shape[1]
        out = np.zeros_like(y)
        for late, (_, left, right) in zip(self._late, _WALLS, strict=True):
            part = line[:, start - late : start - late + n]
            out[0] += self._walls * left * part[1]
            out[1] += self._walls * right * part[0]
        self._past = line[:, -start:]
        return out


def through_room(room: Room, x: NDArray[np.floating]) -> _Real:
    """A loop x, (2, n), as it sounds in a room in steady state, (2, n), without latency."""
    n = x.shape[1]
    processor = RoomProcessor(room)
    settle = min(n, RATE)
    size = -(-(settle + n + processor.latency) // QUANTUM) * QUANTUM
    at = (np.arange(size) - settle) % n
    y = processor.process(np.asarray(x, dtype=np.float64)[:, at])
    first = settle + processor.latency
    return np.asarray(y[:, first : first + n])
