"""Laws of the house: every room and every wing is entered by its door, and the picture of it is true."""

import ast

from .house import FILES, MODULES, PACKAGES, PICTURE, SOURCE, dotted, imported, picture


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


def test_the_picture_of_the_house_is_true():
    """``python -m tests.house`` draws it anew."""
    assert PICTURE.read_text("utf-8") == picture()
