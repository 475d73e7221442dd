"""How far prints of a method differ: what other tests tell of it."""

from __future__ import annotations

from ...core.statistics.prints import RelativeSpread, pooled_spread
from ...core.testing.methods import Method
from ...core.testing.results import print_spreads
from ...store import testing as store
from ..unit_of_work import UnitOfWork
from .records import Held, batch, held_tests

# Tests by one method from which the spread from print to print is known.
NEWEST = 20


class OtherTests:
    """How far prints differed in the newest tests by each method, looked up once for a request."""

    def __init__(self, work: UnitOfWork) -> None:
        self._work = work
        self._by_method: dict[str, dict[str, dict[str, RelativeSpread]]] = {}

    def spreads(self, record: Held) -> dict[str, RelativeSpread]:
        """By property, without the test itself."""
        return self.of_method(record.method, record.row.id)

    def of_method(self, method: Method, but: str = "") -> dict[str, RelativeSpread]:
        """By property, over all of its newest tests, or without one."""
        key = method.key
        if key not in self._by_method:
            tests = held_tests(self._work, store.tests_of_method(self._work.db, key, NEWEST))
            self._by_method[key] = {test.row.id: _print_spreads(test) for test in tests}
        others = [spreads for test_id, spreads in self._by_method[key].items() if test_id != but]
        return {
            prop.key: pooled_spread([one[prop.key] for one in others if prop.key in one]) for prop in method.properties
        }


def _print_spreads(record: Held) -> dict[str, RelativeSpread]:
    return print_spreads(record.method, record.row.setup, [batch(record, g) for g in record.groups])
