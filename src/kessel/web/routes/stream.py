"""The socket of the live stream."""

from __future__ import annotations

import asyncio
import contextlib
import json

from fastapi import APIRouter, WebSocket, WebSocketDisconnect

from ...desk import Desk, LiveStream
from ...library import NoSuchPatch

router = APIRouter()
_LONGEST = 65536


@router.websocket("/patch/{slug}/live")
async def live(socket: WebSocket, slug: str) -> None:
    """Sound out, the player's messages in."""
    desk: Desk = socket.app.state.desk
    try:
        open_patch = desk.open(slug)
    except NoSuchPatch:
        await socket.close(4404)
        return
    await socket.accept()
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
    try:
        while True:
            text = await socket.receive_text()
            try:
                message = json.loads(text) if len(text) <= _LONGEST else None
            except ValueError:
                message = None
            stream.take(message)
    except (WebSocketDisconnect, RuntimeError, KeyError):
        pass
    finally:
        pumping.cancel()
        await asyncio.to_thread(stream.close)
