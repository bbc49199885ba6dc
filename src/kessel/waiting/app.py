"""The application that answers until the loops are compiled. It loads nothing of the engine."""

from __future__ import annotations

import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader
from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.requests import Request
from starlette.responses import HTMLResponse, JSONResponse, PlainTextResponse, Response
from starlette.routing import Mount, Route
from starlette.staticfiles import StaticFiles

HERE = Path(__file__).parent
FILES = HERE.parent / "web" / "static"
_POLICY = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'"


@dataclass
class Progress:
    """How far the compilation is. done, of: modules. begun: on the clock of ``time.monotonic``."""

    done: int = 0
    of: int = 1
    begun: float = field(default_factory=time.monotonic)

    def words(self, now: float | None = None) -> str:
        """The progress as text. now: on the same clock."""
        if self.done >= self.of:
            return "All parts are ready: opening the page"
        gone = (time.monotonic() if now is None else now) - self.begun
        return f"{self.done} of {self.of} parts are ready after {gone:.0f} s; the largest come first"


@dataclass(frozen=True)
class Shelf:
    """A set of the library: its name, and the name and a line of each patch."""

    name: str
    patches: tuple[tuple[str, str], ...]


def waiting_app(progress: Progress, shelves: list[Shelf]) -> Starlette:
    """An application that shows the progress, whatever is asked for."""
    pages = Environment(loader=FileSystemLoader(HERE), autoescape=True, trim_blocks=True, lstrip_blocks=True)
    template = pages.get_template("waiting.html")

    async def tell(request: Request) -> Response:
        return JSONResponse({"done": progress.done, "of": progress.of, "words": progress.words()})

    async def page(request: Request) -> Response:
        if request.method not in ("GET", "HEAD"):
            return PlainTextResponse("Kessel is getting ready: try again in a minute.\n", 503, {"Retry-After": "30"})
        shown = template.render(progress=progress, words=progress.words(), shelves=shelves)
        return HTMLResponse(shown, 503, {"Retry-After": "5", "Content-Security-Policy": _POLICY})

    every: Any = ["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE"]
    return Starlette(
        routes=[
            Route("/waiting/progress", tell),
            Mount("/waiting/files", StaticFiles(directory=FILES)),
            Route("/{path:path}", page, methods=every),
        ],
        middleware=[Middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost", "[::1]"])],
    )
