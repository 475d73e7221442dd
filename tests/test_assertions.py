"""Tests that could not fail are no tests: no assertion holds whatever happens."""

import ast
from collections.abc import Iterator
from pathlib import Path

import pytest

TESTS = Path(__file__).parent


def holds_whatever_happens(test: ast.expr) -> bool:
    """``x == y if z else True``, ``x or True``, a constant, a tuple, or something compared with itself."""
    match test:
        case ast.Constant() | ast.Tuple() | ast.JoinedStr():
            return True
        case ast.IfExp(body=body, orelse=other):
            return holds_whatever_happens(body) or holds_whatever_happens(other)
        case ast.BoolOp(op=ast.Or(), values=values):
            return any(holds_whatever_happens(one) for one in values)
        case ast.Compare(left=left, comparators=[right], ops=[ast.Eq() | ast.Is()]):
            # Two calls alike may answer differently: that is what a test of a seed asks.
            return ast.dump(left) == ast.dump(right) and not any(isinstance(n, ast.Call) for n in ast.walk(left))
    return False


def faults(tree: ast.AST) -> Iterator[str]:
    """What is wrong in a file of tests, with its line."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Assert) and holds_whatever_happens(node.test):
            yield f"line {node.lineno}: {ast.unparse(node)} cannot fail"


@pytest.mark.parametrize("path", sorted(TESTS.rglob("*.py")), ids=lambda p: p.relative_to(TESTS).as_posix())
def test_every_test_can_fail(path):
    assert not list(faults(ast.parse(path.read_text(encoding="utf-8"))))


@pytest.mark.parametrize(
    "said", ["a == b if c else True", "a or True", "True", "(a, 'words')", "a.b == a.b", "a if True else b or 1"]
)
def test_what_holds_whatever_happens_is_found(said):
    assert list(faults(ast.parse(f"def test_it():\n    assert {said}")))


@pytest.mark.parametrize("said", ["a == (b if c else d)", "a(1) == a(1)", "a or b", "a == b", "a", "not a"])
def test_what_can_fail_is_let_be(said):
    assert not list(faults(ast.parse(f"def test_it():\n    assert {said}")))
