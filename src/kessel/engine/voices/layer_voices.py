"""The voices of a layer: notes in, one stereo signal out, before its chain and fader."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.mixing import apply_level
from ...dsp.sources.oscillators import NOWHERE
from ...patch import KEY_TRACK_CENTER, Control, ControlPath, Layer, Mover, Oscillator, Patch, declarations, pitch_hz
from ..blocks import constant_batch
from ..clock import NoteEvent
from ..effects import VoiceContext
from ..modulation import (
    CONTROLLERS_AT_REST,
    LEVEL,
    TRAVEL_STEP,
    Array,
    EnvelopeProcessor,
    ModulationMatrix,
    ModulationValues,
    TransportContext,
    Travel,
    Voice,
    as_gain,
    as_is,
    parameter_of,
)
from .notes import VoiceAllocator
from .source_plan import SourcePlan
from .source_state import SourceState
from .sources import VoiceQuantum, signals_of, sound
from .span import VoiceSpan
from .voice_stages import VoiceStages

_SILENT = np.full(QUANTUM // TRAVEL_STEP, math.nan)


class LayerVoices:
    """Plays one layer, quantum by quantum."""

    def __init__(self, patch: Patch, layer_id: str) -> None:
        self.layer_id = layer_id
        self.plan: SourcePlan | None = None
        self.notes = VoiceAllocator(patch.layer(layer_id).play, self._begun)
        self.free: tuple[SourceState, float, int] | None = None
        self._sources: dict[Voice, SourceState] = {}
        self.travel: dict[str, Travel] = {}
        self.follow_travel = False
        self.running = True
        self.solo_source: str | None = None
        self._now = TransportContext()
        layer = patch.layer(layer_id)
        self.row = VoiceStages(layer)
        self.matrix = ModulationMatrix()
        self._pitch_parameter = parameter_of(layer.play, "pitch", as_is)
        self._envelope_parameters = {
            name: parameter_of(layer.envelope, name, as_is)
            for name, c in declarations(type(layer.envelope)).items()
            if isinstance(c, Control) and c.moves
        }
        self._level_run = EnvelopeProcessor(self._envelope_parameters)
        self._restless = True
        self._added = parameter_of(layer.play, "interval_level", as_gain)
        self.update(patch)

    def update(self, patch: Patch) -> None:
        """Apply a patch's controls. Sounding notes continue."""
        layer = patch.layer(self.layer_id)
        self.patch, self.layer = patch, layer
        self.notes.play = layer.play
        self._added.turn(layer.play.interval_level)
        self._pitch_parameter.turn(layer.play.pitch)
        for name, parameter in self._envelope_parameters.items():
            parameter.turn(float(getattr(layer.envelope, name)))
        prefix = f"layers.{self.layer_id}."
        moved = frozenset(
            m.target.removeprefix(prefix) for m in patch.movements if not m.lost and m.target.startswith(prefix)
        )
        old = self.plan if self.plan is not None and self.plan.ids == tuple(s.id for s in layer.sources) else None
        self.row.update(layer)
        self.plan = SourcePlan(layer, patch.seed, patch.waves, moved, old, self.row.loop.ids)
        self.stage_latency = self.row.latency
        self.voice_latency = self.plan.edges.late + self.stage_latency
        self.latency = self.voice_latency
        own = self.plan.parameters | self.row.parameters | {"play.pitch": self._pitch_parameter}
        own |= {"play.interval_level": self._added}
        own |= {f"envelope.{name}": parameter for name, parameter in self._envelope_parameters.items()}
        every = {f"layers.{self.layer_id}.{path}": parameter for path, parameter in own.items()}
        self.matrix.update(patch, every, voices_below(self.layer_id), self.layer_id)
        self.row.feeds = self.matrix.stage_feeds
        self._level_run.settle()
        self.notes.adds = layer.play.interval_level > self._added.control.low or bool(self._added.movements)
        self.plan.find_moved_rows()
        self._restless = True
        self._may_rest = not self.matrix.feeds and not self._any_free()
        self._lowest = min((n.pitch for n in patch.phrase.notes), default=29)

    def turn(self, patch: Patch, layer: Layer, fields: set[str]) -> None:
        """Apply the layer with other values in some of its fields, as ``update`` would."""
        before, self.patch, self.layer = self.layer, patch, layer
        assert self.plan is not None
        self.plan.layer = layer
        if "stages" in fields:
            self.row.turn(before, layer)
        if "envelope" in fields:
            for name, parameter in self._envelope_parameters.items():
                parameter.turn(float(getattr(layer.envelope, name)))
        if "sources" in fields:
            self.plan.turn()
        self._restless = True

    def turn_movers(self, movers: Sequence[Mover]) -> None:
        """Apply other values of movers."""
        if self.matrix.turn(movers):
            self._restless = True

    # notes

    def _begun(self, voice: Voice, event: NoteEvent, at: int) -> None:
        assert self.plan is not None
        start = self._now.start
        free = self._free_turns(start + at, start, voice)
        for v in voice.both():
            self._sources[v] = SourceState(self.plan, event.note, free, start + at, self._zero(start + at))

    def all_off(self) -> None:
        """Release all held notes at the start of the next quantum."""
        self.notes.all_off()

    def _any_free(self) -> bool:
        """Whether any source keeps its phase from note to note."""
        return any(isinstance(s, Oscillator) and s.start == "free-running" for s in self.layer.sources)

    def _free_turns(self, at: int, start: int, fresh: Voice) -> Array | None:
        """Phases of free-running sources at sample ``at``, in cycles."""
        plan = self.plan
        assert plan is not None
        if not self._any_free():
            return None
        current = self.notes.current
        if current is not None and current is not fresh and current.active and current in self._sources:
            phase = self._sources[current].phase
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

    def can_span(self) -> bool:
        """Whether several quanta can be rendered at once now, with the same bits as one by one."""
        calm = not self._restless and not self._level_run.moved and not self.row.loop
        return calm and self.voice_latency <= QUANTUM and self.matrix.can_span()

    def render(self, now: TransportContext, events: list[NoteEvent], out: NDArray[np.float32]) -> None:
        """Render the quanta of ``now`` into out, (2, n) float32, before chain and fader.

        There may be more than one only where ``can_span``, and note events only in the first.
        """
        plan = self.plan
        assert plan is not None
        self._now = now
        if self._restless:
            self._tick(plan)
        if self.layer.play.mode == "drone":
            self.notes.drone(now.start, self.running, self._lowest)
            events = [e for e in events if e.note.startswith("hand-")]
        for event in events:
            self.notes.note(event, now.start)
        total = np.zeros((2, now.size))
        tracked = 0
        for voice in self.notes.voices:
            for v in voice.both():
                if not v.active:
                    continue
                span = self._span(v, v is not voice, voice is self.notes.current and v is voice)
                if span is not None:
                    self._play(span, total)
                    tracked += span.quanta if span.current else 0
        if self.follow_travel:
            for path in self.matrix.moved:
                for _ in range(now.quanta - tracked):
                    self._track(path, None, 0)
        out[:] = total

    def _tick(self, plan: SourcePlan) -> None:
        """Prepare a quantum while any control is ramping, and once after."""
        parameters = [
            *plan.parameters.values(), self._added, self._pitch_parameter, *self._envelope_parameters.values(),
        ]  # fmt: skip
        for parameter in parameters:
            parameter.tick()
        plan.prepare()
        self.row.tick()
        self.matrix.tick()
        self._restless = any(k.turning for k in parameters) or any(k.turning for k in self.row.parameters.values())
        self._restless = self._restless or self.matrix.turning

    def _zero(self, start: int) -> int:
        """Sample at which the present pass of the phrase began."""
        return start - (start - self._now.origin) % self._now.length

    def _transposed(self, pitch: Array | float) -> Array | float:
        """Semitones with transposition and bend."""
        play, controllers = self.layer.play, self._now.controllers
        if controllers is CONTROLLERS_AT_REST and not play.transpose and not play.fine:
            return pitch
        if play.transpose or play.fine:
            pitch = pitch + play.transpose + play.fine / 100.0
        bend = controllers["bend"]
        if isinstance(bend, np.ndarray):
            return pitch + bend * play.bend_range if play.bend_range > 0 else pitch
        return pitch + bend * play.bend_range if bend != 0.0 else pitch

    def _span(self, voice: Voice, partner: bool, current: bool) -> VoiceSpan | None:
        """Move a voice on. Returns what it plays, or nothing if it is not heard."""
        now = self._now
        a = min(max(0, voice.began - now.start), QUANTUM)
        pitch = self._transposed(voice.pitches(a, now.quanta))
        voice.begin_span(now.start, a, now.size)
        for parameter in self.matrix.moved.values():
            parameter.latest = None
        movers = self.matrix.values(voice, now) if self.matrix.processors else {}
        level = self._level_run.value(self.layer.envelope, LEVEL, voice, movers, now)
        heard = voice.end_span(level, self._level_run.ended, self.voice_latency, self._may_rest)
        if not heard:
            return None
        glides = isinstance(pitch, np.ndarray) and pitch.size < now.size
        rest = float(self._transposed(voice.pitch + voice.shift)) if glides else 0.0
        if self._pitch_parameter.movements or not self._pitch_parameter.still:
            pitch, rest = self._moved_pitch(pitch, rest, movers), 0.0
        elif self._pitch_parameter.goal:
            pitch, rest = pitch + self._pitch_parameter.goal, rest + self._pitch_parameter.goal
        if heard < now.quanta:
            size = heard * QUANTUM
            movers, level = {name: values[:size] for name, values in movers.items()}, level[:size]
            pitch = pitch[:size] if isinstance(pitch, np.ndarray) else pitch
        if partner:
            level *= self._added.value(movers, heard)
        gain = 10.0 ** (-(1.0 - voice.velocity) * self.layer.play.velocity / 20.0)
        return VoiceSpan(voice, slice(0, level.size), now.start, a, pitch, rest, movers, level, gain, current)

    def _moved_pitch(self, pitch: Array | float, rest: float, movers: ModulationValues) -> Array:
        """The pitch over all quanta with the layer's pitch control, which changes."""
        if isinstance(pitch, np.ndarray) and pitch.size < self._now.size:
            pitch = np.concatenate((pitch, np.full(self._now.size - pitch.size, rest)))
        own = self._pitch_parameter
        moved = own.scale(movers, quanta=self._now.quanta) if own.movements else own.converted
        return np.asarray(pitch + moved)

    def _play(self, span: VoiceSpan, total: Array) -> None:
        """Add a voice to ``total``, (2, n)."""
        plan = self.plan
        assert plan is not None
        voice = span.voice
        for part in span.parts():
            x, past, last = self._sounded(plan, part)
            if plan.has_past:
                voice.delay_past(past, self.stage_latency)
                x += past
            whole = part.size == total.shape[1]
            to = total if whole else np.ascontiguousarray(total[:, part.place])
            apply_level(x, part.a, part.size, part.level, part.gain, to)
            if not whole:
                total[:, part.place] = to
            if voice is self.notes.current:
                self.free = (self._sources[voice], last, part.start + part.size)
            if part.current and self.follow_travel:
                self._track_moved(part)

    def _sounded(self, plan: SourcePlan, part: VoiceSpan) -> tuple[Array, Array, float]:
        """What a voice plays, behind its stages and past them, and its highest pitch in the last quantum, in Hz."""
        voice, pitch, a = part.voice, part.pitch, part.a
        sources = self._sources[voice]
        gliding = isinstance(pitch, np.ndarray)
        if isinstance(pitch, np.ndarray):
            freq = self.patch.tuning * np.exp2((pitch - 69.0) / 12.0)
            highest = float(freq[a:].max()) if a < freq.size else 0.0
            last = float(freq[max(a, freq.size - QUANTUM) :].max()) if a < freq.size else 0.0
        else:
            highest = last = pitch_hz(float(pitch), self.patch.tuning)
            freq = constant_batch(highest, part.quanta)
        sources.fit(plan)
        x = np.zeros((plan.channels, part.size))
        past = np.zeros((plan.channels, part.size)) if plan.has_past else plan.nothing
        since = max(0, part.start - voice.began)
        quantum = VoiceQuantum(a, freq, highest, gliding, part.movers, voice.down, since)
        if self.matrix.feeds:
            wanted = set(self.matrix.feeds.values())
            self.matrix.feed(part.movers, signals_of(sources, plan, wanted, quantum))
        octaves = (pitch - KEY_TRACK_CENTER) / 12.0
        told = VoiceContext(part.movers, octaves, gliding, self.patch.tuning, self._now, part.quanta)
        dest = plan.dest if self.solo_source is None else self._dest()
        loop = self.row.looped(part.size, voice.stage_states, voice.down[0], told)
        sound(sources, plan, x, past, quantum, dest, loop=loop)
        self.row.process(x, a, part.size, voice.stage_states, told, loop)
        return x, past, last

    def _track_moved(self, part: VoiceSpan) -> None:
        """Record the travel of every moved control."""
        octaves = (part.pitch - KEY_TRACK_CENTER) / 12.0
        for path, parameter in self.matrix.moved.items():
            values = parameter.latest
            if values is None or values.size != part.size:
                # its stage is off, or was processed quantum by quantum
                values = parameter.scale(part.movers, octaves * self._follow_of(path), part.quanta)
            self._track(path, values[::TRAVEL_STEP].copy(), part.a)

    def _follow_of(self, path: str) -> float:
        """The key follow of a moved control, as a factor."""
        steps = ControlPath(path).steps
        if steps[-1] != "cutoff" or steps[2] != "stages":
            return 0.0
        return float(self.row.processors[steps[3]][1].part.key_follow) / 100.0

    def _dest(self) -> NDArray[np.int64]:
        assert self.plan is not None
        if self.solo_source is None or self.solo_source not in self.plan.ids:
            return self.plan.dest
        alone = np.full(self.plan.count, NOWHERE, dtype=np.int64)
        s = self.plan.ids.index(self.solo_source)
        alone[s] = self.plan.dest[s] if self.plan.dest[s] != NOWHERE else 0
        return alone

    def _track(self, path: str, values: Array | None, a: int) -> None:
        travel = self.travel.get(path)
        if travel is None:
            travel = self.travel[path] = Travel(path)
        if values is None:
            travel.parts.append(_SILENT)
            return
        if a:
            values[: -(-a // TRAVEL_STEP)] = math.nan
        travel.parts.append(values)

    @property
    def silent(self) -> bool:
        """Whether no voice sounds."""
        return all(v.idle or v.spent for v in self.notes.voices)


def voices_below(layer_id: str) -> tuple[str, ...]:
    """Path prefixes of what is moved in a layer's voices."""
    own = f"layers.{layer_id}"
    return tuple(f"{own}.{part}." for part in ("sources", "stages", "branches", "envelope", "play", "unison"))
