"""The check command: one patch, or every patch of a set."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from ..checks import UNJUDGED, WORSE, Applied, Evidence, Finding, Limits, cure_all, with_harms
from ..checks import check as findings_of
from ..demo import SET_NAME, demo_patches
from ..engine import RenderCache, add_audio_resolver
from ..formats import find_audio, write_patch
from ..library import Library, LibraryProblem
from ..patch import Patch
from ..processes import share
from .command import Problem
from .patches import patch_named


def check(given: argparse.Namespace) -> int:
    """Print what holds and what fails."""
    if (given.patch is None) == (given.set is None):
        raise Problem("name a patch, or a set with --set NAME")
    if given.set is not None:
        if given.apply_fixes is not None:
            raise Problem("--apply-fixes writes one patch: name a patch instead of a set")
        return _check_set(given)
    return _check_patch(given)


def _check_patch(given: argparse.Namespace) -> int:
    patch = patch_named(given.patch)
    if given.apply_fixes is not None and not given.apply_fixes.parent.is_dir():
        raise Problem(f"there is no folder {given.apply_fixes.parent} to write to")
    evidence = Evidence(patch, RenderCache(shares=True))
    findings = with_harms(findings_of(evidence), evidence)
    applied: tuple[Applied, ...] = ()
    if given.apply_fixes is not None:
        cured = cure_all(patch, takes=evidence.takes)
        applied = cured.applied
        write_patch(given.apply_fixes, cured.patch)
    if given.json:
        stages = [{"path": p, "peak_dbfs": peak, "rms_dbfs": rms} for p, (peak, rms) in evidence.stages.items()]
        unjudged = {check: why for check, why in UNJUDGED.items() if check not in {f.check for f in findings}}
        found = {
            "patch": patch.name, "findings": [f.plain() for f in findings], "unjudged": unjudged, "stages": stages,
        }  # fmt: skip
        _print(found | ({"applied": [a.plain() for a in applied]} if given.apply_fixes is not None else {}))
    else:
        _print_findings(findings)
        for a in applied:
            print(f"applied: {a.words}")
    return 1 if any(f.verdict == "fails" for f in findings) else 0


def _print_findings(findings: Sequence[Finding]) -> None:
    for f in findings:
        print(f"{f.verdict:<6} {f.title}: {f.text} (limit: {f.limit_text})")
        for fix in f.fixes if f.verdict == "fails" else ():
            print(f"       fix: {fix.label}{f' ({fix.loudness})' if fix.loudness else ''}")
            for harm in fix.harms or ():
                print(f"            but then: {harm}")


def _print(found: dict[str, Any]) -> None:
    print(json.dumps(found, indent=1, ensure_ascii=False))


def _patches_of(name: str, folder: Path) -> tuple[dict[str, Patch], Limits]:
    """The patches of a set by slug, and its limits. Raises Problem."""
    if (folder / "kessel.db").exists():
        try:
            library = Library(folder, beside=True)
        except LibraryProblem as problem:
            raise Problem(str(problem)) from None
        try:
            for card in library.sets():
                if card.name.lower() == name.lower() or (card.demo and name.lower() == "demo"):
                    add_audio_resolver(lambda word: find_audio(folder, word))
                    patches = {c.slug: library.load(c.slug) for c in library.patches(card.id)}
                    return patches, Limits.model_validate(card.limits)
            names = [c.name for c in library.sets()]
        finally:
            library.close()
    else:
        names = [SET_NAME]
    if name.lower() in ("demo", SET_NAME.lower()):
        return demo_patches(), Limits()
    raise Problem(f"there is no set “{name[:60]}”: there are {', '.join(names) or 'none yet'}")


def _check_set(given: argparse.Namespace) -> int:
    patches, limits = _patches_of(given.set, given.data)

    def checked(numbered: tuple[int, Patch]) -> list[Finding]:
        n, patch = numbered
        print(f"checking {n} of {len(patches)}: {patch.name}", file=sys.stderr, flush=True)
        return findings_of(Evidence(patch, RenderCache(), seeks=False), limits)

    found = dict(zip(patches, share([*enumerate(patches.values(), 1)], checked), strict=True))
    if given.json:
        rows = [{"slug": s, "patch": patches[s].name, "findings": [f.plain() for f in fs]} for s, fs in found.items()]
        _print({"set": given.set, "patches": rows})
    else:
        _table(patches, found)
    return 1 if any(f.verdict == "fails" for fs in found.values() for f in fs) else 0


def _table(patches: dict[str, Patch], found: dict[str, list[Finding]]) -> None:
    """One patch per line: its worst verdict, and what does not hold."""
    wide = max((len(p.name) for p in patches.values()), default=8)
    for slug, findings in found.items():
        worst = max((f.verdict for f in findings), key=lambda v: WORSE[v], default="")
        bad = [f"{f.check} ({f.text})" for f in findings if f.verdict != "holds"]
        print(f"{patches[slug].name:<{wide}}  {worst or '-':<6} {'; '.join(bad) or 'all hold'}")
