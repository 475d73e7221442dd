"""Test methods: each a file of its own in this folder, found by itself. Adding one is one file and one test."""

from __future__ import annotations

import importlib
import pkgutil

from .method import Field, Found, Method, Property, Step, checked_row, checked_setup

_HELPERS = {"method", "words"}


def _found() -> dict[str, Method]:
    names = sorted(m.name for m in pkgutil.iter_modules(__path__) if m.name not in _HELPERS)
    methods: list[Method] = [importlib.import_module(f"{__name__}.{name}").METHOD for name in names]
    return {m.key: m for m in sorted(methods, key=lambda m: (m.order, m.key))}


METHODS: dict[str, Method] = _found()

# Every property a material can be asked for: "cantilever-bend.strength" and so on.
PROPERTIES: dict[str, tuple[Method, Property]] = {
    f"{method.key}.{prop.key}": (method, prop) for method in METHODS.values() for prop in method.properties
}

__all__ = ["METHODS", "PROPERTIES", "Field", "Found", "Method", "Property", "Step", "checked_row", "checked_setup"]
