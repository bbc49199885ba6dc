"""The socket of the live stream."""

from __future__ import annotations

import asyncio
import contextlib
import json
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from fastapi import APIRouter, WebSocket, WebSocketDisconnect

from ...desk import SLOW, LiveStream
from ..dependencies import opened_for

router = APIRouter()
_LONGEST = 65536


@router.websocket("/patch/{slug}/live")
async def live(socket: WebSocket, slug: str) -> None:
    """Send sound, and receive the player's messages."""
    open_patch = await opened_for(socket, slug)
    if open_patch is None:
        return
    loop = asyncio.get_running_loop()
    out: asyncio.Queue[bytes | str] = asyncio.Queue()

    def send(data: bytes | str) -> None:
        with contextlib.suppress(RuntimeError):
            loop.call_soon_threadsafe(out.put_nowait, data)

    stream = LiveStream(open_patch, send)

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
