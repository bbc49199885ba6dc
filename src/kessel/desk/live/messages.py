"""Messages of the player: one model each, discriminated by ``do``. Numbers are finite."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from ...patch import ValueProblem

Path = Annotated[str, Field(max_length=200)]
Word = Annotated[str, Field(max_length=80)]
Byte = Annotated[int, Field(ge=0, le=255)]
Share = Annotated[float, Field(ge=-1, le=2)]
Frames = Annotated[int, Field(ge=0, le=2**53)]


SLOW = frozenset({"compare", "try", "record", "room", "reference", "wave", "curve", "tape"})
"""Messages that may wait for a rendering or take long."""


class Message(BaseModel):
    """Base of all messages. Unknown fields are ignored, so that an older page works."""

    model_config = ConfigDict(extra="ignore", frozen=True, allow_inf_nan=False)


class OnMessage(Message):
    """Start to send sound."""

    do: Literal["on"]


class HeardMessage(Message):
    """Frames that were heard, gaps so far, and frames in reserve."""

    do: Literal["heard"]
    frames: Frames
    under: Frames = 0
    reserve: Annotated[int, Field(ge=-(2**53), le=2**53)] = 2**53


class PlayMessage(Message):
    """Play the phrase from its beginning, or from a beat."""

    do: Literal["play"]
    beat: Annotated[float, Field(ge=0, le=1e6)] = 0.0


class StopMessage(Message):
    """Stop the phrase."""

    do: Literal["stop"]


class LoopMessage(Message):
    """Loop the phrase, or play it once."""

    do: Literal["loop"]
    on: bool


class SoloMessage(Message):
    """Solo some layers, or one source (``layer/source``)."""

    do: Literal["solo"]
    layers: Annotated[list[Word], Field(max_length=16)]
    source: Word | None = None


class ListenMessage(Message):
    """Listen in stereo, to the mid or to the side."""

    do: Literal["listen"]
    mode: Literal["stereo", "mono", "side"]


class TurnMessage(Message):
    """A control while it is dragged: heard, not stored."""

    do: Literal["turn"]
    path: Path
    at: Share | None = None
    axis: Share | None = None
    steps: Annotated[float, Field(ge=-1000, le=1000)] | None = None


class DropMessage(Message):
    """Go back to what is stored."""

    do: Literal["drop"]


class GlimpseMessage(Message):
    """Hold one moment of the loop, in beats; without one, continue."""

    do: Literal["glimpse"]
    beat: Annotated[float, Field(ge=-1024, le=1024)] | None = None


class NoteMessage(Message):
    """A key of the keyboard."""

    do: Literal["note"]
    pitch: Annotated[int, Field(ge=0, le=127)]
    on: bool
    velocity: Annotated[int, Field(ge=0, le=1000)] = 100


class MidiMessage(Message):
    """A MIDI message of a controller."""

    do: Literal["midi"]
    bytes: Annotated[list[Byte], Field(max_length=64)]


class ClockMessage(Message):
    """A message of a MIDI clock. at: when it came, in ms of the page's clock. out: ms from the page's
    sound to the ear. ticks: where the song stands, if it goes on after a break.
    """

    do: Literal["clock"]
    bytes: Annotated[list[Byte], Field(min_length=1, max_length=3)]
    at: Annotated[float, Field(ge=0, le=1e12)]
    out: Annotated[float, Field(ge=0, le=1e3)] = 0.0
    ticks: Frames | None = None


class WaveMessage(Message):
    """A drawn wave while it is drawn: heard, not stored."""

    do: Literal["wave"]
    deed: Literal["stroke", "bars"]
    path: Path
    frame: Annotated[int, Field(ge=0, le=999)] = 0
    strokes: Annotated[list[tuple[float, float, float, float]], Field(max_length=4000)] = []
    levels: Annotated[list[tuple[int, float]], Field(max_length=200)] = []
    phases: Annotated[list[tuple[int, float]], Field(max_length=200)] = []


class CurveMessage(Message):
    """A drawn curve while it is drawn: heard, not stored."""

    do: Literal["curve"]
    deed: Literal["stroke", "bend", "move"]
    mover: Word
    index: Annotated[int, Field(ge=0, le=999)] = 0
    at: Share = 0.0
    value: Annotated[float, Field(ge=-2, le=2)] = 0.0
    line: Annotated[list[tuple[float, float]], Field(max_length=2000)] = []


class CompareMessage(Message):
    """Play the patch without an item, a chain or all chains."""

    do: Literal["compare"]
    what: Path | None = None


class TryMessage(Message):
    """Play one of two settings of a chain."""

    do: Literal["try"]
    place: Path
    which: Annotated[str, Field(max_length=1)] | None = None


class RecordMessage(Message):
    """Start or end recording."""

    do: Literal["record"]
    on: bool
    snap: Annotated[str, Field(max_length=10)] = "1/16"


class TapeMessage(Message):
    """Keep what is heard for a file, or end that."""

    do: Literal["tape"]
    on: bool


class RoomHeardMessage(Message):
    """Listen in a room; flat without one."""

    do: Literal["room"]
    room: Word | None = None


class ReferenceHeardMessage(Message):
    """Play the recording instead of the patch."""

    do: Literal["reference"]
    on: bool


AnyMessage = Annotated[
    OnMessage
    | HeardMessage
    | PlayMessage
    | StopMessage
    | LoopMessage
    | SoloMessage
    | ListenMessage
    | TurnMessage
    | DropMessage
    | GlimpseMessage
    | NoteMessage
    | MidiMessage
    | ClockMessage
    | WaveMessage
    | CurveMessage
    | CompareMessage
    | TryMessage
    | RecordMessage
    | TapeMessage
    | RoomHeardMessage
    | ReferenceHeardMessage,
    Field(discriminator="do"),
]
_MESSAGES: TypeAdapter[Any] = TypeAdapter(AnyMessage)


def message_of(data: Any) -> Message:
    """A message from plain JSON data. Raises ValueProblem."""
    try:
        found: Message = _MESSAGES.validate_python(data)
    except ValidationError as problem:
        first = problem.errors(include_url=False, include_context=False, include_input=False)[0]
        if first["type"] in ("union_tag_invalid", "union_tag_not_found"):
            raise ValueProblem("the player asked for something unknown") from None
        if not isinstance(data, dict):
            raise ValueProblem("a message is a JSON object") from None
        place = ".".join(str(p) for p in first["loc"][1:])
        raise ValueProblem(f"the player's message has a wrong value in it ({place}: {first['msg']})"[:200]) from None
    return found
