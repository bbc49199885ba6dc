"""The first start: the port answers with a page while all loops are compiled."""

from __future__ import annotations

import socket
import threading

import uvicorn

from ..demo import SET_NAME, DemoCard, demo_cards
from ..library import Library
from ..signs import with_signs
from ..waiting import Progress, Shelf, waiting_app
from .command import Problem
from .compiling import compile_in, compilers


def shelves_of(library: Library, seed: bool) -> list[Shelf]:
    """What is in the library, set by set. seed: the demo set comes in next, if it never did."""
    found = [
        Shelf(each.name, tuple((c.name, f"{c.edited:%-d %B %Y}") for c in library.patches(each.id) if not c.deleted))
        for each in library.sets()
    ]
    found = [shelf for shelf in found if shelf.patches]
    if seed and not found:
        found = [Shelf(SET_NAME, tuple((c.name, _line(c)) for c in demo_cards()))]
    return found


def _line(card: DemoCard) -> str:
    return f"{card.tempo:.0f} BPM, {with_signs(card.root)} {card.scale}. {card.note}"


def wait_for_loops(listener: socket.socket, shelves: list[Shelf]) -> None:
    """Serve the waiting page until all loops are compiled. Raises Problem if they can't be."""
    progress = Progress()
    server = uvicorn.Server(uvicorn.Config(waiting_app(progress, shelves), log_config=None, access_log=False))
    problems: list[Exception] = []

    def tell(done: int, of: int) -> None:
        progress.done, progress.of = done, of

    with compilers() as pool:

        def work() -> None:
            try:
                compile_in(pool, tell)
            except Exception as problem:
                problems.append(problem)
            server.should_exit = True

        threading.Thread(target=work, name="compiling", daemon=True).start()
        # the server closes the socket it is given; who asks meanwhile waits at this one
        server.run(sockets=[listener.dup()])
    if problems:
        raise Problem(f"the loops can't be compiled: {' '.join(str(problems[0]).split())}")
