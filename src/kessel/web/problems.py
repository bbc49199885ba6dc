"""Problems as one line that says what to do, never a traceback."""

from __future__ import annotations

import logging
from http import HTTPStatus

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, PlainTextResponse, RedirectResponse, Response
from pydantic import ValidationError
from starlette.exceptions import HTTPException

from ..formats import FileProblem
from ..library import Damaged, NoSuchPatch, NotKept, disk_refused
from ..patch import NoSuchPath, ValueProblem, plain
from .guard import largest_body, too_large
from .pages import page

_log = logging.getLogger(__name__)


def _browses(request: Request) -> bool:
    asks_page = "text/html" in request.headers.get("accept", "") and "hx-request" not in request.headers
    return asks_page and request.method == "GET"


def answer(request: Request, status: int, text: str) -> Response:
    """A page for a browser, a plain line for a script or a fragment."""
    if _browses(request):
        found: HTMLResponse = page("problem.html", status, text=text, title=HTTPStatus(status).phrase)
        return found
    return PlainTextResponse(text, status)


def add_problem_handlers(app: FastAPI) -> None:
    """Register the handlers of all expected exceptions."""

    async def said(request: Request, problem: Exception) -> Response:
        return answer(request, 422, str(problem))

    async def missing(request: Request, problem: Exception) -> Response:
        return answer(request, 404, str(problem))

    async def http(request: Request, problem: Exception) -> Response:
        assert isinstance(problem, HTTPException)
        own = {
            404: "There is nothing at this address: go back to the library.",
            413: too_large(largest_body(request.url.path)),
        }
        return answer(request, problem.status_code, own.get(problem.status_code, problem.detail))

    async def malformed(request: Request, problem: Exception) -> Response:
        assert isinstance(problem, RequestValidationError)
        first = problem.errors()[0]
        place = ".".join(str(p) for p in first["loc"][1:])
        return answer(request, 422, f"{place}: {first['msg']}")

    async def not_kept(request: Request, problem: Exception) -> Response:
        _log.warning("%s %s: %s", request.method, request.url.path, problem)
        return answer(request, 507, str(problem))

    async def disk(request: Request, problem: Exception) -> Response:
        assert isinstance(problem, OSError)
        _log.warning("%s %s: %s", request.method, request.url.path, problem)
        return answer(request, 507, disk_refused(problem))

    async def damaged(request: Request, problem: Exception) -> Response:
        assert isinstance(problem, Damaged)
        if _browses(request):
            return RedirectResponse(f"/patch/{problem.slug}/damaged", 303)
        return answer(request, 409, f"{problem}. Open it from the library to see what can be done.")

    async def broken(request: Request, problem: Exception) -> Response:
        _log.error("%s %s failed", request.method, request.url.path, exc_info=problem)
        return answer(request, 500, "Kessel failed here; the log in the data folder has the details. Reload the page.")

    async def impossible(request: Request, problem: Exception) -> Response:
        # an edit produced a part that the patch model refuses
        assert isinstance(problem, ValidationError)
        return answer(request, 422, plain(problem))

    app.add_exception_handler(ValidationError, impossible)
    for kind in (ValueProblem, NoSuchPath, FileProblem):
        app.add_exception_handler(kind, said)
    app.add_exception_handler(NoSuchPatch, missing)
    app.add_exception_handler(NotKept, not_kept)
    app.add_exception_handler(OSError, disk)
    app.add_exception_handler(Damaged, damaged)
    app.add_exception_handler(HTTPException, http)
    app.add_exception_handler(RequestValidationError, malformed)
    app.add_exception_handler(Exception, broken)
