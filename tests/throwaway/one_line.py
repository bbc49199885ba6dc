"""Load a module as if one line stood in it that does not."""

import sys
from importlib.machinery import PathFinder, SourceFileLoader


class _Loader(SourceFileLoader):
    def __init__(self, name: str, path: str, before: str, line: str) -> None:
        super().__init__(name, path)
        self._before, self._line = before, line

    def path_stats(self, path):
        """No compiled form of it is looked for."""
        raise OSError

    def get_data(self, path):
        """The source with the line before the mark."""
        text = super().get_data(path).decode()
        assert text.count(self._before) == 1
        return text.replace(self._before, f"{self._line}\n{self._before}").encode()


class OneLine:
    """Finds the module, and adds ``line`` before the line ``before``."""

    def __init__(self, module: str, before: str, line: str) -> None:
        self._module, self._before, self._line = module, before, line

    def find_spec(self, name, path=None, target=None):
        """Of the one module only."""
        if name != self._module:
            return None
        spec = PathFinder.find_spec(name, path, target)
        spec.loader = _Loader(name, spec.origin, self._before, self._line)
        return spec


def add(module: str, before: str, line: str) -> None:
    """Let a module be loaded with one line more."""
    sys.meta_path.insert(0, OneLine(module, before, line))
