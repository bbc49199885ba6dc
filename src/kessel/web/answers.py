"""Answers to posts: a line of text, and the events that make fragments reload."""

from __future__ import annotations

import json
from typing import Any

from fastapi.responses import JSONResponse, Response

from ..desk import Edited


def said(label: str | None, *events: str, version: int | None = None, **chosen: str) -> Response:
    """A line of text, and the events that fragments of the page wait for (htmx's HX-Trigger header).

    ``edited``: the patch has a new version. ``redrawn``: its controls look different. ``rejudged``: its findings may
    differ. ``chosen``: what the page is to select, such as a layer, an item or a tab.
    """
    body: dict[str, Any] = {"label": label} | ({} if version is None else {"version": version})
    trigger: dict[str, dict[str, str]] = ({"chosen": chosen} if chosen else {}) | {event: {} for event in events}
    return JSONResponse(body, headers={"HX-Trigger": json.dumps(trigger)} if trigger else None)


def changed(edited: Edited | None, item: str = "", **chosen: str) -> Response:
    """The answer to an edit, with what the page is to select: an item, a layer, a tab, a frame. None: nothing was
    changed.
    """
    if edited is None:
        return said(None)
    shown = ({"item": item} if item else {}) | chosen
    return said(edited.label, "edited", "redrawn", version=edited.version, **shown)
