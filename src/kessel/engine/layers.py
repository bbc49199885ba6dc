"""A running layer: notes in, one stereo signal out, before its fader."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM, RATE
from ..dsp.envelopes import IDLE, swing
from ..dsp.filters import BUTTERWORTH, TANGENTS, filter_svf
from ..dsp.mixing import apply_level, meter
from ..dsp.oscillators import NOWHERE
from ..patch import Envelope, Hand, Layer, Lfo, Macro, Patch, pitch_hz
from .hands import RESTING, Hands, values
from .knobs import Array, Knob, as_gain, as_is, as_share
from .notes import Notes
from .plan import SourcePlan, knob_of
from .schedule import NoteEvent, samples_per_beat
from .sourcing import SourceState, sound
from .stages import Chain, Meters, VoiceNow, full, latency_of, run_of
from .voices import EnvelopeShape, Voice

TRAVEL_STEP = 256
_C2 = 36.0
_SAMPLES = np.arange(QUANTUM, dtype=np.float64)


@dataclass
class Travel:
    """Where a moved control really went, on its own scale, one value every TRAVEL_STEP samples (NaN in silence)."""

    path: str
    values: list[float] = field(default_factory=list)


class LayerRun:
    """Plays one layer, quantum by quantum."""

    phrase_origin = 0
    phrase_length = 1

    def __init__(self, patch: Patch, layer_id: str) -> None:
        self.layer_id = layer_id
        self.plan: SourcePlan | None = None
        self.notes = Notes(patch.layer(layer_id).play, self._begun)
        self.free: tuple[SourceState, float, int] | None = None
        self.meters = Meters()
        self.travel: dict[str, Travel] = {}
        self.follow_travel = False
        self.running = True
        self.hands: Hands = RESTING
        self.solo_source: str | None = None
        self._stages: dict[str, tuple[str, Any, Array]] = {}
        self._restless = True
        self._edging: dict[str, list[tuple[Knob, int, Array]]] = {"before": [], "after": []}
        self._edges: dict[str, Knob] = {}
        self._macros: dict[str, Knob] = {}
        self._added = knob_of(patch.layer(layer_id).play, "interval_level", as_gain)
        self._edge_states = {name: np.zeros((2, 4)) for name in ("before", "after")}
        self._high_states = {name: np.zeros((2, 4)) for name in ("before", "after")}
        self._start = 0
        self.chain = Chain([], f"layers.{layer_id}.chain")
        self.update(patch)

    def update(self, patch: Patch) -> None:
        """Take over a patch's controls; what sounds goes on."""
        layer = patch.layer(self.layer_id)
        self.patch, self.layer = patch, layer
        self.notes.play = layer.play
        self._added.turn(layer.play.interval_level)
        prefix = f"layers.{self.layer_id}."
        moved = frozenset(m.target.removeprefix(prefix) for m in patch.movements if m.target.startswith(prefix))
        old = self.plan if self.plan is not None and self.plan.ids == tuple(s.id for s in layer.sources) else None
        self.plan = SourcePlan(layer, patch.seed, patch.waves, moved, old)
        for stage in layer.stages:
            kept = self._stages.get(stage.id)
            if kept is not None and kept[0] == stage.kind:
                kept[1].update(stage)
            else:
                acc = self.meters.of(f"layers.{self.layer_id}.stages.{stage.id}")
                self._stages[stage.id] = (stage.kind, run_of(stage), acc)
        self._stages = {s.id: self._stages[s.id] for s in layer.stages}
        self.shape = EnvelopeShape(layer.envelope)
        self.chain.update(layer.chain)
        self.stage_latency = sum(latency_of(s) for s in layer.stages)
        self.voice_latency = self.plan.edges.late + self.stage_latency
        self.latency = self.voice_latency + self.chain.latency
        self._movers_of(patch)
        self._range_of(layer)
        self._restless = True
        self._lowest = min((n.pitch for n in patch.phrase.notes), default=29)

    def _movers_of(self, patch: Patch) -> None:
        prefix = f"layers.{self.layer_id}."
        own = [m for m in patch.movements if m.target.startswith(prefix)]
        used = {m.mover for m in own}
        self.envelopes = {m.id: EnvelopeShape(m) for m in patch.movers if isinstance(m, Envelope) and m.id in used}
        self.notes.movers = list(self.envelopes)
        self.lfos = [m for m in patch.movers if isinstance(m, Lfo) and m.id in used]
        self.played = [m for m in patch.movers if isinstance(m, Hand) and m.id in used]
        for macro in patch.movers:
            if isinstance(macro, Macro) and macro.id in used:
                if macro.id in self._macros:
                    self._macros[macro.id].turn(macro.value)
                else:
                    self._macros[macro.id] = knob_of(macro, "value", as_share)
        assert self.plan is not None
        knobs: dict[str, Knob] = dict(self.plan.knobs)
        for stage_id, (_, run, _) in self._stages.items():
            knobs |= {f"stages.{stage_id}.{name}": k for name, k in run.knobs.items()}
        for k in knobs.values():
            k.movements = []
        two_way = {m.id for m in self.lfos} | {m.id for m in self.played if m.what == "bend"}
        self.moved: dict[str, Knob] = {}
        for m in own:
            found = knobs.get(m.target.removeprefix(prefix))
            if found is None:
                continue
            mover = "~" + m.mover if m.mover in two_way else m.mover
            found.movements.append((mover, m.amount, m.both_ways))
            self.moved[m.target] = found
        self.plan.find_moved_rows()

    def _range_of(self, layer: Layer) -> None:
        for name in ("low", "high"):
            if name in self._edges:
                self._edges[name].turn(float(getattr(layer.range, name)))
            else:
                self._edges[name] = knob_of(layer.range, name, as_is)

    # notes

    def _begun(self, voice: Voice, event: NoteEvent, at: int) -> None:
        assert self.plan is not None
        free = self._free_turns(self._start + at, self._start, voice)
        for v in voice.both():
            v.sources = SourceState(self.plan, event.note, free, self._start + at, self._zero(self._start + at))

    def all_off(self) -> None:
        """End every held note at the start of the next quantum."""
        self.notes.all_off()

    def _free_turns(self, at: int, start: int, fresh: Voice) -> Array | None:
        """Where free-running sources stand at sample ``at``, in cycles."""
        plan = self.plan
        assert plan is not None
        current = self.notes.current
        if current is not None and current is not fresh and current.active and current.sources is not None:
            phase = current.sources.phase
            if phase.shape == (plan.count, plan.copies):
                since = max(start, current.began)
                hz = self._hz(current.sounding_pitch()) * plan.ratio + plan.offset[:, None]
                return np.asarray(np.mod(phase.astype(np.float64) / 2.0**64 + hz * ((at - since) / RATE), 1.0))
        if self.free is not None and self.free[0].phase.shape == (plan.count, plan.copies):
            state, highest, left = self.free
            hz = highest * plan.ratio + plan.offset[:, None]
            return np.asarray(np.mod(state.phase.astype(np.float64) / 2.0**64 + hz * ((at - left) / RATE), 1.0))
        return None

    def _hz(self, pitch: float) -> float:
        play = self.layer.play
        return pitch_hz(pitch + play.transpose + play.fine / 100.0, self.patch.tuning)

    # sound

    def quantum(self, start: int, events: list[NoteEvent], out: NDArray[np.float32]) -> None:
        """Render the quantum at sample ``start`` into out, (2, QUANTUM) float32, before the fader."""
        plan = self.plan
        assert plan is not None
        self._start = start
        if self._restless:
            self._tick(plan)
        if self.layer.play.mode == "drone":
            self.notes.drone(start, self.running, self._lowest)
            events = [e for e in events if e.note.startswith("hand-")]
        for event in events:
            self.notes.note(event, start)
        total = np.zeros((2, QUANTUM))
        tracked = False
        for voice in self.notes.voices:
            for v in voice.both():
                if v.active:
                    added = self._added.made if v is not voice else None
                    tracked |= self._voice(v, start, total, voice is self.notes.current and v is voice, added)
        if self.follow_travel and not tracked:
            for path in self.moved:
                self._track(path, None, 0)
        self._edge("before", total)
        self.chain.process(total)
        self._edge("after", total)
        out[:] = total

    def _tick(self, plan: SourcePlan) -> None:
        """Prepare a quantum while any control is on its way to another value, and once after."""
        runs = [run for _, run, _ in self._stages.values()]
        knobs = [*plan.knobs.values(), *self._macros.values(), *self._edges.values(), self._added]
        for knob in knobs:
            knob.tick()
        plan.prepare()
        for run in runs:
            run.tick()
        self._restless = any(k.turning for k in knobs) or any(k.turning for r in runs for k in r.knobs.values())
        for place in ("before", "after"):
            active = self.layer.range.where in (place, "both")
            self._edging[place] = []
            for name, kind, states in (("low", 1, self._edge_states), ("high", 0, self._high_states)):
                knob = self._edges[name]
                limit = knob.control.low if kind == 1 else knob.control.high
                if active and not (knob.still and knob.goal == knob.control.to_scale(limit)):
                    self._edging[place].append((knob, kind, states[place]))
                else:
                    states[place][:] = 0.0

    def _edge(self, place: str, x: Array) -> None:
        for knob, kind, state in self._edging[place]:
            k = full(BUTTERWORTH)
            filter_svf(x, 0, QUANTUM, kind, True, knob.made, k, k, full(1.0), knob.still, state, TANGENTS)

    def _swings(self, voice: Voice, start: int) -> dict[str, Array]:
        found: dict[str, Array] = {}
        for lfo in self.lfos:
            period = lfo.length * samples_per_beat(self.patch.tempo) if lfo.clock == "beats" else RATE / lfo.rate
            zero = {"note": voice.began, "phrase": self._zero(start), "free": 0}[lfo.restart]
            time = _SAMPLES + float(start - zero)
            turns = time / period + lfo.phase / 360.0
            seed = (self.patch.seed, lfo.id, voice.note if lfo.restart == "note" else "")
            value = swing(lfo.shape, turns, seed)
            if lfo.fade > 0:
                since = _SAMPLES + float(start - voice.began)
                value = value * np.clip(since / (lfo.fade * RATE / 1000.0), 0.0, 1.0)
            found["~" + lfo.id] = value
        for hand in self.played:
            if hand.what == "velocity":
                found[hand.id] = full(voice.velocity)
            elif hand.what == "key":
                found[hand.id] = full(min(max((voice.pitch - 12.0) / 72.0, 0.0), 1.0))
            else:
                found["~" + hand.id if hand.what == "bend" else hand.id] = values(self.hands[hand.what])
        for name, knob in self._macros.items():
            found[name] = knob.made
        return found

    def _zero(self, start: int) -> int:
        """Sample at which the present pass of the phrase began."""
        return start - (start - self.phrase_origin) % self.phrase_length

    def _pitch(self, voice: Voice, a: int) -> tuple[Array | float, bool]:
        """Semitones of a voice over the quantum with transposition and bend, and whether they change."""
        pitch, gliding = voice.pitches(a)
        play = self.layer.play
        if play.transpose or play.fine:
            pitch = pitch + play.transpose + play.fine / 100.0
        bend = self.hands["bend"]
        if isinstance(bend, np.ndarray):
            if play.bend_range > 0:
                return pitch + bend * play.bend_range, True
        elif bend != 0.0:
            pitch = pitch + bend * play.bend_range
        return pitch, gliding

    def _voice(self, voice: Voice, start: int, total: Array, track: bool, added: Array | None) -> bool:
        plan = self.plan
        assert plan is not None and voice.sources is not None
        a = min(max(0, voice.began - start), QUANTUM)
        pitch, gliding = self._pitch(voice, a)
        level, movers = voice.envelopes(a, self.shape, self.envelopes)
        if self.lfos or self.played or self._macros:
            movers |= self._swings(voice, start)
        octaves = (pitch - _C2) / 12.0
        now = VoiceNow(movers, octaves, gliding)
        if isinstance(pitch, np.ndarray):
            freq = self.patch.tuning * np.exp2((pitch - 69.0) / 12.0)
            highest = float(freq[a:].max()) if a < QUANTUM else 0.0
        else:
            highest = pitch_hz(float(pitch), self.patch.tuning)
            freq = full(highest)
        voice.sources.fit(plan)
        for knob in self.moved.values():
            knob.latest = None
        x = np.zeros((plan.channels, QUANTUM))
        past = np.zeros((plan.channels, QUANTUM)) if plan.has_past else plan.nothing
        since = start - voice.began
        sound(
            voice.sources, plan, x, past, a, freq, highest, isinstance(pitch, np.ndarray), movers, voice.down,
            self._dest(), max(0, since),
        )  # fmt: skip
        for stage_id, (_, run, acc) in self._stages.items():
            state = voice.stage_states.get(stage_id)
            if state is None:
                state = voice.stage_states[stage_id] = run.state()
            run.process(x, a, QUANTUM, state, now)
            meter(x, a, QUANTUM, acc)
        level, past = voice.held_back(level, past, self.voice_latency, self.stage_latency)
        if plan.has_past:
            x += past
        if added is not None:
            level *= added
        apply_level(x, a, QUANTUM, level, 10.0 ** (-(1.0 - voice.velocity) * self.layer.play.velocity / 20.0), total)
        if voice is self.notes.current:
            self.free = (voice.sources, highest, start + QUANTUM)
        if track and self.follow_travel:
            for path, knob in self.moved.items():
                if knob.latest is None:
                    # nothing has asked for it, as its stage is off
                    follow = float(self._stages[path.split(".")[3]][1].follow) if path.endswith(".cutoff") else 0.0
                    knob.scale(movers, octaves * follow)
                assert knob.latest is not None
                self._track(path, knob.latest[::TRAVEL_STEP], a)
            return True
        return False

    def _dest(self) -> NDArray[np.int64]:
        assert self.plan is not None
        if self.solo_source is None or self.solo_source not in self.plan.ids:
            return self.plan.dest
        alone = np.full(self.plan.count, NOWHERE, dtype=np.int64)
        s = self.plan.ids.index(self.solo_source)
        alone[s] = self.plan.dest[s] if self.plan.dest[s] != NOWHERE else 0
        return alone

    def _track(self, path: str, values: Array | None, a: int) -> None:
        travel = self.travel.setdefault(path, Travel(path))
        if values is None:
            travel.values.extend([math.nan] * (QUANTUM // TRAVEL_STEP))
            return
        before = -(-a // TRAVEL_STEP)
        travel.values.extend([math.nan] * before + values[before:].tolist())

    @property
    def silent(self) -> bool:
        """Whether no voice sounds."""
        return all(v.idle or v.level[0] == IDLE for v in self.notes.voices)
