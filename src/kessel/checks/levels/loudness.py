"""Whether the loudness is within the limits of the set."""

from __future__ import annotations

from ...patch import Edit, number
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits


def _levels_up(e: Evidence, limits: Limits, value: float) -> Fix | None:
    """The trim behind the ceiling if it is too loud, the gain into it if it is too soft, half a unit inside."""
    inside = min(0.5, (limits.loud_lufs - limits.soft_lufs) / 4.0)
    loud = value > limits.loud_lufs
    path = "output.trim" if loud else "output.gain"
    control = number(e.patch, path)
    present = float(getattr(e.patch.output, path.removeprefix("output.")))
    candidates = []
    # a ceiling reduces part of the gain: raise it again by what is missing
    for more in (1.0,) if loud else (1.0, 1.5, 2.2):
        distance = (limits.loud_lufs - inside if loud else limits.soft_lufs + inside) - value
        new = round(present + more * distance, 1)
        if control.low <= new <= control.high:
            candidates.append((f"{control.name} to {control.write(new)}", (Edit(path, new),)))
    return e.cure(
        candidates,
        lambda x: x.sum.loudness.integrated,
        lambda lufs: limits.soft_lufs <= lufs <= limits.loud_lufs,
    )


def loud_enough(e: Evidence, limits: Limits) -> list[Finding]:
    """Integrated loudness between the two limits of the set."""
    value = e.sum.loudness.integrated
    if value is None:
        return []
    soft, loud = value < limits.soft_lufs, value > limits.loud_lufs
    limit = limits.loud_lufs if loud else limits.soft_lufs
    fixes = e.sought(lambda: _levels_up(e, limits, value)) if soft or loud else ()
    return [
        Finding(
            check="loudness",
            verdict="look" if soft or loud else "holds",
            title="Softer than the set's limits"
            if soft
            else "Louder than the set's limits"
            if loud
            else "Loudness is within the set's limits",
            text=f"{value:.1f} LUFS".replace("-", "−"),
            value=value,
            unit="LUFS",
            limit=limit,
            limit_text=f"{limits.soft_lufs:g} to {limits.loud_lufs:g} LUFS".replace("-", "−"),
            limit_name="loud_lufs" if loud else "soft_lufs",
            fixes=fixes,
        )
    ]
