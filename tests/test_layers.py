"""The rules of the layers: who may import whom, and where SQL stands."""

import ast
from collections.abc import Iterator
from pathlib import Path

import pytest

PACKAGE = Path(__file__).parent.parent / "setback"
MAY_IMPORT = {
    "core": {"core"},
    "coupon": {"coupon", "core"},
    "simulate": {"simulate", "coupon", "core"},
    "store": {"store"},
    "report": {"report", "core", "coupon"},
    "services": {"services", "store", "core", "coupon", "simulate", "report"},
    "serving": {"serving", "api", "services", "store", "core"},
    "api": {"api", "services", "store", "core", "coupon", "report"},
}
SQL = ("SELECT ", "INSERT ", "UPDATE ", "DELETE ", "PRAGMA ", "BEGIN", "COMMIT", "ROLLBACK", "SAVEPOINT ")
RUNS_SQL = {"execute", "executemany", "executescript"}


def imported(path: Path) -> Iterator[tuple[str, ...]]:
    """What a module of the package imports from the package, as folders from the package down."""
    folders = path.relative_to(PACKAGE).parts[:-1]
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.level:
            above = folders[: len(folders) - node.level + 1]
            yield (*above, *(node.module or "").split(".")) if node.module else (*above, node.names[0].name)


def sql_in(path: Path) -> Iterator[str]:
    """SQL in a module, and calls that run it."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr in RUNS_SQL:
            yield f"line {node.lineno}: {ast.unparse(node)[:60]}"
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and node.value.lstrip().startswith(SQL):
            yield f"line {node.lineno}: {node.value.strip()[:60]}"


@pytest.mark.parametrize("layer", MAY_IMPORT)
def test_a_layer_imports_only_what_it_may(layer):
    strays = [
        f"{path.relative_to(PACKAGE)} imports {'.'.join(place)}"
        for path in sorted((PACKAGE / layer).rglob("*.py"))
        for place in imported(path)
        if place[0] in MAY_IMPORT and place[0] not in MAY_IMPORT[layer]
    ]
    assert not strays


def test_statistics_know_nothing_of_the_job():
    strays = [
        f"{path.name} imports {'.'.join(place)}"
        for path in sorted((PACKAGE / "core" / "statistics").glob("*.py"))
        for place in imported(path)
        if place[:2] not in {("core", "statistics"), ("core", "contract")}
    ]
    assert not strays


def test_sql_stands_in_the_store_alone():
    strays = [
        f"{path.relative_to(PACKAGE)}, {line}"
        for path in sorted(PACKAGE.rglob("*.py"))
        if path.relative_to(PACKAGE).parts[0] != "store"
        for line in sql_in(path)
    ]
    assert not strays


def test_sql_elsewhere_is_found(tmp_path):
    module = tmp_path / "module.py"
    module.write_text('rows = db.execute(f"SELECT {name} FROM coupon")\nsql = "DELETE FROM coupon"\n')
    assert len(list(sql_in(module))) == 3
