"""The application of the process that plays: one socket a page."""

from __future__ import annotations

import asyncio
import contextlib
import json
from concurrent.futures import ThreadPoolExecutor
from typing import Any, Protocol

from fastapi import FastAPI, WebSocket, WebSocketDisconnect
from starlette.middleware.trustedhost import TrustedHostMiddleware

from ..desk import SLOW, Lead, LiveStream, PlayedPatch
from ..library import Damaged, NoSuchPatch
from ..patch import ValueProblem

HOSTS = ["127.0.0.1", "localhost", "[::1]"]
"""The names that Kessel answers to."""
_LONGEST = 65536
_GONE, _FOREIGN, _LATER = 4404, 4403, 1013


class Patches(Protocol):
    """Where the patches of the streams come from."""

    def open(self, slug: str) -> PlayedPatch:
        """A patch for a new stream. Raises NoSuchPatch, Damaged or ValueProblem."""

    def close(self, patch: Any) -> None:
        """A stream has ended."""


def player_app(patches: Patches, port: int) -> FastAPI:
    """The application. port: of the pages; sockets of any other origin are refused."""
    app = FastAPI(title="Kessel", docs_url=None, redoc_url=None, openapi_url=None)
    origins = {f"http://{host}:{port}" for host in HOSTS}
    lead = Lead()

    @app.websocket("/patch/{slug}/live")
    async def live(socket: WebSocket, slug: str) -> None:
        """Send sound, and receive the player's messages."""
        if socket.headers.get("origin") not in origins:
            await socket.close(_FOREIGN)
            return
        try:
            played = await asyncio.to_thread(patches.open, slug)
        except (NoSuchPatch, Damaged):
            # a code is told only after the socket was accepted
            await socket.accept()
            await socket.close(_GONE)
            return
        except ValueProblem:
            await socket.close(_LATER)
            return
        await socket.accept()
        nonlocal lead
        # as far ahead as the last stream needed to be
        lead = Lead(lead.frames)
        try:
            await _stream(socket, played, lead)
        finally:
            with contextlib.suppress(ValueProblem):
                await asyncio.to_thread(patches.close, played)

    app.add_middleware(TrustedHostMiddleware, allowed_hosts=HOSTS, www_redirect=False)
    return app


async def _stream(socket: WebSocket, played: PlayedPatch, lead: Lead) -> None:
    """Play a patch to a page until it goes."""
    loop = asyncio.get_running_loop()
    out: asyncio.Queue[bytes | str] = asyncio.Queue()

    def send(data: bytes | str) -> None:
        with contextlib.suppress(RuntimeError):
            loop.call_soon_threadsafe(out.put_nowait, data)

    stream = LiveStream(played, send, lead)

    async def pump() -> None:
        while True:
            data = await out.get()
            if isinstance(data, bytes):
                await socket.send_bytes(data)
            else:
                await socket.send_text(data)

    pumping = asyncio.create_task(pump())
    # messages that may wait for a rendering run outside the event loop, in order; later messages queue behind them
    slow = ThreadPoolExecutor(1, thread_name_prefix="player")
    behind = 0

    def done(_: object) -> None:
        nonlocal behind
        behind -= 1

    def give(message: Any) -> None:
        nonlocal behind
        word = message.get("do") if isinstance(message, dict) else None
        if word == "heard" or not (behind or word in SLOW):
            stream.take(message)
            return
        behind += 1
        asyncio.wrap_future(slow.submit(stream.take, message)).add_done_callback(done)

    try:
        while True:
            text = await socket.receive_text()
            try:
                message = json.loads(text) if len(text) <= _LONGEST else None
            except (ValueError, RecursionError):
                message = None
            give(message)
    except (WebSocketDisconnect, RuntimeError, KeyError):
        pass
    finally:
        pumping.cancel()
        slow.shutdown(wait=False, cancel_futures=True)
        await asyncio.to_thread(stream.close)
