"""Requests nobody thought of, made from the API's own description: none may end in a 500."""

import re

import pytest

from setback.api.app import create_app
from setback.demo import DEMO_NOW
from setback.services.unit_of_work import seeded_ids
from tests.conftest import MovedClock
from tests.length import FULL
from tests.plans import solved_here

pytestmark = pytest.mark.long

# Addresses by how their noun begins, in parts of about one length, so that workers share them.
PARTS = ["[abd-m]", "c", "[n-p]", "[^a-p]"]


def test_every_address_is_in_one_part(application):
    with application.app_context():
        places = list(application.spec["paths"])
    assert len(places) > 200
    assert all(sum(bool(re.match(f"/api/{part}", place)) for part in PARTS) == 1 for place in places)


@pytest.mark.soak
@pytest.mark.parametrize("part", PARTS)
def test_no_request_breaks_the_server(demo_path, application, part, monkeypatch):
    # Loaded by those who run it: it takes two seconds of every worker.
    import schemathesis
    from schemathesis import engine
    from schemathesis.engine import Status, events

    solved_here(monkeypatch, effort=0.001)
    clock = MovedClock()
    clock.now = DEMO_NOW
    app = create_app(demo_path, clock=clock, new_id=seeded_ids(9), routes=application)
    schema = schemathesis.openapi.from_wsgi("/api/openapi.json", app).include(path_regex=f"^/api/{part}")
    schema.config.generation.update(max_examples=300 if FULL else 4, deterministic=True)
    # Every edge of every value, thousands of requests, belongs to the long form; the short one draws.
    schema.config.phases.coverage.enabled = FULL
    schema.config.checks.update(included_check_names=["not_a_server_error"])
    tried, refused = 0, []
    for event in engine.from_schema(schema).execute():
        if isinstance(event, events.ScenarioFinished):
            tried += event.status == Status.SUCCESS
            if event.status in (Status.FAILURE, Status.ERROR):
                refused.append(
                    (event.label, [str(check) for checks in event.recorder.checks.values() for check in checks])
                )
        if isinstance(event, (events.NonFatalError, events.FatalError)):
            refused.append(str(event))
    app.extensions["jobs"].stop()
    assert tried > 0
    assert not refused, refused
