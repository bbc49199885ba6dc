"""The live stream: the engine runs quantum by quantum, a little ahead of what is heard.

The player reports how much it has heard. The stream keeps a lead of a few quanta over that, which is the latency of a
turned control. When the engine can't keep up, the stream is fed from the rendered loop, until something is changed or
some time has passed.
"""

from __future__ import annotations

import contextlib
import json
import logging
import os
import threading
import time
from collections import deque
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import ValidationError

from ...engine import QUANTUM, Engine, load_rooms
from ...library import NoSuchPatch, NotKept
from ...patch import NoSuchPath, Patch, ValueProblem, apply, plain
from ..editing import ControlChange, apply_change, value_shown
from ..open_patch import OpenPatch
from . import messages
from .backing_mix import BackingMix
from .lead import Lead
from .listening import HeardThrough, Monitor
from .load import Load
from .messages import message_of
from .performance import LivePerformance

_log = logging.getLogger(__name__)

_ACROSS = (np.arange(QUANTUM) + 0.5) / QUANTUM
_GRAIN = 4 * QUANTUM
_GRAIN_WINDOW = 0.5 - 0.5 * np.cos(2 * np.pi * (np.arange(_GRAIN) + 0.5) / _GRAIN)
_TICK = 0.004

Send = Callable[[bytes | str], None]


def go_first() -> None:
    """Raise the priority of this thread, if the system allows it."""
    with contextlib.suppress(OSError, AttributeError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), -10)


class LiveStream(LivePerformance, HeardThrough):
    """Plays one open patch to one player. ``send`` takes bytes of sound and lines of JSON, from any thread."""

    def __init__(self, open_patch: OpenPatch, send: Send, cost: Callable[[], float] = time.perf_counter) -> None:
        self._open = open_patch
        self._send = send
        self._clock = cost
        self._wake = threading.Condition()
        self._patch = open_patch.patch
        self._turns: dict[str, ControlChange] = {}
        self._pending: Patch | None = None
        self._commands: deque[Callable[[Engine], None]] = deque()
        self._closed = False
        self._on = False
        self._lead = Lead()
        self._load = Load()
        self._listen = "stereo"
        self._once = False
        self._left: int | None = None
        self._glimpse: float | None = None
        self._was_fed = False
        self._engine: Engine | None = None
        self._rest_hands()
        self.backing = BackingMix(open_patch.library, open_patch.render_worker)
        self.backing.follow(open_patch.patch)
        self.listening = Monitor(open_patch.library, open_patch.slug)
        self._unlisten = open_patch.listen(self._edited)
        self._thread = threading.Thread(target=self._run, name="live", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Stop the stream and wait for its thread."""
        with self._wake:
            if self._closed:
                return
            self._closed = True
            if self._on:
                self._open.render_worker.stream_started(-1)
            self._wake.notify_all()
        self._unlisten()
        self._thread.join(timeout=5.0)

    # input

    def _edited(self, patch: Patch) -> None:
        with self._wake:
            self._turns = {}
            self._patch = self._pending = patch
            self._load.start_over()
        self.backing.follow(patch)

    def take(self, data: Any) -> None:
        """Handle a message of the player, plain JSON data. Problems are answered with one line."""
        path = data.get("path") if isinstance(data, dict) and isinstance(data.get("path"), str) else None
        try:
            message = message_of(data)
            getattr(self, f"_do_{message.do}")(message)  # type: ignore[attr-defined]
        except (ValueProblem, NoSuchPath) as problem:
            self._say(say="problem", path=path, text=str(problem))
        except (NoSuchPatch, NotKept) as problem:
            self._say(say="problem", path=path, text=str(problem))
        except ValidationError as problem:
            self._say(say="problem", path=path, text=plain(problem))
        except Exception:
            _log.exception("a message of the player failed: %s", str(data)[:200])
            self._say(say="problem", path=path, text="that failed: the log has the details")

    def _say(self, **fields: Any) -> None:
        self._send(json.dumps(fields))

    def _command(self, act: Callable[[Engine], None]) -> None:
        with self._wake:
            self._commands.append(act)
            self._wake.notify_all()

    def _do_on(self, message: messages.OnMessage) -> None:
        with self._wake:
            if not self._on:
                self._open.render_worker.stream_started(1)
            self._on = True
            self._lead.begin()
            self._wake.notify_all()

    def _do_heard(self, message: messages.HeardMessage) -> None:
        with self._wake:
            grown = self._lead.report(message.frames, message.under, message.reserve)
            self._wake.notify_all()
        if grown:
            self._tell()
        self._settle_slid()

    def _do_play(self, message: messages.PlayMessage) -> None:
        def act(engine: Engine) -> None:
            engine.restart()
            engine.loop = True
            self._left = engine.schedule.length if self._once else None

        self._command(act)

    def _do_stop(self, message: messages.StopMessage) -> None:
        def act(engine: Engine) -> None:
            engine.loop = False
            engine.silence()

        self._command(act)

    def _do_loop(self, message: messages.LoopMessage) -> None:
        once = not message.on

        def act(engine: Engine) -> None:
            self._once = once
            length = engine.schedule.length
            self._left = length - engine.schedule.position(engine.time) if once and engine.loop else None

        self._command(act)

    def _do_solo(self, message: messages.SoloMessage) -> None:
        layers = frozenset(message.layers)
        layer, _, source = (message.source or "").partition("/")

        def act(engine: Engine) -> None:
            engine.solo = layers
            engine.solo_source = (layer, source) if source else None

        # one layer costs less than all: the engine may keep up with it
        with self._wake:
            self._load.start_over()
        self._command(act)

    def _do_listen(self, message: messages.ListenMessage) -> None:
        self._listen = message.mode

    def _do_turn(self, message: messages.TurnMessage) -> None:
        path = message.path
        if message.at is not None:
            self._take_down(path, message.at)
        with self._wake:
            # for one control only the newest value counts
            self._turns[path] = ControlChange(path, at=message.at, axis=message.axis, steps=message.steps)
            self._wake.notify_all()

    def _turn_now(self, turns: list[ControlChange]) -> None:
        """Apply the controls that were turned since the last quantum, and send their values."""
        for turn in turns:
            try:
                # steps count from the saved value
                edits = apply_change(self._open.patch, turn)
                with self._wake:
                    patch = apply(self._patch, edits)
                    self._patch = self._pending = patch
                shown = value_shown(patch, turn.path)
            except (ValueProblem, NoSuchPath) as problem:
                self._say(say="problem", path=turn.path, text=str(problem))
                continue
            except Exception:
                # the stream continues whatever a control change raises
                _log.exception("a turn failed: %s", turn)
                self._say(say="problem", path=turn.path, text="that change failed: the log has the details")
                continue
            self._say(say="value", path=turn.path, **vars(shown))

    def _do_drop(self, message: messages.DropMessage) -> None:
        with self._wake:
            self._turns = {}
            self._patch = self._pending = self._open.patch

    # output

    @property
    def lead_ms(self) -> float:
        """Lead of the engine over what is heard, in ms."""
        return self._lead.ms

    @property
    def fed_from_loop(self) -> bool:
        """Whether the rendered loop is played, because the engine can't keep up."""
        return self._load.fed_from_loop

    def _tell(self) -> None:
        self._say(
            say="state",
            mode="loop" if self.fed_from_loop else "live",
            lead_ms=round(self.lead_ms),
            cost_percent=round(self._load.percent, 1),
            underruns=self._lead.gaps,
            words=self._words(),
        )

    def _words(self) -> str:
        """The mode of the stream as text: lead, load, gaps, and what can't be heard from the rendered loop."""
        gaps = {0: "no gaps", 1: "1 gap"}.get(self._lead.gaps, f"{self._lead.gaps} gaps")
        lead = round(self.lead_ms)
        if not self.fed_from_loop:
            return f"live {lead} ms, load {self._load.percent:.0f} %, {gaps}"
        engine = self._engine
        alone = engine is not None and (engine.solo or engine.solo_source)
        unheard = "solo and played keys are not heard" if alone else "played keys are not heard"
        return f"from the loop {lead} ms, {gaps}: the engine can't keep up, so {unheard}"

    def _due(self) -> bool:
        return self._on and self._lead.is_due()

    def _ready(self) -> bool:
        return self._closed or self._due() or (bool(self._turns) and not self._on)

    def _run(self) -> None:
        go_first()
        load_rooms()
        engine = self._engine = Engine(self._patch, loop=False)
        count = 0
        touched = False
        while True:
            with self._wake:
                while not self._wake.wait_for(self._ready, _TICK if self._lead.is_heard else None):
                    pass
                if self._closed:
                    return
                turns, self._turns = list(self._turns.values()), {}
                due = self._due()
            self._turn_now(turns)
            touched = touched or bool(turns)
            if not due:
                continue
            with self._wake:
                patch, self._pending = self._pending, None
                commands = [self._commands.popleft() for _ in range(len(self._commands))]
                self._lead.send()
            began = self._clock()
            self._take_over(engine, patch, commands)
            self._load.begin_quantum()
            if self._load.tries_again(touched or bool(commands)):
                self._tell()
            touched = False
            beat = self._beat(engine)
            at = engine.time
            x = self._next(engine)
            if engine.loop and self.backing.run.tracks:
                beside = self.backing.run.quantum(at - engine.latency, engine.schedule, engine.patch.phrase.beats)
                x = x if beside is None else x + beside
            x = self.listening.quantum(x)
            self._count_down(engine)
            self._load.add(self._clock() - began)
            self._send(self._packed(x, beat))
            if self._load.gives_up(self._open.measuring.picture is not None):
                self._tell()
            count += 1
            if count % 24 == 0:
                self._tell()

    def _take_over(self, engine: Engine, patch: Patch | None, commands: list[Callable[[Engine], None]]) -> None:
        """Apply a new patch and commands to the engine. Failures are logged, and the stream continues."""
        try:
            if patch is not None:
                engine.update(patch)
        except Exception:
            _log.exception("the engine can't play a patch")
            self._say(say="problem", path=None, text="this can't be played live: the log has the details")
        for act in commands:
            try:
                act(engine)
            except Exception:
                _log.exception("a command to the engine failed")

    def _beat(self, engine: Engine) -> float:
        if not engine.loop:
            return -1.0
        return engine.schedule.position(engine.time) / engine.schedule.length * engine.patch.phrase.beats

    def _count_down(self, engine: Engine) -> None:
        if self._left is None or not engine.loop:
            return
        self._left -= QUANTUM
        if self._left <= 0:
            self._left = None
            engine.loop = False
            engine.silence()
            self._say(say="stopped")

    def _do_glimpse(self, message: messages.GlimpseMessage) -> None:
        """Hold one moment of the loop; without a beat, end it."""
        with self._wake:
            self._glimpse = message.beat

    def _grain(self, engine: Engine, beat: float) -> NDArray[np.float64]:
        """A quantum of the held moment: overlapping windows over the same stretch of the rendered loop."""
        picture = self._open.measuring.picture
        if picture is None:
            return np.zeros((2, QUANTUM))
        at = round(beat / engine.patch.phrase.beats * engine.schedule.length) - _GRAIN // 2
        loop = picture.loop
        half = (engine.time // QUANTUM) % 2 * QUANTUM
        total = np.zeros((2, QUANTUM))
        for place in (half, half + _GRAIN // 2):
            x = loop[:, (at + place + np.arange(QUANTUM)) % loop.shape[1]]
            total += x * _GRAIN_WINDOW[place : place + QUANTUM]
        return total

    def _next(self, engine: Engine) -> NDArray[np.float64]:
        """The next quantum, from the engine or from the loop, with a crossfade of one quantum between them."""
        fed, at = self.fed_from_loop, engine.time
        if self._glimpse is not None:
            x = self._grain(engine, self._glimpse)
            engine.time += QUANTUM
            self._was_fed = True
            return x
        if fed and self._was_fed:
            engine.time += QUANTUM
            return self._from_loop(engine, at)
        if self._was_fed:
            # notes held when the engine was left have ended since
            engine.silence()
        live = engine.quantum()
        if fed == self._was_fed:
            return live
        self._was_fed = fed
        kept = self._from_loop(engine, at)
        return np.asarray(live + _ACROSS * (kept - live) if fed else kept + _ACROSS * (live - kept))

    def _from_loop(self, engine: Engine, time: int) -> NDArray[np.float64]:
        """The quantum at ``time`` from the rendered loop, in sync with the phrase."""
        picture = self._open.measuring.picture
        if picture is None or not engine.loop:
            return np.zeros((2, QUANTUM))
        at = engine.schedule.position(time)
        loop = picture.loop
        return np.asarray(loop[:, (at + np.arange(QUANTUM)) % loop.shape[1]])

    def _packed(self, x: NDArray[np.float64], beat: float) -> bytes:
        if self._listen == "mono":
            x = np.repeat(0.5 * (x[:1] + x[1:]), 2, axis=0)
        elif self._listen == "side":
            x = np.repeat(0.5 * (x[:1] - x[1:]), 2, axis=0)
        head = np.array([beat, float(np.abs(x).max()), 1.0 if self.fed_from_loop else 0.0, 0.0], dtype="<f4")
        return head.tobytes() + x.astype("<f4").tobytes()
