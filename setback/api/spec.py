"""The OpenAPI document: model names as people know them, each once."""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Any

from ..services.both_versions import Difference

ERROR = {
    "type": "object",
    "required": ["error"],
    "properties": {
        "error": {
            "type": "object",
            "required": ["message", "fields", "suggest"],
            "properties": {
                "message": {"type": "string"},
                "fields": {"type": "object", "additionalProperties": {"type": "string"}},
                "suggest": {"type": "object", "additionalProperties": {"type": "number"}},
                "differences": {
                    "type": "array",
                    "description": "Of a stale edit: where it differs from what stands now",
                    "items": Difference.model_json_schema(),
                },
                "recorded": {"type": "boolean", "description": "It was done long ago, under this key"},
                "over": {
                    "type": "object",
                    "description": "Of a stale edit: fields that save it over what stands now",
                    "additionalProperties": True,
                },
            },
        }
    },
}


def tidy(spec: dict[str, Any]) -> dict[str, Any]:
    """Nested models come out as ``Outer.Inner`` once per outer model: fold them, and state our error shape."""
    schemas = spec.get("components", {}).get("schemas", {})
    names = {name: name.rsplit(".", 1)[-1] for name in schemas}
    text = json.dumps(spec)
    for name in sorted(names, key=len, reverse=True):
        text = text.replace(f'"#/components/schemas/{name}"', f'"#/components/schemas/{names[name]}"')
    folded: dict[str, Any] = json.loads(text)
    schemas = folded.get("components", {}).get("schemas", {})
    folded.setdefault("components", {})["schemas"] = dict(sorted((names[n], body) for n, body in schemas.items()))
    folded["components"]["schemas"]["ValidationError"] = ERROR
    folded["components"]["schemas"]["HTTPError"] = ERROR
    _describe(folded)
    _refuse(folded)
    return folded


REFUSALS = {
    "421": "Sent to a name this server does not answer to.",
    "503": "The database is busy; nothing was saved.",
}
REFUSED_WRITES = {
    "403": "Came from a page that is not Setback's own; nothing was changed.",
    "409": "A stale edit, or a rule of the job that forbids the step now.",
    "413": "Larger than is taken.",
    "415": "The body does not say that it is JSON.",
}


def _refuse(spec: dict[str, Any]) -> None:
    """Every operation may be refused in these ways; each answer has the one shape of an error."""
    body = {"content": {"application/json": {"schema": {"$ref": "#/components/schemas/HTTPError"}}}}
    for operations in spec.get("paths", {}).values():
        for method, operation in operations.items():
            refusals = REFUSALS if method == "get" else REFUSALS | REFUSED_WRITES
            for status, description in refusals.items():
                operation["responses"].setdefault(status, {"description": description, **body})


def _describe(spec: dict[str, Any]) -> None:
    """Say of every field and parameter what it is: its own words where it has them, else those of its name.

    A name means the same wherever it stands, with its unit; where it does not, the entry is ``Model.name``.
    """
    words: dict[str, str] = json.loads((files("setback.api") / "words.json").read_text(encoding="utf-8"))
    for model, schema in spec["components"]["schemas"].items():
        for name, field in schema.get("properties", {}).items():
            _say(field, words.get(f"{model}.{name}") or words.get(name))
    for operations in spec.get("paths", {}).values():
        for operation in operations.values():
            for parameter in operation.get("parameters", []):
                _say(parameter, parameter.get("schema", {}).get("description") or words.get(parameter["name"]))


def _say(described: dict[str, Any], words: str | None) -> None:
    if words:
        described.setdefault("description", words)
