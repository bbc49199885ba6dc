"""Who may ask, and how much they may send.

The server answers to its own host name only, so that no foreign page can reach it by rebinding a name; writes and the
socket need the page's own origin; bodies are limited; every answer carries a strict policy.
"""

from __future__ import annotations

import contextlib

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ..formats import LARGEST_BUNDLE

HOSTS = frozenset({"127.0.0.1", "localhost", "[::1]"})
LARGEST_BODY = 2_100_000
LARGEST_AUDIO = 200_000_000
LARGEST_RECORDING = 600_000_000
_FILES = {
    "/import-audio": LARGEST_AUDIO,
    "/import-wave": LARGEST_AUDIO,
    "/backing/loop": LARGEST_AUDIO,
    "/library/import": LARGEST_BUNDLE,
    "/reference/file": LARGEST_RECORDING,
}
_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})

POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        "worker-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    )
)


def own_host(headers: Headers) -> bool:
    """Whether the Host header names this server."""
    host = headers.get("host", "")
    name, _, port = host.rpartition(":") if not host.endswith("]") else (host, "", "")
    if not name:
        name, port = host, ""
    return name in HOSTS and (port == "" or port.isdigit())


def same_origin(scope: Scope, headers: Headers) -> bool:
    """Whether the Origin header is the page's own: its scheme, host and port."""
    secure = scope.get("scheme") in ("https", "wss")
    return headers.get("origin") == f"{'https' if secure else 'http'}://{headers.get('host')}"


def _most(scope: Scope) -> int:
    """Bytes a request may send: more where a file is taken in."""
    path = str(scope["path"])
    return next((most + 100_000 for end, most in _FILES.items() if path.endswith(end)), LARGEST_BODY)


def _too_large(scope: Scope) -> PlainTextResponse:
    megabytes = _most(scope) // 1_000_000
    return PlainTextResponse(f"That is too large: {megabytes} MB at most.\n", 413)


def _without_body(send: Send) -> Send:
    """What a GET would answer, without its body."""

    async def head(message: Message) -> None:
        if message["type"] == "http.response.body":
            message = {**message, "body": b""}
        await send(message)

    return head


class _TooLarge(Exception):
    pass


class Guard:
    """ASGI middleware."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through or answer why not."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        if scope["type"] == "websocket":
            if own_host(headers) and same_origin(scope, headers):
                await self._app(scope, receive, send)
            else:
                await send({"type": "websocket.close", "code": 4403})
            return
        refusal = self._refusal(scope, headers)
        if refusal is not None:
            await refusal(scope, receive, send)
            return
        if scope["method"] == "HEAD":
            scope = {**scope, "method": "GET"}
            send = _without_body(send)
        await self._limited(scope, receive, send)

    @staticmethod
    def _refusal(scope: Scope, headers: Headers) -> PlainTextResponse | None:
        if not own_host(headers):
            return PlainTextResponse("This server answers to 127.0.0.1 and localhost only.\n", 421)
        if scope["method"] not in _SAFE and not same_origin(scope, headers):
            return PlainTextResponse("Changes are taken from Kessel's own pages only.\n", 403)
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length) > _most(scope):
            return _too_large(scope)
        return None

    async def _limited(self, scope: Scope, receive: Receive, send: Send) -> None:
        got = 0
        most = _most(scope)
        started = over = False

        async def counted() -> Message:
            nonlocal got, over
            message = await receive()
            got += len(message.get("body", b""))
            if got > most:
                over = True
                raise _TooLarge
            return message

        async def dressed(message: Message) -> None:
            nonlocal started
            if over and not started:
                # whatever the application makes of the cut body is not said
                return
            if message["type"] == "http.response.start":
                started = True
                out = MutableHeaders(scope=message)
                out["Content-Security-Policy"] = POLICY
                out["X-Content-Type-Options"] = "nosniff"
                out["Referrer-Policy"] = "same-origin"
                out["Cross-Origin-Resource-Policy"] = "same-origin"
                if not scope["path"].startswith("/static/"):
                    out["Cache-Control"] = "no-store"
            await send(message)

        with contextlib.suppress(_TooLarge):
            await self._app(scope, counted, dressed)
        if over and not started:
            await _too_large(scope)(scope, receive, send)
