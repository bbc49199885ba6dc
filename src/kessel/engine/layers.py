"""A running layer: notes in, one stereo signal out, before its fader."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..dsp import QUANTUM, RATE
from ..dsp.envelopes import IDLE, swing
from ..dsp.filters import BUTTERWORTH, TANGENTS, filter_svf
from ..dsp.halfband import STATE as HALFBAND
from ..dsp.halfband import halve
from ..dsp.mixing import apply_level
from ..dsp.oscillators import sources_modulated, sources_plain
from ..dsp.tables import tables
from ..patch import Envelope, Layer, Lfo, Patch, pitch_hz
from .knobs import Array, Knob
from .plan import SourcePlan
from .schedule import NoteEvent, samples_per_beat
from .stages import Chain, Meters, VoiceNow, full, latency_of, run_of
from .voices import EnvelopeShape, Voice

SLOTS = 4
TRAVEL_STEP = 256
_C2 = 36.0


@dataclass
class Travel:
    """Where a moved control really went, on its own scale, one value every TRAVEL_STEP samples (NaN in silence)."""

    path: str
    values: list[float] = field(default_factory=list)


class LayerRun:
    """Plays one layer, quantum by quantum."""

    def __init__(self, patch: Patch, layer_id: str) -> None:
        self.layer_id = layer_id
        self.plan: SourcePlan | None = None
        self.voices = [Voice() for _ in range(SLOTS)]
        self.held: list[NoteEvent] = []
        self.current: Voice | None = None
        self.last_pitch: float | None = None
        self.free: tuple[NDArray[np.float64], NDArray[np.float64], int] | None = None
        self.meters = Meters()
        self.travel: dict[str, Travel] = {}
        self.follow_travel = False
        self._stages: dict[str, tuple[str, Any]] = {}
        self._edges: dict[str, Knob] = {}
        self._edge_states = {name: np.zeros((2, 4)) for name in ("before", "after")}
        self._high_states = {name: np.zeros((2, 4)) for name in ("before", "after")}
        self.chain = Chain([], f"layers.{layer_id}.chain")
        self.update(patch)

    def update(self, patch: Patch) -> None:
        """Take over a patch's controls; what sounds goes on."""
        layer = patch.layer(self.layer_id)
        self.patch, self.layer = patch, layer
        self.plan = SourcePlan(layer, patch.seed, self.plan if self._same_sources(layer) else None)
        for stage in layer.stages:
            kept = self._stages.get(stage.id)
            if kept is not None and kept[0] == stage.kind:
                kept[1].update(stage)
            else:
                self._stages[stage.id] = (stage.kind, run_of(stage))
        self._stages = {s.id: self._stages[s.id] for s in layer.stages}
        self.shape = EnvelopeShape(layer.envelope)
        self.chain.update(layer.chain)
        self.voice_latency = sum(latency_of(s) for s in layer.stages)
        self.latency = self.voice_latency + self.chain.latency
        self._movers_of(patch)
        self._range_of(layer)

    def _same_sources(self, layer: Layer) -> bool:
        return self.plan is not None and self.plan.ids == tuple(s.id for s in layer.sources)

    def _movers_of(self, patch: Patch) -> None:
        prefix = f"layers.{self.layer_id}."
        own = [m for m in patch.movements if m.target.startswith(prefix)]
        used = {m.mover for m in own}
        self.envelopes = {m.id: EnvelopeShape(m) for m in patch.movers if isinstance(m, Envelope) and m.id in used}
        self.lfos = [m for m in patch.movers if isinstance(m, Lfo) and m.id in used]
        assert self.plan is not None
        knobs: dict[str, Knob] = dict(self.plan.knobs)
        for stage_id, (_, run) in self._stages.items():
            knobs |= {f"stages.{stage_id}.{name}": k for name, k in run.knobs.items()}
        for k in knobs.values():
            k.movements = []
        self.moved: dict[str, Knob] = {}
        for m in own:
            found = knobs.get(m.target.removeprefix(prefix))
            if found is None:
                continue
            mover = m.mover if m.mover in self.envelopes else "~" + m.mover
            found.movements.append((mover, m.amount, m.both_ways))
            self.moved[m.target] = found

    def _range_of(self, layer: Layer) -> None:
        from ..patch.controls import Control, declared

        for name in ("low", "high"):
            control = declared(type(layer.range), name)
            assert isinstance(control, Control)
            value = float(getattr(layer.range, name))
            if name in self._edges:
                self._edges[name].turn(value)
            else:
                self._edges[name] = Knob(control, value, lambda x: x)

    # notes

    def note(self, event: NoteEvent, start: int) -> None:
        """Take a note event that falls into the quantum starting at ``start``."""
        at = min(max(event.at - start, 0), QUANTUM - 1)
        if event.on:
            self._on(event, at, start)
        else:
            self._off(event, at, start)

    def _glide(self, overlap: bool) -> int:
        play = self.layer.play
        if play.glide <= 0 or (play.glide_when == "overlap" and not overlap):
            return 0
        return max(1, round(play.glide * RATE / 1000.0))

    def _on(self, event: NoteEvent, at: int, start: int) -> None:
        overlap = bool(self.held)
        self.held = [h for h in self.held if h.note != event.note] + [event]
        current = self.current
        sounding = current is not None and current.active and not current.released
        if sounding and overlap and self.layer.play.mode == "legato":
            assert current is not None
            current.bend_to(at, event, self._glide(True))
            self.last_pitch = float(event.pitch)
            return
        free = self._free_turns(start + at, start)
        for voice in self.voices:
            if voice.active:
                voice.choke(at)
        fresh = next((v for v in self.voices if not v.active), None)
        if fresh is None:
            fresh = max((v for v in self.voices if v is not current), key=lambda v: v.choking or 0)
        glide = self._glide(overlap) if self.last_pitch is not None else 0
        origin = self.last_pitch if self.last_pitch is not None else float(event.pitch)
        if current is not None and current.active and glide:
            origin = current.sounding_pitch()
        fresh.begin(at, event, origin, glide, list(self.envelopes))
        assert self.plan is not None
        fresh.phase = self.plan.start_phases(event.note, free)
        fresh.noise_key = self.plan.noise_keys(event.note)
        fresh.noise_count = np.zeros(self.plan.count, dtype=np.uint64)
        fresh.stage_states = {}
        self.current = fresh
        self.last_pitch = float(event.pitch)

    def _off(self, event: NoteEvent, at: int, start: int) -> None:
        top = bool(self.held) and self.held[-1].note == event.note
        self.held = [h for h in self.held if h.note != event.note]
        current = self.current
        if not top or current is None or not current.active:
            return
        if self.held:
            # the note held underneath comes back
            current.bend_to(at, self.held[-1], self._glide(True))
            self.last_pitch = float(self.held[-1].pitch)
        else:
            current.release(at)

    def all_off(self) -> None:
        """End every held note at the start of the next quantum."""
        self.held = []
        if self.current is not None and self.current.active:
            self.current.release(0)

    def _free_turns(self, at: int, start: int) -> Array | None:
        """Where free-running sources stand at sample ``at``, in cycles."""
        plan = self.plan
        assert plan is not None
        current = self.current
        if current is not None and current.active and current.phase.shape == (plan.count, plan.copies):
            since = max(start, current.began)
            hz = pitch_hz(current.sounding_pitch(), self.patch.tuning) * plan.ratio + plan.offset[:, None]
            return self._turned(current.phase, hz, at - since)
        if self.free is not None and self.free[0].shape == (plan.count, plan.copies):
            turns, hz, left = self.free
            return np.mod(turns + hz * ((at - left) / RATE), 1.0)
        return None

    @staticmethod
    def _turned(phase: NDArray[np.uint64], hz: Array, samples: int) -> Array:
        return np.mod(phase.astype(np.float64) / 2.0**64 + hz * (samples / RATE), 1.0)

    # sound

    def quantum(self, start: int, events: list[NoteEvent], out: NDArray[np.float32]) -> None:
        """Render the quantum at sample ``start`` into out, (2, QUANTUM) float32, before the fader."""
        plan = self.plan
        assert plan is not None
        for knob in plan.knobs.values():
            knob.tick()
        for _, run in self._stages.values():
            run.tick()
        for event in events:
            self.note(event, start)
        total = np.zeros((2, QUANTUM))
        tracked = False
        for voice in self.voices:
            if voice.active:
                tracked |= self._voice(voice, start, total, voice is self.current)
        if self.follow_travel and not tracked:
            for path in self.moved:
                self._track(path, None, 0)
        self._edge("before", total)
        self.chain.process(total)
        self._edge("after", total)
        out[:] = total

    def _edge(self, place: str, x: Array) -> None:
        where = self.layer.range.where
        low, high = self._edges["low"], self._edges["high"]
        if place == "before":
            low.tick()
            high.tick()
        active = where in (place, "both")
        ones = full(1.0)
        k = full(BUTTERWORTH)
        for knob, kind, states in ((low, 1, self._edge_states), (high, 0, self._high_states)):
            limit = knob.control.low if kind == 1 else knob.control.high
            if not active or (knob.still and knob.goal == knob.control.to_scale(limit)):
                states[place][:] = 0.0
                continue
            filter_svf(x, 0, QUANTUM, kind, True, knob.made, k, k, ones, knob.still, states[place], TANGENTS)

    def _swings(self, voice: Voice, start: int) -> dict[str, Array]:
        found: dict[str, Array] = {}
        for lfo in self.lfos:
            period = lfo.length * samples_per_beat(self.patch.tempo) if lfo.clock == "beats" else RATE / lfo.rate
            zero = {"note": voice.began, "phrase": self.phrase_zero(start), "free": 0}[lfo.restart]
            time = np.arange(QUANTUM) + float(start - zero)
            turns = time / period + lfo.phase / 360.0
            seed = (self.patch.seed, lfo.id, voice.note if lfo.restart == "note" else "")
            value = swing(lfo.shape, turns, seed)
            if lfo.fade > 0:
                since = np.arange(QUANTUM) + float(start - voice.began)
                value = value * np.clip(since / (lfo.fade * RATE / 1000.0), 0.0, 1.0)
            found["~" + lfo.id] = value
        return found

    phrase_origin = 0
    phrase_length = 1

    def phrase_zero(self, start: int) -> int:
        """Sample at which the present pass of the phrase began."""
        return start - (start - self.phrase_origin) % self.phrase_length

    def _voice(self, voice: Voice, start: int, total: Array, track: bool) -> bool:
        plan = self.plan
        assert plan is not None
        a = max(0, voice.began - start) if voice.began >= start else 0
        a = min(a, QUANTUM)
        pitch, gliding = voice.pitches(a)
        level, movers = voice.envelopes(a, self.shape, self.envelopes)
        movers |= self._swings(voice, start)
        octaves = (pitch - _C2) / 12.0
        now = VoiceNow(movers, octaves, gliding)
        if gliding:
            freq = self.patch.tuning * np.exp2((np.asarray(pitch) - 69.0) / 12.0)
            highest = float(freq[a:].max()) if a < QUANTUM else 0.0
        else:
            highest = pitch_hz(float(pitch), self.patch.tuning)
            freq = full(highest)
        channels = plan.channels
        self._fit(voice, plan)
        x = np.zeros((channels, QUANTUM))
        past = np.zeros((channels, QUANTUM))
        self._sources(voice, plan, x, past, a, freq, highest, movers)
        for stage_id, (_, run) in self._stages.items():
            state = voice.stage_states.get(stage_id)
            if state is None:
                state = voice.stage_states[stage_id] = run.state()
            run.process(x, a, QUANTUM, state, now)
            self.meters.add(f"layers.{self.layer_id}.stages.{stage_id}", x, a, QUANTUM)
        level, past = voice.held_back(level, past, self.voice_latency)
        x += past
        floor = self.layer.play.velocity
        level *= 10.0 ** (-(1.0 - voice.velocity) * floor / 20.0)
        apply_level(x, a, QUANTUM, level, total)
        if voice is self.current:
            hz = highest * plan.ratio + plan.offset[:, None]
            self.free = (voice.phase.astype(np.float64) / 2.0**64, hz, start + QUANTUM)
        if track and self.follow_travel:
            for path, knob in self.moved.items():
                shift: Array | float = 0.0
                if path.endswith(".cutoff"):
                    shift = octaves * self._follow_of(path)
                self._track(path, knob.scale(movers, shift), a)
            return True
        return False

    def _follow_of(self, path: str) -> float:
        run = self._stages[path.split(".")[3]][1]
        return float(run.follow)

    def _track(self, path: str, values: Array | None, a: int) -> None:
        travel = self.travel.setdefault(path, Travel(path))
        for i in range(0, QUANTUM, TRAVEL_STEP):
            travel.values.append(float("nan") if values is None or i < a else float(values[i]))

    @staticmethod
    def _fit(voice: Voice, plan: SourcePlan) -> None:
        """Give a sounding voice phases for sources or copies that came while it sounds."""
        if voice.phase.shape != (plan.count, plan.copies):
            fresh = plan.start_phases(voice.note, None)
            rows, cols = min(fresh.shape[0], voice.phase.shape[0]), min(fresh.shape[1], voice.phase.shape[1])
            fresh[:rows, :cols] = voice.phase[:rows, :cols]
            voice.phase = fresh
        if voice.noise_count.size != plan.count:
            voice.noise_key = plan.noise_keys(voice.note)
            voice.noise_count = np.zeros(plan.count, dtype=np.uint64)

    def _sources(
        self,
        voice: Voice,
        plan: SourcePlan,
        x: Array,
        past: Array,
        a: int,
        freq: Array,
        highest: float,
        movers: dict[str, Array],
    ) -> None:
        n = plan.count
        if n == 0:
            return
        level, pitch, width = np.empty((n, QUANTUM)), np.empty((n, QUANTUM)), np.empty((n, QUANTUM))
        rise = np.ones((n, 1))
        for s, source in enumerate(self.layer.sources):
            prefix = f"sources.{source.id}."
            level[s] = self._value(plan.knobs[prefix + "level"], movers)
            if source.kind == "noise":
                pitch[s] = 1.0
                width[s] = plan.knobs[prefix + "width"].made
                continue
            pitch[s] = self._value(plan.knobs[prefix + "semitones"], movers)
            pitch[s] *= self._value(plan.knobs[prefix + "cents"], movers)
            width[s] = self._value(plan.knobs[prefix + "pulse_width"], movers)
            rise[s] = pitch[s, a:].max() if a < QUANTUM else 1.0
        row = plan.rows(highest * rise)
        if not plan.edges:
            sources_plain(
                x, past, a, QUANTUM, tables(), freq, plan.kind, row, plan.ratio, plan.offset, plan.heard_copies,
                plan.gain, plan.dest, level, pitch, width, voice.phase, voice.noise_key, voice.noise_count,
            )  # fmt: skip
            return
        depth = np.stack([self._value(plan.knobs[e[2]], movers) for e in plan.edges])
        channels = x.shape[0]
        x2, past2 = np.zeros((channels, 2 * QUANTUM)), np.zeros((channels, 2 * QUANTUM))
        sources_modulated(
            x2, past2, a, QUANTUM, tables(), freq, plan.kind, row, plan.ratio, plan.offset, plan.copies,
            plan.gain, plan.dest, level, pitch, width, voice.phase, voice.noise_key, voice.noise_count,
            plan.order, plan.source, plan.target, depth, np.zeros(n),
        )  # fmt: skip
        halve(x2, x, a, QUANTUM, voice.down[:channels, :HALFBAND])
        if (plan.dest == 1).any():
            halve(past2, past, a, QUANTUM, voice.down[2 : 2 + channels, :HALFBAND])

    @staticmethod
    def _value(knob: Knob, movers: dict[str, Array]) -> Array:
        if not knob.movements:
            return knob.made
        return knob.convert(knob.scale(movers))

    @property
    def silent(self) -> bool:
        """Whether no voice sounds."""
        return all(not v.active or v.level[0] == IDLE for v in self.voices)
