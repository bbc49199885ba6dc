"""Templates, and rendered answers."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from fastapi.responses import HTMLResponse
from jinja2 import Environment, FileSystemLoader, StrictUndefined

from .. import __version__

HERE = Path(__file__).parent

environment = Environment(
    loader=FileSystemLoader(HERE / "views"),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)
environment.globals["kessel_version"] = __version__


def page(name: str, status: int = 200, trigger: dict[str, Any] | None = None, **context: Any) -> HTMLResponse:
    """A rendered template. ``trigger``: events for the page (htmx's HX-Trigger header)."""
    headers = {"HX-Trigger": json.dumps(trigger)} if trigger else None
    return HTMLResponse(environment.get_template(name).render(**context), status, headers)


def warm() -> None:
    """Compile all templates now, so that no request has to while sound is playing."""
    for name in environment.list_templates(extensions=["html"]):
        environment.get_template(name)
