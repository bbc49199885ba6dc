"""The application."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import FastAPI
from fastapi.responses import PlainTextResponse
from fastapi.staticfiles import StaticFiles

from ..desk import Desk, go_first
from .guard import Guard
from .pages import HERE, warm
from .problems import add_problem_handlers
from .routes import checks, edits, layers, movement, notes, shaping, shelf, sides, stream, waves, workspace


def create_app(desk: Desk) -> FastAPI:
    """The web application on a desk."""

    @asynccontextmanager
    async def living(app: FastAPI) -> AsyncIterator[None]:
        # the socket's messages pass through this thread
        go_first()
        yield
        desk.close()

    app = FastAPI(title="Kessel", docs_url=None, redoc_url=None, openapi_url=None, lifespan=living)
    app.state.desk = desk
    warm()
    app.add_middleware(Guard)
    add_problem_handlers(app)
    app.mount("/static", StaticFiles(directory=HERE / "static"), name="static")
    for room in (shelf, workspace, edits, layers, movement, notes, waves, shaping, checks, sides, stream):
        app.include_router(room.router)

    @app.get("/healthz")
    def healthz() -> PlainTextResponse:
        """Answers when the application can serve."""
        desk.library.sets()
        return PlainTextResponse("ok\n")

    return app
