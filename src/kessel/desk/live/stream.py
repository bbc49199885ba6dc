"""The live stream: the engine runs quantum by quantum, a little ahead of what is heard.

The page reports how much it has heard. The stream keeps a lead over that, which is most of the latency of a
turned control. When the engine can't keep up, the stream is fed from the rendered loop, until something is changed or
some time has passed.
"""

from __future__ import annotations

import json
import logging
import threading
import time
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import ValidationError

from ...engine import QUANTUM, Engine, load_rooms
from ...library import NoSuchPatch, NotKept
from ...patch import NoSuchPath, Patch, ValueProblem, plain
from ..editing import ControlChange, apply_change, value_shown
from . import messages
from .backing_mix import BackingMix
from .first import SOUND, go_first
from .following import Following
from .hands import Hands
from .inbox import Inbox
from .lead import Lead
from .listening import Listening, Monitor
from .load import Load
from .messages import message_of
from .played import PlayedPatch
from .player import Player
from .recorder import Recorder
from .taping import Taping
from .trials import Trials

_log = logging.getLogger(__name__)
_TICK = 0.0005
_TELL_EVERY = 24
"""Quanta after which the state is told again."""

Send = Callable[[bytes | str], None]


class LiveStream:
    """Plays one patch to one page. ``send`` takes bytes of sound and lines of JSON, from any thread.

    lead: to begin with. handlers: what handles each message of the page, by its word.
    """

    def __init__(
        self,
        played: PlayedPatch,
        send: Send,
        lead: Lead | None = None,
        cost: Callable[[], float] = time.perf_counter,
    ) -> None:
        self.played = played
        self._send = send
        self._clock = cost
        self.inbox: Inbox = Inbox(played.patch)
        self.player: Player | None = None
        self._closed = False
        self._on = False
        self._lead = lead or Lead()
        self._load = Load()
        self.backing = BackingMix(played)
        self.backing.follow(played.patch)
        self._monitor = Monitor(played)
        recorder = Recorder(played, self.inbox, self._heard_beat, self._say)
        self._hands = Hands(played, self.inbox, recorder, self._say)
        self._taping = Taping(played, self.inbox, self._say)
        self._following = Following(self._say)
        self.handlers: dict[str, Callable[[Any], None]] = {
            "on": self._begin, "heard": self._take_report, "solo": self._solo, "glimpse": self._glimpse,
            "play": lambda message: self.inbox.command(lambda player: player.start(message.beat)),
            "stop": lambda message: self.inbox.command(lambda player: player.stop()),
            "loop": lambda message: self.inbox.command(lambda player: player.repeat(message.on)),
            "listen": lambda message: self.inbox.command(lambda player: setattr(player, "listen", message.mode)),
            **recorder.handlers(), **self._hands.handlers(), **self._taping.handlers(),
            **self._following.handlers(), **Trials(played, self.inbox, self._say).handlers(),
            **Listening(self._monitor, played).handlers(),
        }  # fmt: skip
        self._taping.tell()
        self._unlisten = played.listen(self._edited)
        self._thread = threading.Thread(target=self._run, name="live", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Stop the stream and wait for its thread."""
        with self.inbox.wake:
            if self._closed:
                return
            self._closed = True
            self.inbox.wake.notify_all()
        self._unlisten()
        if self._on:
            self.played.sounds(-1)
        self._thread.join(timeout=5.0)
        self._taping.leave()

    # input

    def _edited(self, patch: Patch) -> None:
        self.inbox.start_over(patch)
        self._load.start_over()
        self.backing.follow(self._following.timed(patch))

    def take(self, data: Any) -> None:
        """Handle a message of the page, plain JSON data. Problems are answered with one line."""
        path = data.get("path") if isinstance(data, dict) and isinstance(data.get("path"), str) else None
        try:
            message = message_of(data)
            self.handlers[message.do](message)  # type: ignore[attr-defined]
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

    def _begin(self, message: messages.OnMessage) -> None:
        if not self._on:
            self.played.sounds(1)
        with self.inbox.wake:
            self._on = True
            self._lead.begin()
            self.inbox.wake.notify_all()

    def _take_report(self, message: messages.HeardMessage) -> None:
        with self.inbox.wake:
            grown = self._lead.report(message.frames, message.under, message.reserve)
            self.inbox.wake.notify_all()
        if grown:
            self._tell()
        self._hands.settle()

    def _solo(self, message: messages.SoloMessage) -> None:
        layers = frozenset(message.layers)
        layer, _, source = (message.source or "").partition("/")
        # one layer costs less than all: the engine may keep up with it
        self._load.start_over()
        self.inbox.command(lambda player: player.solo(layers, (layer, source) if source else None))

    def _glimpse(self, message: messages.GlimpseMessage) -> None:
        """Hold one moment of the loop; without a beat, end it."""
        self.inbox.command(lambda player: setattr(player, "held", message.beat))

    def _turn_now(self, turns: list[ControlChange]) -> None:
        """Apply the controls that were turned since the last quantum, and send their values."""
        for turn in turns:
            try:
                # steps count from the saved value
                shown = value_shown(self.inbox.apply(apply_change(self.played.patch, turn)), turn.path)
            except (ValueProblem, NoSuchPath) as problem:
                self._say(say="problem", path=turn.path, text=str(problem))
                continue
            except Exception:
                # the stream continues whatever a control change raises
                _log.exception("a turn failed: %s", turn)
                self._say(say="problem", path=turn.path, text="that change failed: the log has the details")
                continue
            self._say(say="value", path=turn.path, **vars(shown))

    # what others ask of it

    def _heard_beat(self) -> float | None:
        """The beat that is heard now. None while the phrase stands."""
        player = self.player
        return player.beat_before(self._lead.ahead()) if player is not None and player.engine.loop else None

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
            taped=self._taping.seconds,
        )

    def _words(self) -> str:
        """The mode of the stream as text: lead, load, gaps, and what can't be heard from the rendered loop."""
        gaps = {0: "no gaps", 1: "1 gap"}.get(self._lead.gaps, f"{self._lead.gaps} gaps")
        lead = round(self.lead_ms)
        if not self.fed_from_loop:
            return f"live {lead} ms, load {self._load.percent:.0f} %, {gaps}"
        alone = self.player is not None and self.player.alone
        unheard = "solo and played keys are not heard" if alone else "played keys are not heard"
        return f"from the loop {lead} ms, {gaps}: the engine can't keep up, so {unheard}"

    def _due(self) -> bool:
        return self._on and not self._lead.seconds_left

    def _ready(self) -> bool:
        return self._closed or self._due() or (self.inbox.has_turns and not self._on)

    def _sleep(self) -> float | None:
        """Seconds until there may be something to do by itself."""
        return self._lead.seconds_left + _TICK if self._on and self._lead.is_heard else None

    def _run(self) -> None:
        go_first(SOUND)
        load_rooms()
        _warm(self.inbox.patch)
        player = self.player = Player(
            self.inbox.patch, self.backing, self._monitor, lambda: self.played.loop, self._following.timed
        )
        count = 0
        touched = False
        while True:
            with self.inbox.wake:
                while not self.inbox.wake.wait_for(self._ready, self._sleep()):
                    pass
                if self._closed:
                    return
                turns, due = self.inbox.take_turns(), self._due()
            self._turn_now(turns)
            touched = touched or bool(turns)
            if due:
                self._quantum(player, touched)
                touched = False
                count += 1
                if count % _TELL_EVERY == 0:
                    self._taping.check()
                    self._tell()

    def _quantum(self, player: Player, touched: bool) -> None:
        """Send the next quantum. touched: whether anything was turned since the last one."""
        with self.inbox.wake:
            patch, commands = self.inbox.take()
            ahead = self._lead.ahead() if self._lead.is_heard else self._lead.frames
            self._lead.send(QUANTUM)
        began = self._clock()
        if not player.take(patch, commands):
            self._say(say="problem", path=None, text="this can't be played live: the log has the details")
        if self._following.step(player, ahead):
            # the rendered loop has another tempo
            self._load.start_over()
        self._load.begin_quantum()
        if self._load.tries_again(touched or bool(commands)):
            self._tell()
        beat = player.beat
        x, ended = player.quantum(self.fed_from_loop)
        if ended:
            self._say(say="stopped")
        self._load.add(self._clock() - began)
        self._send(self._packed(x, beat))
        if self._load.gives_up(self.played.loop is not None and self._following.tempo is None):
            self._tell()

    def _packed(self, x: NDArray[np.float64], beat: float) -> bytes:
        """A quantum as it is sent: beat, peak, whether it is fed from the loop, lead in frames; then both channels.

        A player that has run dry begins again when so many frames have come.
        """
        peak, fed = float(np.abs(x).max()), 1.0 if self.fed_from_loop else 0.0
        head = np.array([beat, peak, fed, self._lead.frames], dtype="<f4")
        return head.tobytes() + x.astype("<f4").tobytes()


def _warm(patch: Patch) -> None:
    """Run everything that a patch needs once: the first call of a compiled loop takes longer than a quantum lasts."""
    engine = Engine(patch)
    for _ in range(2):
        engine.quantum()
