"""No code that nothing uses: of the source alone, what tests alone use counts as dead."""

import re
from pathlib import Path

from pydantic import BaseModel
from vulture import Vulture

import kessel
from kessel.patch import PARTS
from kessel.web import app as _loads_every_model  # noqa: F401

SOURCE = Path(kessel.__file__).parent
DECORATORS = ["@router.*", "@app.*", "@field_validator", "@model_validator", "@event.listens_for", "@act.register"]
NAMES = ["_", "_do_*", "model_config"]
"""Messages of the player and jobs are dispatched; models are read by their library."""
EXCEPTIONS = {
    "spell_out": "for the rungs of the ladder to come",
    "phase_deg": "printed by the command, by the name of the field",
    "sum_loss_overlap_db": "printed by the command, by the name of the field",
    "partials_hz": "printed by the command, by the name of the field",
    "svf_response": "what the loops of the filter are tested against",
    "WRAP_DELAY": "what the wrapping curve is tested against",
    "deaths": "how often a process ended, for those who look at it",
    "list_patches": "a command, loaded by its name",
    "measure_file": "a command, loaded by its name",
    "align_files": "a command, loaded by its name",
    "schema": "a command, loaded by its name",
    "raiseExceptions": "read by logging",
    "isolation_level": "read by SQLite's driver",
    "total_tokens": "read by anyio",
    "atexit": "read by weakref.finalize",
    "should_exit": "read by uvicorn",
    "force_exit": "read by uvicorn",
    "capture_signals": "called by uvicorn",
    "enqueue": "called by logging",
    "impl": "read by SQLAlchemy",
    "cache_ok": "read by SQLAlchemy",
    "process_bind_param": "called by SQLAlchemy",
    "process_result_value": "called by SQLAlchemy",
    "dialect": "the signature is SQLAlchemy's",
    "from_function": "called by numba",
    "ensure_cache_path": "called by numba",
    "get_source_stamp": "called by numba",
    "get_disambiguator": "called by numba",
    "created": "a column that people may read",
}


def fields(model: type[BaseModel]) -> set[str]:
    """Fields of a model and of all models made of it: they are read by name, from documents and declarations."""
    return set(model.model_fields).union(*(fields(m) for m in model.__subclasses__()))


def test_everything_is_used():
    found = Vulture(ignore_names=NAMES, ignore_decorators=DECORATORS)
    found.scavenge([str(SOURCE)], exclude=["*/migrations/*"])
    templates = "\n".join(p.read_text("utf-8") for p in SOURCE.rglob("*.html"))
    used = set(re.findall(r"\w+", templates)) | fields(BaseModel) | set(EXCEPTIONS)
    used |= {kind.processor.rpartition(":")[2] for kind in PARTS.values()}
    dead = [
        f"{u.filename.relative_to(SOURCE)}:{u.first_lineno} {u.name}"
        for u in found.get_unused_code()
        if u.name not in used
    ]
    assert dead == []
