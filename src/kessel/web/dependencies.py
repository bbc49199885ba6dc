"""What routes work on, handed to them by the framework: the desk, and the patch that an address names."""

from __future__ import annotations

import asyncio
from typing import Annotated

from fastapi import Depends, Request, WebSocket

from ..desk import Desk, OpenPatch
from ..library import Damaged, NoSuchPatch


def desk_of(request: Request) -> Desk:
    """The desk this application works on."""
    desk: Desk = request.app.state.desk
    return desk


DeskOf = Annotated[Desk, Depends(desk_of)]


def opened(desk: DeskOf, slug: str) -> OpenPatch:
    """The patch at ``/patch/{slug}``, open on the desk. Raises NoSuchPatch, Damaged."""
    return desk.open(slug)


Opened = Annotated[OpenPatch, Depends(opened)]


async def opened_for(socket: WebSocket, slug: str) -> OpenPatch | None:
    """The patch a socket is about, the socket accepted. Returns None and closes the socket where there is none."""
    desk: Desk = socket.app.state.desk
    try:
        found = await asyncio.to_thread(desk.open, slug)
    except (NoSuchPatch, Damaged):
        await socket.close(4404)
        return None
    await socket.accept()
    return found
