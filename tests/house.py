"""The picture of the house, drawn from its imports: ``python -m tests.house`` writes docs/house.svg."""

import ast
from graphlib import TopologicalSorter
from pathlib import Path

import kessel

SOURCE = Path(kessel.__file__).parents[1]
PICTURE = SOURCE.parent / "docs" / "house.svg"
FILES = sorted((SOURCE / "kessel").rglob("*.py"))
TOP, ROW, BOX, COLUMN = 80, 44, 690, 26


def dotted(path: Path) -> str:
    """The dotted name of a file's module."""
    parts = path.relative_to(SOURCE).with_suffix("").parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


PACKAGES = {dotted(p) for p in FILES if p.name == "__init__.py"}
MODULES = {dotted(p) for p in FILES}


def imported(path: Path) -> list[tuple[str, str]]:
    """What a file imports of Kessel: the module, and the name taken from it."""
    here = dotted(path).split(".")
    package = here if path.name == "__init__.py" else here[:-1]
    found = []
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            found += [(a.name, "") for a in node.names]
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1] if node.level else []
            module = ".".join([*base, *([node.module] if node.module else [])])
            found += [(module, a.name) for a in node.names]
    return [(module, name) for module, name in found if module in MODULES]


def room_of(module: str) -> str:
    """The room a module stands in; nothing for the package itself."""
    parts = module.split(".")
    return parts[1] if len(parts) > 1 and f"kessel.{parts[1]}" in PACKAGES else ""


def rooms() -> dict[str, set[str]]:
    """Every room, with the rooms that it imports from."""
    found: dict[str, set[str]] = {}
    for path in FILES:
        here = room_of(dotted(path))
        if here:
            found.setdefault(here, set()).update({room_of(m) for m, _ in imported(path)} - {"", here})
    return found


def wings(room: str) -> list[tuple[str, int]]:
    """The wings of a room, with how many modules each has, and the modules that stand in none."""
    prefix = f"kessel.{room}."
    own = sorted(p for p in PACKAGES if p.startswith(prefix) and p.count(".") == 2 and not p.endswith("migrations"))
    counted = [(p.rsplit(".", 1)[1], sum(m.startswith(f"{p}.") for m in MODULES - PACKAGES)) for p in own]
    loose = sum(m.startswith(prefix) and m.count(".") == 2 for m in MODULES - PACKAGES)
    return [*counted, ("", loose)]


def picture() -> str:
    """The house as SVG: a row for every room, above those it imports from, with its wings and a dot for each import."""
    graph = rooms()
    order = list(reversed(list(TopologicalSorter({r: sorted(on) for r, on in sorted(graph.items())}).static_order())))
    height = TOP + ROW * len(order) + 10
    column = {room: BOX + 30 + COLUMN * i for i, room in enumerate(order)}
    width = BOX + 30 + COLUMN * len(order) + 40
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" font-family="sans-serif" font-size="13">',
        f'<rect width="{width}" height="{height}" fill="#fbf8f1"/>',
    ]
    for room, x in column.items():
        lines.append(f'<text transform="translate({x + 4} {TOP - 8}) rotate(-45)">{room}</text>')
        lines.append(f'<path d="M{x},{TOP} V{height - 10}" stroke="#ddd6c5"/>')
    for i, room in enumerate(order):
        y = TOP + ROW * i
        lines.append(f'<rect x="10" y="{y}" width="{BOX}" height="{ROW - 6}" fill="#fff" stroke="#4a4438"/>')
        lines.append(f'<text x="22" y="{y + 24}" font-weight="bold">{room}</text>')
        lines.append(f'<path d="M{BOX + 10},{y + 19} H{width - 40}" stroke="#ddd6c5"/>')
        lines += [f'<circle cx="{column[to]}" cy="{y + 19}" r="5" fill="#4a4438"/>' for to in sorted(graph[room])]
        x = 110
        for word in [f"{name or 'ground'} {count}" for name, count in wings(room) if count]:
            lines.append(f'<rect x="{x}" y="{y + 7}" width="{7 * len(word) + 14}" height="25" fill="#f1ece0"/>')
            lines.append(f'<text x="{x + 7}" y="{y + 24}">{word}</text>')
            x += 7 * len(word) + 20
    return "\n".join([*lines, "</svg>"]) + "\n"


if __name__ == "__main__":
    PICTURE.write_text(picture(), "utf-8")
