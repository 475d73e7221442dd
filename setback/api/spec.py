"""The OpenAPI document: model names as people know them, each once."""

from __future__ import annotations

import json
from typing import Any

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
    return folded
