"""The demo: whether this is one, and one beside a lab of one's own."""

from __future__ import annotations

import os
import signal
import threading
from typing import Any

from flask import current_app

from ...services.lab.demo_beside import DemoBeside, DemoState
from ...services.unit_of_work import Conflict
from ..wiring import Blueprint

blueprint = Blueprint("demo", __name__, url_prefix="/api", tag="Lab")


def _state() -> DemoState:
    beside: DemoBeside | None = current_app.extensions.get("demo_beside")
    state, address = beside.state() if beside else ("none", None)
    return DemoState(
        is_demo=bool(current_app.config["DEMO"]),
        closes=bool(current_app.config.get("CLOSES")),
        state=state,
        address=address,
    )


@blueprint.get("/demo")
@blueprint.output(DemoState)
def demo() -> Any:
    """Whether this is the demo, and how the one beside this lab stands."""
    return _state()


@blueprint.post("/demo/open")
@blueprint.output(DemoState)
def open_demo() -> Any:
    """Build and serve the demo beside this lab; nothing of it reaches this one."""
    if current_app.config["DEMO"]:
        raise Conflict("This is the demo already.")
    if "demo_beside" not in current_app.extensions:
        raise Conflict("This server opens no demo: run setback demo.")
    current_app.extensions["demo_beside"].open()
    return _state()


@blueprint.post("/demo/close")
@blueprint.output(DemoState)
def close_demo() -> Any:
    """Close the demo: from within it, or from the lab beside it. Its file goes with it."""
    if current_app.config.get("CLOSES"):
        # The answer goes out first.
        threading.Timer(0.3, os.kill, (os.getpid(), signal.SIGTERM)).start()
    elif "demo_beside" in current_app.extensions:
        current_app.extensions["demo_beside"].close()
    else:
        raise Conflict("No demo is open beside this lab.")
    return _state()
