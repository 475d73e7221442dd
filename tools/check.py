"""All checks of ``make test``, with the seconds each took.

Checks that keep one core busy run side by side, two at a time; the Python tests share both cores afterwards. Everything is run to
its end, so that one run tells all that is wrong. Browser tests wait for the browser a third of their time, so twice as many workers
as cores share the tests.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
BIN = Path(sys.executable).parent


@dataclass(frozen=True)
class Check:
    """One command with the name it is reported by."""

    name: str
    command: list[str]
    folder: Path = ROOT


@dataclass(frozen=True)
class Outcome:
    """How a check went: its seconds, whether it passed, what it printed."""

    name: str
    seconds: float
    passed: bool
    output: str


WEB = ROOT / "web"
SIDE_BY_SIDE = [
    Check("component tests", ["npm", "run", "--silent", "test"], WEB),
    Check("mypy", [str(BIN / "mypy")]),
    Check("types of the front end", ["npm", "run", "--silent", "check"], WEB),
    Check("ESLint", ["npm", "run", "--silent", "lint"], WEB),
    Check("Prettier", ["npm", "run", "--silent", "format:check"], WEB),
    Check("API types are fresh", ["make", "--no-print-directory", "check-types"]),
    Check("ruff", [str(BIN / "ruff"), "check", "."]),
    Check("ruff format", [str(BIN / "ruff"), "format", "--check", "."]),
]
WORKERS = str(2 * (os.cpu_count() or 2))
TESTS = Check(
    "Python and browser tests",
    [sys.executable, "-m", "pytest", "-n", WORKERS, "--dist", "worksteal", "--durations", "15"],
)


def run(check: Check) -> Outcome:
    """Run a check to its end and keep what it printed."""
    begun = time.monotonic()
    done = subprocess.run(check.command, cwd=check.folder, capture_output=True, text=True, stdin=subprocess.DEVNULL)
    return Outcome(check.name, time.monotonic() - begun, done.returncode == 0, done.stdout + done.stderr)


def run_aloud(check: Check) -> Outcome:
    """Run a check that prints as it goes."""
    begun = time.monotonic()
    done = subprocess.run(check.command, cwd=check.folder, stdin=subprocess.DEVNULL)
    return Outcome(check.name, time.monotonic() - begun, done.returncode == 0, "")


def main() -> int:
    """Run everything; 0 when all passed."""
    outcomes = []
    with ThreadPoolExecutor(2) as pool:
        for outcome in pool.map(run, SIDE_BY_SIDE):
            print(f"{outcome.name}: {'passed' if outcome.passed else 'FAILED'}", flush=True)
            if not outcome.passed:
                print(outcome.output, flush=True)
            outcomes.append(outcome)
    outcomes.append(run_aloud(TESTS))
    print("\nSeconds by part:")
    for outcome in outcomes:
        print(f"{outcome.seconds:8.0f}  {outcome.name}{'' if outcome.passed else ': FAILED'}")
    return 0 if all(outcome.passed for outcome in outcomes) else 1


if __name__ == "__main__":
    sys.exit(main())
