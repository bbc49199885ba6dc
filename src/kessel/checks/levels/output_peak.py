"""Whether the output clips in a converter."""

from __future__ import annotations

from ...patch import Edit, Output, write
from ..evidence import Evidence
from ..finding import Finding, Fix, Limits

_SPARE = 0.2


def _fixes(e: Evidence, limits: Limits, over: float) -> tuple[Fix, ...]:
    output: Output = e.patch.output
    fixes: list[Fix] = []
    limit = round(min(limits.peak_dbtp - _SPARE - output.trim, 0.0), 1)
    candidates: list[tuple[str, tuple[Edit, ...]]] = []
    if limit >= -24.0:
        edits: tuple[Edit, ...] = (Edit("output.ceiling.on", True), Edit("output.ceiling.limit", limit))
        candidates.append((f"Set the ceiling to {write(limit, 'dB')}", edits))
    trim = round(output.trim - over - _SPARE, 1)
    if trim >= -24.0:
        candidates.append((f"Trim the output to {write(trim, 'dB')}", (Edit("output.trim", trim),)))
    for label, edits in candidates:
        after = e.with_edits(edits).sum.true_peak_dbtp
        if after is not None and after <= limits.peak_dbtp:
            fixes.append(Fix(label, edits, after))
    return tuple(fixes)


def output_peak(e: Evidence, limits: Limits) -> list[Finding]:
    """True peak of the output."""
    peak = e.sum.true_peak_dbtp
    if peak is None:
        return []
    fails = peak > limits.peak_dbtp
    before = e.loop.peak_before_ceiling
    return [
        Finding(
            check="output-peak",
            verdict="fails" if fails else "holds",
            title="Peak level is too high" if fails else "Peak level is within the limit",
            text=f"{write(peak, 'dB')}TP",
            value=peak,
            unit="dBTP",
            limit=limits.peak_dbtp,
            limit_text=f"{write(limits.peak_dbtp, 'dB')}TP",
            limit_name="peak_dbtp",
            fixes=e.sought(lambda: _fixes(e, limits, peak - limits.peak_dbtp)) if fails else (),
            evidence=(("peak_before_ceiling_linear", before),),
        )
    ]
