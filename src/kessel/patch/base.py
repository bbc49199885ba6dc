"""The base class of all parts of a patch."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable
from itertools import chain, count
from typing import Annotated, Any, ClassVar, Self

from pydantic import AfterValidator, BaseModel, ConfigDict

from .control_path import ControlPath

_ID = re.compile(r"^[a-z0-9][a-z0-9-]{0,31}$")


def is_id(text: str) -> str:
    if not _ID.match(text):
        raise ValueError(f"“{text[:40]}” is no id: use small letters, digits and hyphens, 32 at most")
    return text


_JOINERS = "\u200c\u200d"
_BLANK = frozenset("\u034f\u115f\u1160\u17b4\u17b5\u2800\u3164\uffa0")


def _is_hidden(c: str) -> bool:
    """Whether a character is a control, format, surrogate, private or unassigned character."""
    return unicodedata.category(c)[0] == "C" and c not in _JOINERS


def _leaves_ink(c: str) -> bool:
    return unicodedata.category(c)[0] not in "CMZ" and c not in _BLANK


def visible(text: str) -> str:
    """Text with plain spaces and without hidden characters. Empty if nothing of it is visible."""
    plain = "".join(" " if c.isspace() else c for c in text if c.isspace() or not _is_hidden(c))
    return " ".join(plain.split()) if any(map(_leaves_ink, plain)) else ""


def _is_name(text: str) -> str:
    cleaned = " ".join(text.split())
    if not cleaned:
        raise ValueError("a name can't be empty")
    if len(cleaned) > 60:
        raise ValueError("a name has 60 letters at most")
    if cleaned != visible(text):
        raise ValueError("the name holds invisible characters: type it again")
    return cleaned


Id = Annotated[str, AfterValidator(is_id)]
Name = Annotated[str, AfterValidator(_is_name)]


class Part(BaseModel):
    """A part of a patch. It accepts no unknown fields and is never changed in place.

    in_titles: what the title of a control calls a part of a list that has no name. place: counted from 1.
    name: of the part that ``name_of`` leads to.
    """

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)
    in_titles: ClassVar[str] = ""

    def __deepcopy__(self, _memo: dict[int, Any] | None = None) -> Self:
        """The same part: it never changes."""
        return self

    def name_of(self, path: ControlPath) -> tuple[str, ...]:
        """The steps to the part that this one is named after. path: of a control of this part."""
        return ()


def distinct(parts: list[Part], what: str) -> None:
    """Raise ValueError unless the ids of the parts differ."""
    ids = [getattr(p, "id", "") for p in parts]
    twice = sorted({i for i in ids if ids.count(i) > 1})
    if twice:
        raise ValueError(f"two {what} share the id “{twice[0]}”")


def free_id(wanted: str, taken: list[str]) -> str:
    """An id made from a name, different from those taken."""
    stem = re.sub(r"[^a-z0-9]+", "-", wanted.lower()).strip("-")[:24] or "part"
    if stem not in taken:
        return stem
    n = 2
    while f"{stem}-{n}" in taken:
        n += 1
    return f"{stem}-{n}"


def free_name(name: str, taken: Iterable[str]) -> str:
    """A name different from those taken: with a number if need be."""
    known = set(taken)
    numbered = (f"{name[:56]} {k}" for k in count(2))
    return next(n for n in chain([name[:60]], numbered) if n not in known)
