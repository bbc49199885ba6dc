"""Compilation of the loops: ahead of time, cached on disk, without the interpreter's lock."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Annotated, Any, TypeVar, get_args, get_type_hints

import numpy as np
from numpy.typing import NDArray

RATE = 48000
QUANTUM = 1024

F = TypeVar("F", bound=Callable[..., Any])

os.environ.setdefault("NUMBA_CACHE_LOCATOR_CLASSES", f"{__package__}.compiled.ByVersion")
# lets the compiler join independent sums into one instruction: half-bands and limiter depend on it
os.environ.setdefault("NUMBA_SLP_VECTORIZE", "1")

import numba  # noqa: E402

CHECKED = os.environ.get("KESSEL_CHECKED") == "1"
"""Whether every call of a kernel checks the types of its arguments, as in the tests. It costs up to 7 µs a call."""
_MADE: list[Any] = []
"""What owns the compiled code."""

I1 = Annotated[NDArray[np.int64], "i8[::1]"]
I2 = Annotated[NDArray[np.int64], "i8[:,::1]"]
U2 = Annotated[NDArray[np.uint64], "u8[:,::1]"]
F1 = Annotated[NDArray[np.float64], "f8[::1]"]
F2 = Annotated[NDArray[np.float64], "f8[:,::1]"]
F3 = Annotated[NDArray[np.float64], "f8[:,:,::1]"]
"""Arrays in the records of kernels, with their compiled types."""


def kernel(signature: str, *records: type) -> Callable[[F], F]:
    """Compile a loop for one signature, with IEEE semantics and without checks for division by zero.

    records: named tuples of arrays that the signature names. Their fields are annotated with F1, F2 and so on. What is
    called is numba's dispatcher. With records it is the compiled code itself, unless ``CHECKED`` is set: it takes its
    arguments on trust, since checking every array costs more than some of these loops.
    """
    named = vars(numba.types) | {record.__name__: _compiled_type(record) for record in records}
    settings: dict[str, Any] = {
        "cache": True, "nogil": True, "error_model": "numpy", "fastmath": False, "no_cfunc_wrapper": True,
    }  # fmt: skip

    def compiled(function: F) -> F:
        made: Any = numba.njit(eval(signature, {}, named), **settings)(function)
        _MADE.append(made)
        if CHECKED or not records:
            return made  # type: ignore[no-any-return]
        (only,) = made.overloads.values()
        return only.entry_point  # type: ignore[no-any-return]

    return compiled


def _compiled_type(record: type) -> Any:
    types: Any = numba.types
    hints = get_type_hints(record, include_extras=True)
    codes = (get_args(hints[name])[1] for name in record._fields)  # type: ignore[attr-defined]
    made = [eval(code, {}, vars(types)) for code in codes]
    if len(set(made)) == 1:
        return types.NamedUniTuple(made[0], len(made), record)
    return types.NamedTuple(made, record)


def portion(function: F) -> F:
    """A loop over at most one quantum, for kernels that process several.

    States are flushed of denormals once per quantum, so that several at once give the same bits as one by one.
    """
    # only kernels call it: what Python would call takes long to compile
    settings: dict[str, Any] = {"no_cpython_wrapper": True, "no_cfunc_wrapper": True}
    made: F = numba.njit(function, error_model="numpy", fastmath=False, **settings)
    return made


@portion
def put(line: Any, values: Any) -> None:
    """Copy values into a line of the same length. An assignment to a slice takes the compiler seconds: it compiles the
    text of the error for another length.
    """
    for i in range(line.size):
        line[i] = values[i]


def inline(function: F) -> F:
    """A small function that is inlined into kernels."""
    made: F = numba.njit(function, inline="always", error_model="numpy")
    return made
