"""Who may send requests, and how much.

The server answers to its own host names only, which prevents DNS rebinding. Writes and sockets need the page's own
origin. Bodies are limited, and every answer has a strict policy.
"""

from __future__ import annotations

from fastapi import FastAPI
from starlette.datastructures import Headers, MutableHeaders
from starlette.middleware.body_limit import RequestBodyLimitMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ..formats import LARGEST_BUNDLE
from ..playing import HOSTS
from .page_edits import Refusals, Repeats
from .static_files import ADDRESS, FOR_EVER

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

# the sockets of the player are at another port of this machine, which changes when Kessel is started again
_PLAYERS = " ".join(f"ws://{host}:*" for host in HOSTS if ":" not in host)
POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data:",
        "font-src 'self'",
        f"connect-src 'self' {_PLAYERS}",
        "worker-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    )
)


def same_origin(scope: Scope, headers: Headers) -> bool:
    """Whether the Origin header is the page's own: its scheme, host and port."""
    secure = scope.get("scheme") in ("https", "wss")
    return headers.get("origin") == f"{'https' if secure else 'http'}://{headers.get('host')}"


def largest_body(path: str) -> int:
    """Largest body in bytes for a path. Paths that receive files allow more."""
    return next((most + 100_000 for end, most in _FILES.items() if path.endswith(end)), LARGEST_BODY)


def too_large(most: int) -> str:
    """The answer to a body of more than so many bytes."""
    return f"That is too large: {most // 1_000_000} MB at most.\n"


class SameOrigin:
    """Refuses writes and sockets that do not come from the page's own origin."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        asks = scope["type"] == "lifespan" or scope.get("method") in _SAFE
        if asks or same_origin(scope, Headers(scope=scope)):
            await self._app(scope, receive, send)
        elif scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 4403})
        else:
            refusal = PlainTextResponse("Changes are taken from Kessel's own pages only.\n", 403)
            await refusal(scope, receive, send)


class BodyLimit:
    """Limits bodies by path."""

    def __init__(self, app: ASGIApp) -> None:
        self._limited = {
            most: RequestBodyLimitMiddleware(app, most)
            for most in {LARGEST_BODY, *(n + 100_000 for n in _FILES.values())}
        }

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on with its limit. One that declares more is refused at once."""
        most = largest_body(scope.get("path", ""))
        length = Headers(scope=scope).get("content-length", "0") if scope["type"] == "http" else "0"
        if length.isdigit() and int(length) > most:
            await PlainTextResponse(too_large(most), 413)(scope, receive, send)
        else:
            await self._limited[most](scope, receive, send)


class HeadFromGet:
    """Answers HEAD as GET without the body."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, HEAD as GET."""

        async def without_body(message: Message) -> None:
            await send({**message, "body": b""} if message["type"] == "http.response.body" else message)

        if scope.get("method") == "HEAD":
            await self._app({**scope, "method": "GET"}, receive, without_body)
        else:
            await self._app(scope, receive, send)


class ResponsePolicy:
    """Adds the headers of security and caching to every answer."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, and add the headers to its answer."""

        async def dressed(message: Message) -> None:
            if message["type"] == "http.response.start":
                out = MutableHeaders(scope=message)
                out["Content-Security-Policy"] = POLICY
                out["X-Content-Type-Options"] = "nosniff"
                out["Referrer-Policy"] = "same-origin"
                out["Cross-Origin-Resource-Policy"] = "same-origin"
                if scope["path"].startswith(f"{ADDRESS}/") and message["status"] < 400:
                    out["Cache-Control"] = FOR_EVER
                elif "Cache-Control" not in out:
                    out["Cache-Control"] = "no-store"
            await send(message)

        await self._app(scope, receive, dressed)


def add_guards(app: FastAPI) -> None:
    """Add all middlewares to the application, the outermost last."""
    app.add_middleware(Repeats)
    app.add_middleware(BodyLimit)
    app.add_middleware(HeadFromGet)
    app.add_middleware(SameOrigin)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=HOSTS, www_redirect=False)
    app.add_middleware(Refusals)
    app.add_middleware(ResponsePolicy)
