"""Dependencies of the routes: the desk, and the patch that an address names."""

from __future__ import annotations

import asyncio
from typing import Annotated

from fastapi import Depends, Request, WebSocket

from ..desk import Desk, OpenPatch
from ..library import Damaged, NoSuchPatch


def desk_of(request: Request) -> Desk:
    """The desk of this application."""
    desk: Desk = request.app.state.desk
    return desk


DeskOf = Annotated[Desk, Depends(desk_of)]


def opened(desk: DeskOf, slug: str) -> OpenPatch:
    """The open patch of ``/patch/{slug}``. Raises NoSuchPatch, Damaged."""
    return desk.open(slug)


Opened = Annotated[OpenPatch, Depends(opened)]


async def opened_for(socket: WebSocket, slug: str) -> OpenPatch | None:
    """The patch of a socket, which is accepted. If there is none, the socket is closed, and None is returned."""
    desk: Desk = socket.app.state.desk
    try:
        found = await asyncio.to_thread(desk.open, slug)
    except (NoSuchPatch, Damaged):
        await socket.close(4404)
        return None
    await socket.accept()
    return found
