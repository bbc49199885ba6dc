"""The limits of a set, as they are shown and typed."""

from __future__ import annotations

from pydantic import ValidationError

from ...checks import Limits
from ...patch import Unit, ValueProblem, read, write

_UNITS: dict[str, Unit] = {"_db": "dB", "_dbtp": "dB", "_dbfs": "dB", "_lufs": "dB", "_hz": "Hz"}


def _unit(name: str) -> Unit | None:
    return next((u for end, u in _UNITS.items() if name.endswith(end)), None)


def limit_title(name: str) -> str:
    """The name of a limit."""
    return Limits.model_fields[name].title or name


def limit_words(limits: Limits, name: str) -> str:
    """A limit with its unit."""
    value = float(getattr(limits, name))
    if name.endswith("_share"):
        return write(100.0 * value, "%")
    if name.endswith("_lufs"):
        return f"{value:g} LUFS".replace("-", "−")
    unit = _unit(name)
    return write(value, unit) if unit is not None else f"{value:g}"


def changed_limit(limits: Limits, name: str, text: str) -> Limits:
    """The limits with one changed. Raises ValueProblem."""
    if name not in Limits.model_fields:
        raise ValueProblem("there is no such limit")
    typed = text.strip()
    for word in ("LUFS", "lufs", "dBTP", "dBFS"):
        typed = typed.replace(word, "dB")
    value = read(typed, "%" if name.endswith("_share") else _unit(name) or "dB")
    if name.endswith("_share"):
        value /= 100.0
    try:
        return Limits.model_validate(limits.model_dump() | {name: value})
    except ValidationError:
        info = Limits.model_fields[name]
        low, high = (next(getattr(m, w) for m in info.metadata if hasattr(m, w)) for w in ("ge", "le"))
        raise ValueProblem(f"{limit_title(name)} goes from {low:g} to {high:g}, not {text.strip()[:24]}") from None
