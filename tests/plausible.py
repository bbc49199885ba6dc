"""Requests that a page might send, and some that it never would: every route, with values that nearly fit."""

from __future__ import annotations

import random
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from fastapi import FastAPI

from kessel.demo import demo_patches
from kessel.desk import add_part, duplicate_layer
from kessel.desk.editing import notes as note_edits
from kessel.patch import CHAIN_KINDS, MOVERS, STAGES, Edit, NoSuchPath, Patch, ValueProblem, apply

ODD = [
    "",
    " ",
    "0",
    "-1",
    "1e9",
    "nan",
    "inf",
    "x",
    "layers",
    "worked",
    "\u200b",
    "é" * 70,
    "a.b.c",
    "..",
    "9" * 30,
    "on",
    "off",
    "sum",
    "all",
    "1/16",
    "A",
    "B",
    "1",
    "2",
]
NUMBERS = [0, 1, -1, 2, 3, 7, 12, 24, 63, 127, 128, 255, 999, 2**31, 2**63, 2**70, 0.5, -0.0, 1e-9, 1e308]


def everything() -> Patch:
    """A patch with every kind of part in it."""
    found = demo_patches()["sluice-gate"]
    lists = [
        ("layers.body.chain", [k.word for k in CHAIN_KINDS][::2]),
        ("worked", [k.word for k in CHAIN_KINDS][1::2]),
        ("layers.body.stages", [k.word for k in STAGES][:5]),
    ]
    lists += [
        ("movers", [k.word for k in MOVERS]),
        ("layers.edge.sources", ("noise", "sample")),
        ("returns", ("return",)),
    ]
    for path, kinds in lists:
        for kind in kinds:
            try:
                found = apply(found, add_part(found, path, kind)[0])
            except ValueProblem:
                continue
    for path in (
        "worked.multiband.bands",
        "layers.body.chain.eq.bands",
        "worked.branch.paths",
        "layers.body.chain.branch.paths",
    ):
        with suppress(ValueProblem, NoSuchPath):
            found = apply(found, add_part(found, path, {"bands": "band", "paths": "mode"}[path.rsplit(".", 1)[1]])[0])
    return found


@dataclass(frozen=True)
class Ask:
    """One request."""

    method: str
    url: str
    query: dict[str, Any] = field(default_factory=dict)
    form: dict[str, Any] | None = None
    json: Any = None


def paths_in(tree: Any, at: str = "") -> list[str]:
    """Every path into a document, by ids where there are some."""
    found = [at] if at else []
    if isinstance(tree, dict):
        for key, value in tree.items():
            found += paths_in(value, f"{at}.{key}" if at else key)
    elif isinstance(tree, list):
        for item in tree:
            if isinstance(item, dict) and "id" in item:
                found += paths_in(item, f"{at}.{item['id']}")
    return found


def words_in(app_words: list[str], document: Any) -> list[str]:
    """Ids and kinds in a document, and words that the routes know."""
    found = set(app_words)

    def walk(tree: Any) -> None:
        if isinstance(tree, dict):
            found.update(str(tree[k]) for k in ("id", "kind", "name", "shape", "mover", "hatch") if k in tree)
            for value in tree.values():
                walk(value)
        elif isinstance(tree, list):
            for value in tree:
                walk(value)

    walk(document)
    return sorted(found)


class Asker:
    """Makes requests for every operation of an application."""

    def __init__(self, app: FastAPI, slug: str, document: Any, words: list[str], rng: random.Random) -> None:
        self.rng, self.slug = rng, slug
        self.schema = app.openapi()
        self.paths = paths_in(document)
        self.words = words_in(words, document)
        self.operations = [(u, m, o) for u, ops in self.schema["paths"].items() for m, o in ops.items()]

    def one(self) -> Ask:
        """A request to a route of any kind."""
        url, method, operation = self.rng.choice(self.operations)
        query = {}
        for parameter in operation.get("parameters", ()):
            value = self._value(parameter["name"], parameter.get("schema", {}))
            if parameter["in"] == "path":
                url = url.replace("{" + parameter["name"] + "}", str(value).replace("/", "-") or "x")
            elif parameter["in"] == "query" and (parameter.get("required") or self.rng.random() < 0.6):
                query[parameter["name"]] = value
        content = operation.get("requestBody", {}).get("content", {})
        form = json = None
        for kind, body in content.items():
            filled = self._object(body["schema"])
            if kind == "application/json":
                json = filled
            else:
                form = filled
        return Ask(method.upper(), url, query, form, json)

    def _object(self, schema: dict[str, Any]) -> Any:
        schema = self._meant(schema)
        required = schema.get("required", ())
        return {
            name: self._value(name, inner)
            for name, inner in schema.get("properties", {}).items()
            if name in required or self.rng.random() < 0.7
        }

    def _meant(self, schema: dict[str, Any]) -> dict[str, Any]:
        if "$ref" in schema:
            return self.schema["components"]["schemas"][schema["$ref"].rsplit("/", 1)[-1]]
        options = [o for o in schema.get("anyOf", ()) if o.get("type") != "null"]
        return self._meant(self.rng.choice(options)) if options else schema

    def _value(self, name: str, schema: dict[str, Any]) -> Any:
        schema, rng = self._meant(schema), self.rng
        if name == "slug":
            return self.slug if rng.random() < 0.93 else rng.choice(ODD)
        if rng.random() < 0.04:
            return rng.choice(ODD)
        if "enum" in schema:
            return rng.choice(schema["enum"])
        kind = schema.get("type")
        if kind in ("integer", "number"):
            low, high = schema.get("minimum", -4), schema.get("maximum", 64)
            if rng.random() < 0.2:
                return rng.choice(NUMBERS)
            return rng.randint(int(low), int(high)) if kind == "integer" else rng.uniform(low, high)
        if kind == "boolean":
            return rng.random() < 0.5
        if kind == "array":
            inner = schema.get("items", {})
            if "prefixItems" in schema:
                return [self._value("", i) for i in schema["prefixItems"]]
            return [self._value(name, inner) for _ in range(rng.choice((0, 1, 2, 5)))]
        if kind == "object":
            return self._object(schema)
        if name in ("path", "target", "place", "other") or rng.random() < 0.15:
            return rng.choice(self.paths)
        return rng.choice(self.words) if rng.random() < 0.85 else rng.choice(ODD)


def heavy() -> Patch:
    """A patch that is valid and takes long to render: eight layers of sixteen copies with FM, every effect, eight bars."""
    found = everything()
    found = apply(found, note_edits.repeated(found, 8)[0])
    while len(found.layers) < 8:
        found = apply(found, duplicate_layer(found, found.layers[1].id)[0])
    edits = []
    for layer in found.layers:
        edits.append(Edit(f"layers.{layer.id}.unison.copies", 16))
        edits.append(Edit(f"layers.{layer.id}.mute", False))
    for edit in edits:
        with suppress(ValueProblem, NoSuchPath):
            found = apply(found, [edit])
    return found.model_copy(update={"name": "Heavy"})
