"""The voices of a layer: notes in, one stereo signal out, before its chain and fader."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ...dsp import QUANTUM, RATE
from ...dsp.mixing import apply_level
from ...dsp.sources.oscillators import NOWHERE
from ...patch import KEY_TRACK_CENTER, Control, ControlPath, Oscillator, Patch, declarations, pitch_hz
from ..clock import NoteEvent
from ..effects import VoiceContext, constant_block
from ..modulation import (
    CONTROLLERS_AT_REST,
    LEVEL,
    TRAVEL_STEP,
    Array,
    Blocks,
    ControllerState,
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
from .sources import SourceState, VoiceQuantum, signals_of, sound
from .voice_stages import VoiceStages

_SILENT = np.full(QUANTUM // TRAVEL_STEP, math.nan)


class LayerVoices:
    """Plays one layer, quantum by quantum."""

    phrase_origin = 0
    phrase_length = 1

    def __init__(self, patch: Patch, layer_id: str) -> None:
        self.layer_id = layer_id
        self.plan: SourcePlan | None = None
        self.notes = VoiceAllocator(patch.layer(layer_id).play, self._begun)
        self.free: tuple[SourceState, float, int] | None = None
        self._sources: dict[Voice, SourceState] = {}
        self.travel: dict[str, Travel] = {}
        self.follow_travel = False
        self.running = True
        self.controllers: ControllerState = CONTROLLERS_AT_REST
        self.solo_source: str | None = None
        self.heard: Blocks = {}
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
        self._transport = TransportContext()
        self._told = VoiceContext(now=self._transport)
        self._restless = True
        self._added = parameter_of(layer.play, "interval_level", as_gain)
        self._start = 0
        self.update(patch)

    def update(self, patch: Patch) -> None:
        """Apply a patch's controls. Sounding notes continue."""
        layer = patch.layer(self.layer_id)
        self.patch, self.layer = patch, layer
        self._transport.tempo, self._transport.seed = patch.tempo, patch.seed
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
        self.plan = SourcePlan(layer, patch.seed, patch.waves, moved, old)
        self.row.update(layer)
        self.stage_latency = self.row.latency
        self.voice_latency = self.plan.edges.late + self.stage_latency
        self.latency = self.voice_latency
        own = self.plan.parameters | self.row.parameters | {"play.pitch": self._pitch_parameter}
        own |= {f"envelope.{name}": parameter for name, parameter in self._envelope_parameters.items()}
        every = {f"layers.{self.layer_id}.{path}": parameter for path, parameter in own.items()}
        self.matrix.update(patch, every, voices_below(self.layer_id), self.layer_id)
        self._level_run.settle()
        self.plan.find_moved_rows()
        self._restless = True
        self._may_rest = not self.matrix.feeds and not self._any_free()
        self._lowest = min((n.pitch for n in patch.phrase.notes), default=29)

    # notes

    def _begun(self, voice: Voice, event: NoteEvent, at: int) -> None:
        assert self.plan is not None
        free = self._free_turns(self._start + at, self._start, voice)
        for v in voice.both():
            self._sources[v] = SourceState(self.plan, event.note, free, self._start + at, self._zero(self._start + at))

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

    def quantum(self, start: int, events: list[NoteEvent], out: NDArray[np.float32]) -> None:
        """Render the quantum at sample ``start`` into out, (2, QUANTUM) float32, before chain and fader."""
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
        if self.matrix.processors:
            now = self._transport
            now.start, now.origin, now.length = start, self.phrase_origin, self.phrase_length
            now.controllers, now.heard = self.controllers, self.heard
        for voice in self.notes.voices:
            for v in voice.both():
                if v.active:
                    added = self._added.converted if v is not voice else None
                    tracked |= self._voice(v, start, total, voice is self.notes.current and v is voice, added)
        if self.follow_travel and not tracked:
            for path in self.matrix.moved:
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
        return start - (start - self.phrase_origin) % self.phrase_length

    def _pitch(self, voice: Voice, a: int) -> tuple[Array | float, bool]:
        """Semitones of a voice over the quantum with transposition and bend, and whether they change."""
        pitch, gliding = voice.pitches(a)
        play = self.layer.play
        if self.controllers is CONTROLLERS_AT_REST and not play.transpose and not play.fine:
            return pitch, gliding
        if play.transpose or play.fine:
            pitch = pitch + play.transpose + play.fine / 100.0
        bend = self.controllers["bend"]
        if isinstance(bend, np.ndarray):
            if play.bend_range > 0:
                return pitch + bend * play.bend_range, True
        elif bend != 0.0:
            pitch = pitch + bend * play.bend_range
        return pitch, gliding

    def _voice(self, voice: Voice, start: int, total: Array, track: bool, added: Array | None) -> bool:
        """Add a voice to ``total``. Returns whether its travel was tracked, or ``track`` if it is heard."""
        plan = self.plan
        assert plan is not None
        a = min(max(0, voice.began - start), QUANTUM)
        glide = self._pitch(voice, a)
        voice.begin_quantum(start, a)
        for parameter in self.matrix.moved.values():
            parameter.latest = None
        movers = self.matrix.values(voice, self._transport) if self.matrix.processors else {}
        pitch, gliding = self._moved_pitch(*glide, movers)
        level = self._level_run.value(self.layer.envelope, LEVEL, voice, movers, self.patch.tempo, start)
        voice.end_quantum(level)
        if self._may_rest and not level[-1] and voice.silent(level):
            # it will not be heard again
            return False
        now = self._told
        now.movers, now.octaves, now.gliding, now.tuning = (
            movers, (pitch - KEY_TRACK_CENTER) / 12.0, gliding, self.patch.tuning,
        )  # fmt: skip
        x, past, highest = self._sounded(plan, voice, a, pitch, start)
        self.row.process(x, a, voice.stage_states, now)
        if self.voice_latency:
            voice.delay_level(level, past if plan.has_past else None, self.voice_latency, self.stage_latency)
        if plan.has_past:
            x += past
        if added is not None:
            level *= added
        share = 10.0 ** (-(1.0 - voice.velocity) * self.layer.play.velocity / 20.0)
        apply_level(x, a, QUANTUM, level, share, total)
        if voice is self.notes.current:
            self.free = (self._sources[voice], highest, start + QUANTUM)
        if track and self.follow_travel:
            self._track_moved(now, a)
            return True
        return track

    def _moved_pitch(self, pitch: Array | float, gliding: bool, movers: ModulationValues) -> tuple[Array | float, bool]:
        """The pitch with the layer's pitch control, and whether it changes."""
        own = self._pitch_parameter
        if own.movements:
            return pitch + own.scale(movers), True
        if not own.still:
            return pitch + own.converted, True
        return pitch + own.goal if own.goal else pitch, gliding

    def _sounded(
        self, plan: SourcePlan, voice: Voice, a: int, pitch: Array | float, start: int
    ) -> tuple[Array, Array, float]:
        """What the sources of a voice play: into the stages, past them, and the highest pitch in Hz."""
        sources, now = self._sources[voice], self._told
        if isinstance(pitch, np.ndarray):
            freq = self.patch.tuning * np.exp2((pitch - 69.0) / 12.0)
            highest = float(freq[a:].max()) if a < QUANTUM else 0.0
        else:
            highest = pitch_hz(float(pitch), self.patch.tuning)
            freq = constant_block(highest)
        sources.fit(plan)
        x = np.zeros((plan.channels, QUANTUM))
        past = np.zeros((plan.channels, QUANTUM)) if plan.has_past else plan.nothing
        changes = isinstance(pitch, np.ndarray)
        quantum = VoiceQuantum(a, freq, highest, changes, now.movers, voice.down, max(0, start - voice.began))
        if self.matrix.feeds:
            wanted = set(self.matrix.feeds.values())
            self.matrix.feed(now.movers, signals_of(sources, plan, wanted, replace(quantum, gliding=now.gliding)))
        sound(sources, plan, x, past, quantum, plan.dest if self.solo_source is None else self._dest())
        return x, past, highest

    def _track_moved(self, now: VoiceContext, a: int) -> None:
        """Record the travel of every moved control."""
        for path, parameter in self.matrix.moved.items():
            if parameter.latest is None:
                # never requested, because its stage is off
                parameter.scale(now.movers, now.octaves * self._follow_of(path))
            assert parameter.latest is not None
            self._track(path, parameter.latest[::TRAVEL_STEP].copy(), a)

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
