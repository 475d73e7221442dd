"""A workshop of three: RB leads, IM works, LO looks."""

import shutil

import pytest

from setback.api.app import every_address
from tests.conftest import MovedClock
from tests.workshop import opened


@pytest.fixture(scope="session")
def routes():
    """Routes of their own: what asks people to sign in must not reach the other tests."""
    return every_address()


@pytest.fixture
def shop(empty_lab, tmp_path, routes):
    path = tmp_path / "shop.db"
    shutil.copyfile(empty_lab, path)
    yield from opened(path, MovedClock(), routes)


@pytest.fixture
def small_shop(small_path, routes):
    """A lab with evidence and a card, taken over from one that used initials alone."""
    yield from opened(small_path, MovedClock(), routes)
