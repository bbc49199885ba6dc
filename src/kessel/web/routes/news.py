"""The socket of news: the newest version of a patch, what is measured of it, and progress."""

from __future__ import annotations

import asyncio
import contextlib
from dataclasses import asdict

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from fastapi.responses import Response

from ..answers import said
from ..dependencies import Opened, opened_for

router = APIRouter()
_TICK = 0.5
"""Seconds between two polls of the progress."""


@router.websocket("/patch/{slug}/news")
async def news(socket: WebSocket, slug: str) -> None:
    """Send every change, and the progress of measuring."""
    open_patch = await opened_for(socket, slug)
    if open_patch is None:
        return
    loop = asyncio.get_running_loop()
    fresh = asyncio.Event()

    def wake() -> None:
        with contextlib.suppress(RuntimeError):
            loop.call_soon_threadsafe(fresh.set)

    unwatch = open_patch.watch(wake)

    async def tell() -> None:
        told = None
        while True:
            fresh.clear()
            now = open_patch.news()
            if now != told:
                told = now
                await socket.send_json(asdict(now))
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(fresh.wait(), _TICK if now.share is not None or now.cures else None)

    telling = asyncio.create_task(tell())
    try:
        with open_patch.measuring.looked_at():
            while True:
                await socket.receive_text()
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        unwatch()
        telling.cancel()


@router.post("/patch/{slug}/measure-stop")
def stop(open_patch: Opened) -> Response:
    """Stop measuring the present version."""
    open_patch.measuring.stop()
    return said("Measuring stopped")


@router.post("/patch/{slug}/measure-again")
def again(open_patch: Opened) -> Response:
    """Measure the present version, even if that failed or was stopped."""
    open_patch.measure()
    return said("Measuring")
