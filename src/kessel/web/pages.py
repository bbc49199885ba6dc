"""Templates, and rendered answers."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from fastapi.responses import HTMLResponse
from jinja2 import Environment, FileSystemLoader, StrictUndefined
from jinja2.utils import htmlsafe_json_dumps

from .. import __version__
from ..patch import Patch, declared, note_name
from .static_files import ADDRESS

HERE = Path(__file__).parent

environment = Environment(
    loader=FileSystemLoader(HERE / "views"),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)
environment.globals["kessel_version"] = __version__
environment.globals["static"] = ADDRESS
environment.globals["tempo_control"] = declared(Patch, "tempo")
environment.globals["pitch_names"] = [note_name(pitch) for pitch in range(128)]


def asks(view: str = "", tab: str = "", layer: str = "", **fields: str) -> str:
    """What a button of the page leads to, as JSON for its ``data-asks``. Without a view, tab or layer that stays."""
    there = {name: word for name, word in (("view", view), ("tab", tab), ("layer", layer)) if word}
    return htmlsafe_json_dumps(there | fields)


environment.globals["asks"] = asks


def page(name: str, status: int = 200, trigger: dict[str, Any] | None = None, **context: Any) -> HTMLResponse:
    """A rendered template. ``trigger``: events for the page (htmx's HX-Trigger header)."""
    headers = {"HX-Trigger": json.dumps(trigger)} if trigger else None
    return HTMLResponse(environment.get_template(name).render(**context), status, headers)


def warm() -> None:
    """Compile all templates now, so that no request has to while sound is playing."""
    for name in environment.list_templates(extensions=["html"]):
        environment.get_template(name)
