"""The type of paths: addresses of controls and parts."""

from __future__ import annotations


class ControlPath(str):
    """The address of a control or part, such as ``layers.body.stages.filter.cutoff``.

    A step is a field name, or the id of an item if the field is a list. It is a string, so that documents and messages
    hold it as text; nothing else takes paths apart.
    """

    __slots__ = ()

    @classmethod
    def of(cls, *steps: str) -> ControlPath:
        """The path of some steps; empty steps are left out."""
        return cls(".".join(s for s in steps if s))

    @property
    def steps(self) -> tuple[str, ...]:
        """All steps. An empty path has one empty step."""
        return tuple(self.split("."))

    @property
    def root(self) -> str:
        """The first step, such as ``layers``."""
        return self.partition(".")[0]

    @property
    def name(self) -> str:
        """The last step: the field of a control, or the id of a part in a list."""
        return self.rpartition(".")[2]

    @property
    def parent(self) -> ControlPath:
        """The path without its last step; empty for a single step."""
        return ControlPath(self.rpartition(".")[0])

    @property
    def layer(self) -> str:
        """The id of the layer that it belongs to; empty if there is none."""
        steps = self.steps
        return steps[1] if steps[0] == "layers" and len(steps) > 1 else ""

    def below(self, *steps: str) -> ControlPath:
        """The path of what is some steps below it."""
        return ControlPath.of(self, *steps)

    def is_below(self, other: str) -> bool:
        """Whether it is the path of something below another one."""
        return self.startswith(f"{other}.")
