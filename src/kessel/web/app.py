"""The application."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

import anyio.to_thread
from fastapi import FastAPI
from fastapi.responses import PlainTextResponse

from ..desk import Desk
from .guard import add_guards
from .pages import warm
from .problems import add_problem_handlers
from .routes import checks, edits, layers, movement, news, notes, shaping, shelf, sides, waves, workspace
from .static_files import ADDRESS, static_files

THREADS = 160
"""Requests that are answered at the same time."""


def create_app(desk: Desk, live_port: int = 0) -> FastAPI:
    """The web application on a desk. live_port: of the process that plays."""

    @asynccontextmanager
    async def living(app: FastAPI) -> AsyncIterator[None]:
        # each answer that waits for a rendering or a file holds a thread: they must never use up all threads
        anyio.to_thread.current_default_thread_limiter().total_tokens = THREADS
        yield
        desk.close()

    app = FastAPI(title="Kessel", docs_url=None, redoc_url=None, openapi_url=None, lifespan=living)
    app.state.desk = desk
    app.state.live_port = live_port
    # figures of the library's rows take a few kilobytes each; the patches themselves are released
    app.state.cards = {}
    warm()
    add_guards(app)
    add_problem_handlers(app)
    app.mount(ADDRESS, static_files(), name="static")
    for room in (shelf, workspace, edits, layers, movement, notes, waves, shaping, checks, sides, news):
        app.include_router(room.router)

    @app.get("/healthz")
    def healthz() -> PlainTextResponse:
        """Answers if the application can serve."""
        desk.library.sets()
        return PlainTextResponse("ok\n")

    return app
