"""Commands and arguments. A problem is one line on stderr and exit status 2."""

from __future__ import annotations

import argparse
import importlib
import os
import sys
from collections.abc import Sequence
from pathlib import Path


class Problem(Exception):
    """Something that the user has to change. Its text says what."""


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        self.exit(2, f"{self.prog}: {message} (see {self.prog} --help)\n")


def data_folder() -> Path:
    """The user's data folder, unless ``--data`` names another."""
    base = os.environ.get("XDG_DATA_HOME")
    return (Path(base) if base else Path.home() / ".local" / "share") / "kessel"


def _parser() -> argparse.ArgumentParser:
    top = _Parser(prog="kessel", description="Layered bass patches, heard, seen and measured.")
    words = top.add_subparsers(dest="word", metavar="COMMAND", required=True)

    def word(name: str, text: str) -> argparse.ArgumentParser:
        return words.add_parser(name, help=text, description=text)

    for name, text in (
        ("demo", "seed the demo set once and serve it"),
        ("serve", "serve what is in the data folder, without the demo set"),
    ):
        p = word(name, text)
        p.add_argument("--port", type=int, default=8700, help="port on 127.0.0.1 (8700; 0 takes a free one)")
        p.add_argument("--data", type=Path, default=data_folder(), metavar="DIR", help="folder of the user's data")
        p.add_argument("--verbose", action="store_true", help="write the log on stderr too")
    p = word("restore-demo", "put the demo set back as it was shipped; your own patches stay")
    p.add_argument("--data", type=Path, default=data_folder(), metavar="DIR", help="folder of the user's data")
    word("list", "the demo patches, one a line, slug first")
    p = word("render", "render a patch's loop to a 48 kHz WAV file of 32-bit float")
    p.add_argument("patch", metavar="PATCH", help="a demo slug or a patch file")
    p.add_argument("out", metavar="OUT.wav", type=Path)
    p.add_argument("--layer", metavar="ID", help="only this layer, as it stands in the sum")
    p.add_argument("--bars", type=int, metavar="N", help="so many bars of the running loop (1 to 256)")
    p.add_argument(
        "--room",
        metavar="NAME",
        help="through a playback room (flat, main-floor, side-bar, car, phone, laptop, headphones)",
    )
    p.add_argument("--mono", action="store_true", help="both sides carry (L+R)/2")
    p = word("measure", "measure a WAV or FLAC file")
    p.add_argument("audio", metavar="AUDIO", type=Path)
    p.add_argument("--json", action="store_true", help="as JSON")
    p = word("align", "compare two audio files: lag, polarity, phase, sum loss")
    p.add_argument("a", metavar="A", type=Path)
    p.add_argument("b", metavar="B", type=Path)
    p.add_argument("--low", type=float, required=True, metavar="HZ", help="low edge of what is compared")
    p.add_argument("--high", type=float, required=True, metavar="HZ", help="high edge of what is compared")
    p.add_argument("--pitch", type=float, metavar="HZ", help="fundamental; without it the partials are found")
    p.add_argument("--json", action="store_true", help="as JSON")
    p = word("check", "findings of a patch; exit status 1 when one fails")
    p.add_argument("patch", metavar="PATCH", nargs="?", help="a demo slug or a patch file")
    p.add_argument("--set", metavar="NAME", help="every patch of a set instead; the demo set or one of the data folder")
    p.add_argument("--data", type=Path, default=data_folder(), metavar="DIR", help="folder of the user's data")
    p.add_argument("--json", action="store_true", help="as JSON")
    p.add_argument("--apply-fixes", type=Path, metavar="OUT.json", help="write the patch as Cure all leaves it")
    word("schema", "the patch's JSON Schema")
    p = word("bench", "cost of rendering in units of one filter pass of the same run")
    p.add_argument("--json", action="store_true", help="as JSON")
    p.add_argument("--seconds", type=float, default=60.0, help="length of the live part (60)")
    p.add_argument("--rounds", type=int, default=9, help="of each figure, of which the quickest counts (9)")
    word("compile", "compile the loops now (done by itself on first use)")
    return top


# loaded on demand: measuring a file needs no server
_DOORS = {
    "demo": ("serving", "demo"),
    "serve": ("serving", "serve"),
    "restore-demo": ("serving", "restore_demo"),
    "compile": ("compiling", "compile_loops"),
    "list": ("listing", "list_patches"),
    "render": ("rendering", "render"),
    "check": ("checking", "check"),
    "schema": ("patches", "schema"),
    "measure": ("measuring", "measure_file"),
    "align": ("measuring", "align_files"),
    "bench": ("bench", "bench"),
}
_WITH_LOOPS = frozenset({"render", "check", "measure", "align", "bench"})
"""Commands that need the compiled loops. The first use compiles all of them and shows its progress."""


def _problems() -> tuple[type[Exception], ...]:
    """Exceptions that the user can resolve. They are imported when one is raised, so that --help loads nothing."""
    from ..formats import FileProblem
    from ..patch import NoSuchPath, ValueProblem

    return Problem, FileProblem, ValueProblem, NoSuchPath


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command. Returns the exit status."""
    given = _parser().parse_args(argv)
    module, name = _DOORS[given.word]
    try:
        if given.word in _WITH_LOOPS:
            importlib.import_module(".compiling", __package__).compile_on_first_use()
        door = getattr(importlib.import_module(f".{module}", __package__), name)
        return int(door(given))
    except BrokenPipeError:
        sys.stdout = open(os.devnull, "w")  # noqa: PTH123, SIM115
        return 0
    except KeyboardInterrupt:
        return 130
    except OSError as problem:
        where = f"{problem.filename}: " if problem.filename else ""
        print(f"kessel {given.word}: {_one_line(f'{where}{problem.strerror or problem}')}", file=sys.stderr)
        return 2
    except _problems() as problem:
        print(f"kessel {given.word}: {_one_line(str(problem))}", file=sys.stderr)
        return 2


def _one_line(text: str) -> str:
    """Text as one line that any terminal can print."""
    plain = text.encode("utf-8", "replace").decode("utf-8")
    return " ".join("".join(c if c.isprintable() else " " for c in plain).split())
