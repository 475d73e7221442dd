"""The bench: who works, repeats of a request, transactions."""

import pytest

from setback.core.contract import Problem
from setback.services.shelf import technicians
from setback.services.shelf.technicians import TechnicianInput
from setback.services.unit_of_work import AlreadyDone, NotFound, present, seeded_ids


def test_a_repeat_of_a_request_gets_the_first_answer(work):
    work.request_key = "POST /api/technicians tap"
    first = technicians.add_technician(work, TechnicianInput(initials="rb"))
    with pytest.raises(AlreadyDone) as again:
        technicians.add_technician(work, TechnicianInput(initials="rb"))
    assert again.value.answer == first.model_dump(mode="json")


def test_a_request_that_failed_may_be_sent_again_under_its_key(work):
    work.request_key = "POST /api/technicians tap"
    technicians.add_technician(work, TechnicianInput(initials="TO"))
    work.request_key = "POST /api/technicians other"
    for _ in range(2):
        with pytest.raises(Problem):
            technicians.add_technician(work, TechnicianInput(initials="TO"))


def test_who_works_must_be_known(work):
    for initials in (None, "", "ZZ"):
        work.initials = initials
        with pytest.raises(Problem):
            work.technician()
    technicians.add_technician(work, TechnicianInput(initials="im"))
    work.initials = "im"
    assert work.technician().initials == "IM"


def test_seeded_ids_repeat_and_never_collide():
    a, b = seeded_ids(7), seeded_ids(7)
    first = [a() for _ in range(500)]
    assert first == [b() for _ in range(500)] and len(set(first)) == 500
    assert all(one[14] == "4" for one in first)


def test_small_refusals():
    assert present("row", "thing") == "row"
    with pytest.raises(NotFound, match="no such thing"):
        present(None, "thing")
