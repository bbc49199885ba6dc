"""The record of a kind of part: what every room needs to know of it.

Lists, panels, the schema, sentences, starting settings and the engine read it. A new kind is a model with its record, a
processor class, and one line in ``EFFECTS`` or ``MOVERS``.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import reduce
from importlib import import_module
from operator import or_
from typing import Annotated, Any

from pydantic import Field

from .base import Part

Values = Mapping[str, Any]


@dataclass(frozen=True)
class Kind:
    """One kind of part.

    model: the Pydantic model; its ``kind`` field holds the word that documents use.
    label: its name on the screen.
    word: the word of a model without a ``kind`` field.
    processor: ``module:Class`` of what runs it in the engine. It is loaded by the engine, so that a patch can be read
        without it.
    family: the heading it stands under in lists of effects.
    limits_level: whether it is there for the level, so that a level match would undo it.
    is_stage: whether it can be a voice stage as well as an item of a chain.
    keeps_mix: whether its mix stays when it is turned into another kind.
    fresh: values of a new one that differ from the model's defaults.
    starting: settings to start from, as a name and the values that differ from a new one.
    tail: how long it rings on, in samples, until 50 dB are gone; from the part and the samples of a beat and of a
        millisecond. None: it does not ring.
    phrase: how a line about a layer names it; None: by its label in lower case.
    is_bipolar: whether a mover goes from -1 to 1 instead of from 0 to 1.
    verb, manner: how a sentence about a movement says by what and in which way a mover moves.
    runs_on: why the same note differs each time it is played, after the part's name; empty if the part starts anew with
        every note.
    needs_source: whether a mover moves nothing until a source is picked for it.
    """

    model: type[Part]
    label: str
    word: str = ""
    processor: str = ""
    family: str = ""
    is_stage: bool = False
    keeps_mix: bool = True
    limits_level: bool = False
    fresh: Values = field(default_factory=dict)
    starting: tuple[tuple[str, Values], ...] = ()
    tail: Callable[[Any, float, float], float] | None = None
    phrase: Callable[[Any], str] | None = None
    is_bipolar: Callable[[Any], bool] = lambda part: False
    verb: str = "moved by"
    manner: Callable[[Any], str] = lambda part: "as it goes"
    runs_on: Callable[[Any], str] = lambda part: ""
    needs_source: bool = False

    def __post_init__(self) -> None:
        if not self.word:
            object.__setattr__(self, "word", str(self.model.model_fields["kind"].default))

    def make(self, id: str, name: str) -> Any:
        """A new part of this kind."""
        named = {"name": name} if "name" in self.model.model_fields else {}
        return self.model.model_validate({"id": id, **named, **self.fresh})

    def processor_class(self) -> Any:
        """The class that runs it in the engine."""
        module, _, name = self.processor.partition(":")
        return getattr(import_module(module), name)


def union_of(kinds: Iterable[Kind]) -> Any:
    """The type of a field that holds a part of any of the kinds, discriminated by ``kind``."""
    models: Any = [kind.model for kind in kinds]
    return Annotated[reduce(or_, models), Field(discriminator="kind")]
