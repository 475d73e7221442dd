"""Worked examples: every calculator against its expected numbers, through all three doors."""

import json
import pathlib

import pytest

from setback.core.calculators import CALCULATORS

EXAMPLES = json.loads((pathlib.Path(__file__).parent / "examples.json").read_text())
BUILT = [e for e in EXAMPLES if e["calculator"] in CALCULATORS]


def assert_holds(expected, got, rel_tol, path=""):
    """Every key expected is there with the value expected, within tolerance."""
    if isinstance(expected, dict):
        assert isinstance(got, dict), path
        for key, value in expected.items():
            assert key in got, f"{path}.{key} is missing"
            assert_holds(value, got[key], rel_tol, f"{path}.{key}")
    elif isinstance(expected, list):
        assert isinstance(got, list) and len(got) == len(expected), path
        for i, (a, b) in enumerate(zip(expected, got, strict=True)):
            assert_holds(a, b, rel_tol, f"{path}[{i}]")
    elif isinstance(expected, int | float) and not isinstance(expected, bool):
        assert got is not None, path
        assert got == pytest.approx(expected, rel=rel_tol, abs=1e-9), path
    else:
        assert got == expected, path


@pytest.mark.parametrize("example", BUILT, ids=lambda e: e["calculator"])
def test_python_door(example):
    got = CALCULATORS[example["calculator"]](example["input"])
    assert_holds(example["expect"], json.loads(json.dumps(got)), example["rel_tol"])
