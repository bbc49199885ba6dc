"""What the pages of Kessel send: edits that may come twice, and refusals that are no error.

A page that gets no answer sends its edit again, with the same name in ``X-Edit``. If the edit was made already, it is
answered as the first time, and not made twice. The answers of the last edits are kept in memory. A page that is left
sends all that waits at once: ``X-After`` names the edit that comes before.

Browsers log every status from 400 on as an error of the page. A refusal is none: for what a page asks by its scripts
(``X-Edit``, ``X-Import``, ``X-Page``, ``HX-Request``) it goes out with status 200, and its own status in ``X-Refused``.
A failure of the server keeps its status.
"""

from __future__ import annotations

import asyncio
import contextlib
from collections import OrderedDict

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

_KEPT = 256
_TURN = 2.0
"""How long an edit waits for the one before, in seconds: it may have been lost."""
_LONGEST = 64
_BY_PAGE = ("x-edit", "x-import", "x-page", "hx-request")
_Answer = list[Message]


class Repeats:
    """Answers an edit that is sent again as the first time."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app
        self._answers: OrderedDict[str, asyncio.Future[_Answer]] = OrderedDict()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or answer it from memory."""
        headers = Headers(scope=scope) if scope.get("method") == "POST" else Headers({})
        edit = headers.get("x-edit", "")[:_LONGEST]
        if not edit:
            await self._app(scope, receive, send)
            return
        if before := headers.get("x-after", "")[:_LONGEST]:
            await self._turn(before)
        first = self._answers.get(edit)
        if first is None:
            await self._first(edit, scope, receive, send)
            return
        for message in await asyncio.shield(first):
            await send(message)

    async def _turn(self, before: str) -> None:
        """Wait until the edit before this one was answered."""
        with contextlib.suppress(TimeoutError):
            async with asyncio.timeout(_TURN):
                while before not in self._answers:
                    await asyncio.sleep(0.01)
                await asyncio.wait({self._answers[before]})

    async def _first(self, key: str, scope: Scope, receive: Receive, send: Send) -> None:
        answer: asyncio.Future[_Answer] = asyncio.get_running_loop().create_future()
        self._answers[key] = answer
        while len(self._answers) > _KEPT:
            self._answers.popitem(last=False)
        sent: _Answer = []

        async def noted(message: Message) -> None:
            sent.append(message)
            if message["type"] == "http.response.body" and not message.get("more_body") and not answer.done():
                answer.set_result(sent)
            await send(message)

        try:
            await self._app(scope, receive, noted)
        finally:
            if not answer.done():
                # nothing was answered: the next one is the first again
                self._answers.pop(key, None)
                answer.cancel()


class Refusals:
    """Sends refusals to what a page's scripts ask as plain answers."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, and mark its refusal."""
        headers = Headers(scope=scope) if scope["type"] == "http" else {}

        async def marked(message: Message) -> None:
            if message["type"] == "http.response.start" and 400 <= message["status"] < 500:
                MutableHeaders(scope=message)["X-Refused"] = str(message["status"])
                message = {**message, "status": 200}
            await send(message)

        by_page = any(name in headers for name in _BY_PAGE)
        await self._app(scope, receive, marked if by_page else send)
