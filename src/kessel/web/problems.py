"""Problems as a person reads them: one line that says what to do, never a traceback."""

from __future__ import annotations

import logging
from http import HTTPStatus

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, PlainTextResponse, Response
from starlette.exceptions import HTTPException

from ..formats import AudioProblem, MidiProblem, PatchProblem
from ..library import NoSuchPatch
from ..patch import NoSuchPath, ValueProblem
from .pages import page

_log = logging.getLogger("kessel")


def answer(request: Request, status: int, text: str) -> Response:
    """A page for who browses, a plain line for a script or a fragment."""
    browsing = "text/html" in request.headers.get("accept", "") and "hx-request" not in request.headers
    if browsing and request.method == "GET":
        found: HTMLResponse = page("problem.html", status, text=text, title=HTTPStatus(status).phrase)
        return found
    return PlainTextResponse(text, status)


def add_problem_handlers(app: FastAPI) -> None:
    """Teach the application to say its problems."""

    async def said(request: Request, problem: Exception) -> Response:
        return answer(request, 422, str(problem))

    async def missing(request: Request, problem: Exception) -> Response:
        return answer(request, 404, str(problem))

    async def http(request: Request, problem: Exception) -> Response:
        assert isinstance(problem, HTTPException)
        text = (
            "There is nothing at this address: go back to the library."
            if problem.status_code == 404
            else problem.detail
        )
        return answer(request, problem.status_code, text)

    async def malformed(request: Request, problem: Exception) -> Response:
        assert isinstance(problem, RequestValidationError)
        first = problem.errors()[0]
        place = ".".join(str(p) for p in first["loc"][1:])
        return answer(request, 422, f"{place}: {first['msg']}")

    async def broken(request: Request, problem: Exception) -> Response:
        _log.exception("a request failed", exc_info=problem)
        return answer(request, 500, "Something went wrong in Kessel; nothing was changed. Reload the page.")

    for kind in (ValueProblem, NoSuchPath, PatchProblem, AudioProblem, MidiProblem):
        app.add_exception_handler(kind, said)
    app.add_exception_handler(NoSuchPatch, missing)
    app.add_exception_handler(HTTPException, http)
    app.add_exception_handler(RequestValidationError, malformed)
    app.add_exception_handler(Exception, broken)
