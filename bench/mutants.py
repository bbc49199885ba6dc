"""How many small faults the tests find: python bench/mutants.py [--count N] [--seed S] [--only PACKAGE]

Takes a seeded sample of places in the core packages that have no compiled loops, puts one fault into each (a comparison,
an operator, a number, a condition, a return value, a statement), and runs the tests of the package until one fails.
Prints every fault and whether a test found it, and the share of each package. docs/reliability.md has the last figures.

Works on copies of the tree, one for each process. A fault that hangs the tests counts as found.
"""

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

ROOT = Path(__file__).parents[1]
SOURCE = Path("src/kessel")
TESTS = {
    "patch": [
        "tests/patch",
        "tests/formats",
        "tests/desk/editing",
        "tests/engine/effects",
        "tests/web/test_new_routes.py",
    ],
    "formats": ["tests/formats", "tests/library", "tests/cli"],
    "library": ["tests/library", "tests/desk/test_open_patch.py", "tests/web/test_guard_and_routes.py"],
    "measure": ["tests/measure", "tests/checks"],
    "checks": ["tests/checks", "tests/desk/measuring", "tests/web/test_checks_routes.py"],
}
"""The tests of every package, the nearest first."""
_SECONDS = 900
_COMPARE = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
_OPERATOR = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And}


@dataclass(frozen=True)
class Fault:
    """A fault: its file, the line, what was and what is there, and the whole text with it."""

    package: str
    path: Path
    line: int
    before: str
    after: str
    text: str


def places(tree: ast.Module) -> list[ast.AST]:
    """The nodes that can be changed. Annotations, docstrings, imports and lists of names are left alone."""
    found: list[ast.AST] = []

    def visit(node: ast.AST) -> None:
        if changed(node) is not None:
            found.append(node)
        for name, value in ast.iter_fields(node):
            if name in ("annotation", "returns", "decorator_list"):
                continue
            for child in value if isinstance(value, list) else [value]:
                if isinstance(child, ast.AST) and not _left_alone(child):
                    visit(child)

    visit(tree)
    return found


def _left_alone(node: ast.AST) -> bool:
    if isinstance(node, ast.Import | ast.ImportFrom):
        return True
    if isinstance(node, ast.Assign) and any(isinstance(t, ast.Name) and t.id == "__all__" for t in node.targets):
        return True
    return isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)


def changed(node: ast.AST) -> ast.AST | None:
    """The node with a fault. None if there is none for it."""
    if isinstance(node, ast.Compare) and type(node.ops[0]) in _COMPARE:
        return ast.Compare(node.left, [_COMPARE[type(node.ops[0])](), *node.ops[1:]], node.comparators)
    if isinstance(node, ast.BinOp) and type(node.op) in _OPERATOR:
        return ast.BinOp(node.left, _OPERATOR[type(node.op)](), node.right)
    if isinstance(node, ast.BoolOp):
        return ast.BoolOp(_OPERATOR[type(node.op)](), node.values)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        return node.operand
    if isinstance(node, ast.Constant) and isinstance(node.value, bool):
        return ast.Constant(not node.value)
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
        return ast.Constant(node.value * 2 if node.value else 1)
    if isinstance(node, ast.If | ast.IfExp):
        made = type(node)(**dict(ast.iter_fields(node)))
        made.test = ast.UnaryOp(ast.Not(), node.test)
        return made
    if isinstance(node, ast.Return) and not (node.value is None or _is_none(node.value)):
        return ast.Return(ast.Constant(None))
    if isinstance(node, ast.AugAssign) or (isinstance(node, ast.Expr) and isinstance(node.value, ast.Call)):
        return ast.Pass()
    return None


def _is_none(node: ast.AST) -> bool:
    return isinstance(node, ast.Constant) and node.value is None


class _Put(ast.NodeTransformer):
    """Puts one node in the place of another."""

    def __init__(self, old: ast.AST, new: ast.AST) -> None:
        self.old, self.new = old, new

    def visit(self, node: ast.AST) -> ast.AST:
        return self.new if node is self.old else self.generic_visit(node)


def fault_at(package: str, path: Path, number: int) -> Fault:
    """The fault at the place of this number in a file."""
    tree = ast.parse((ROOT / path).read_text("utf-8"))
    node = places(tree)[number]
    new = changed(node)
    assert new is not None
    before, after, line = ast.unparse(node), ast.unparse(ast.fix_missing_locations(new)), getattr(node, "lineno", 0)
    text = ast.unparse(ast.fix_missing_locations(_Put(node, new).visit(tree)))
    return Fault(package, path, line, before.split("\n")[0][:90], after.split("\n")[0][:90], text)


def sample(count: int, seed: int, only: str) -> list[Fault]:
    """Faults of every package, as many for each."""
    chance = random.Random(seed)
    found = []
    packages = [only] if only else list(TESTS)
    for package in packages:
        every = [
            (path.relative_to(ROOT), n)
            for path in sorted((ROOT / SOURCE / package).rglob("*.py"))
            if "migrations" not in path.parts
            for n in range(len(places(ast.parse(path.read_text("utf-8")))))
        ]
        found += [fault_at(package, *place) for place in chance.sample(every, min(count // len(packages), len(every)))]
    return found


def copy_of_tree(folder: Path) -> Path:
    for name in ("src", "tests", "bench"):
        shutil.copytree(ROOT / name, folder / name, ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copy(ROOT / "pyproject.toml", folder)
    return folder


def is_found(fault: Fault, tree: Path) -> bool:
    """Whether a test fails with the fault."""
    file = tree / fault.path
    kept = file.read_text("utf-8")
    file.write_text(fault.text, encoding="utf-8")
    try:
        environment = os.environ | {"PYTHONPATH": str(tree / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
        words = [
            sys.executable,
            "-m",
            "pytest",
            "-x",
            "-q",
            "-m",
            "not page",
            "-p",
            "no:cacheprovider",
            "-p",
            "no:xdist",
        ]
        done = subprocess.run(
            [*words, *TESTS[fault.package]], cwd=tree, env=environment, capture_output=True, timeout=_SECONDS
        )
        return done.returncode != 0
    except subprocess.TimeoutExpired:
        return True
    finally:
        file.write_text(kept, encoding="utf-8")


def main() -> int:
    given = argparse.ArgumentParser()
    given.add_argument("--count", type=int, default=75)
    given.add_argument("--seed", type=int, default=1)
    given.add_argument("--only", default="", choices=["", *TESTS])
    given.add_argument("--processes", type=int, default=2)
    words = given.parse_args()
    faults = sample(words.count, words.seed, words.only)
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(words.processes) as pool:
        trees: Queue[Path] = Queue()
        for n in range(words.processes):
            trees.put(copy_of_tree(Path(folder) / f"tree-{n}"))

        def judge(fault: Fault) -> bool:
            tree = trees.get()
            try:
                found = is_found(fault, tree)
            finally:
                trees.put(tree)
            verdict = "found" if found else "LIVES"
            print(f"{verdict} {fault.path}:{fault.line}: {fault.before}  ->  {fault.after}", flush=True)
            return found

        results = list(pool.map(judge, faults))
    for package in sorted({f.package for f in faults}):
        own = [r for f, r in zip(faults, results, strict=True) if f.package == package]
        print(f"{package:<8} {sum(own)} of {len(own)} found")
    live = results.count(False)
    print(f"{live} of {len(faults)} live: {100 * live / len(faults):.0f} %")
    return 0


if __name__ == "__main__":
    sys.exit(main())
