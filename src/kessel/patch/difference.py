"""Differences between documents, exact to the last bit of every number.

A document is plain JSON data. So is a difference:

- ``{"=": value}``: another value,
- ``{"in": {key: difference}}``: some values of an object differ,
- ``{"drop": true}``: the key was removed from the object,
- ``{"at": {index: difference}}``: some items of a list differ,
- ``{"cut": [first, count], "put": [items]}``: a stretch of a list was replaced.
"""

from __future__ import annotations

import json
from typing import Any

Difference = dict[str, Any]


class DoesNotFit(ValueError):
    """The difference was made from another document."""


def same(a: Any, b: Any) -> bool:
    """Whether two documents are equal to the last bit: 1 is not 1.0, and 0.0 is not -0.0."""
    return json.dumps(a) == json.dumps(b)


def difference(a: Any, b: Any) -> Difference | None:
    """The difference from document ``a`` to document ``b``. None if they are the same."""
    if same(a, b):
        return None
    if isinstance(a, dict) and isinstance(b, dict):
        inside: dict[str, Difference] = {k: {"drop": True} for k in a if k not in b}
        for key, value in b.items():
            found = difference(a[key], value) if key in a else {"=": value}
            if found is not None:
                inside[key] = found
        return {"in": inside} if inside else None
    if isinstance(a, list) and isinstance(b, list):
        return _of_lists(a, b)
    return {"=": b}


def _of_lists(a: list[Any], b: list[Any]) -> Difference:
    if len(a) == len(b):
        return {"at": {str(i): d for i, (x, y) in enumerate(zip(a, b, strict=True)) if (d := difference(x, y))}}
    shorter = min(len(a), len(b))
    first = next((i for i in range(shorter) if not same(a[i], b[i])), shorter)
    last = next((i for i in range(shorter - first) if not same(a[-1 - i], b[-1 - i])), shorter - first)
    return {"cut": [first, len(a) - first - last], "put": b[first : len(b) - last]}


def patched(document: Any, change: Difference | None) -> Any:
    """``document`` with a difference applied. The argument is not changed. Raises DoesNotFit."""
    if change is None:
        return document
    try:
        return _patched(document, change)
    except (KeyError, IndexError, TypeError, ValueError, AttributeError):
        raise DoesNotFit("the difference was made from another document") from None


def _patched(document: Any, change: Difference) -> Any:
    if "=" in change:
        return change["="]
    if "in" in change:
        new = dict(document)
        for key, inner in change["in"].items():
            if "drop" in inner:
                del new[key]
            else:
                new[key] = inner["="] if "=" in inner else _patched(new[key], inner)
        return new
    if "at" in change:
        items = list(document)
        for index, inner in change["at"].items():
            items[int(index)] = _patched(items[int(index)], inner)
        return items
    first, count = change["cut"]
    if not isinstance(document, list) or not 0 <= first <= first + count <= len(document):
        raise DoesNotFit("the difference was made from another document")
    return [*document[:first], *change["put"], *document[first + count :]]
