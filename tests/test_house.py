"""Laws of the house: every room and every wing is entered by its door."""

import ast
from pathlib import Path

import kessel

SOURCE = Path(kessel.__file__).parents[1]
FILES = sorted((SOURCE / "kessel").rglob("*.py"))


def dotted(path: Path) -> str:
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


def past_a_door(frm: str, module: str, name: str) -> bool:
    """Whether an import takes something from within a package that it stands outside of, other than from its door.

    The door of a package is its ``__init__``. The rooms of loops and of routes have a door for every module.
    """
    if module.startswith(("kessel.dsp", "kessel.web.routes")):
        return False
    package, _, last = module.rpartition(".")
    if module in PACKAGES:
        package, last = module, name
        if last in DOORS[module] or f"{module}.{last}" not in MODULES:
            return False
    return f"{package}." not in f"{frm}." and package != "kessel"


def doors_of(package: str) -> set[str]:
    path = SOURCE.joinpath(*package.split("."), "__init__.py")
    names = [n for n in ast.walk(ast.parse(path.read_text("utf-8"))) if isinstance(n, ast.Assign)]
    found = [ast.literal_eval(n.value) for n in names if getattr(n.targets[0], "id", "") == "__all__"]
    return set(found[0]) if found else set()


DOORS = {package: doors_of(package) for package in PACKAGES}


def test_rooms_and_wings_are_entered_by_their_doors():
    assert [(dotted(p), *taken) for p in FILES for taken in imported(p) if past_a_door(dotted(p), *taken)] == []


def test_no_private_name_of_another_module_is_imported():
    private = [(dotted(p), *taken) for p in FILES for taken in imported(p) if taken[1].startswith("_")]
    assert [taken for taken in private if taken[2] != "__version__"] == []
