"""All that ``make test`` does, from an empty folder to the last test, with the seconds each part took; ``long``: what CI runs besides.

Parts begin as soon as what they need is there, three at a time, so that neither core waits for a download or an installer. Everything
is run to its end, so that one run tells all that is wrong. The Python tests come last; many of them wait for a
browser or another process, so two workers more than there are cores share them. It runs on the
machine's own Python: there is no other yet when it begins.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
WEB, BIN = ROOT / "web", ROOT / ".venv" / "bin"
AT_ONCE = 3
WORKERS = str((os.cpu_count() or 2) + 2)
# Compiled modules are kept, even where that is switched off: many processes import the same ones. Linear algebra keeps to one thread in
# each: its threads wait by spinning, and four workers of two such threads took a third longer on two cores.
ENVIRONMENT = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"} | {
    "OPENBLAS_NUM_THREADS": "1"
}


@dataclass(frozen=True)
class Part:
    """One command with the name it is reported by, and the parts that must have passed before it."""

    name: str
    command: list[str]
    needs: tuple[str, ...] = ()
    folder: Path = ROOT
    aloud: bool = False
    """Prints as it goes."""


@dataclass(frozen=True)
class Outcome:
    """How a part went: its seconds, whether it passed, what it printed."""

    name: str
    seconds: float
    passed: bool
    output: str


def stamp(name: str) -> list[str]:
    """A step of the Makefile that is done once and again only when what it rests on changed."""
    return ["make", "--no-print-directory", f".make/{name}"]


def script(name: str) -> list[str]:
    """A script of the front end."""
    return ["npm", "run", "--silent", name]


PYTHON, NODE, BUILT = "packages of Python", "packages of the front end", "the front end, built"
DEMO, CHROMIUM, COMPILED = "the demo of the tests", "Chromium", "the tests, compiled"
# A cache that nobody will read again costs a fifth of the check.
NO_CACHE = [] if (ROOT / ".mypy_cache").exists() else ["--cache-dir=/dev/null"]


def tests(which: str) -> list[str]:
    """The Python and browser tests of a mark."""
    return [str(BIN / "python"), "-m", "pytest", "-m", which, "-n", WORKERS, "--dist", "worksteal", "--durations", "15"]


LONG_MARKS = "long or honesty"
# How the front end is written is looked at before each commit too (pre-commit): what make test is waited for is whether it works.
LONG = [
    Part("long tests", tests(LONG_MARKS), aloud=True),
    Part("ESLint", script("lint"), folder=WEB),
    Part("Prettier", script("format:check"), folder=WEB),
]
# The longest first among those that may begin together.
PARTS = [
    Part(PYTHON, stamp("python-dev")),
    Part(NODE, stamp("node")),
    Part("component tests", script("test"), (NODE,), WEB),
    Part("types of the front end", script("check"), (NODE,), WEB),
    Part(DEMO, [str(BIN / "python"), "-m", "tests.kept_demo"], (PYTHON,)),
    Part("mypy", [str(BIN / "mypy"), *NO_CACHE], (PYTHON,)),
    Part(BUILT, stamp("web"), (NODE,)),
    Part(CHROMIUM, stamp("chromium")),
    # Their asserts are rewritten once, and not by every worker at the same time.
    Part(COMPILED, [str(BIN / "python"), "-m", "pytest", "--collect-only"], (PYTHON,)),
    Part("API types are fresh", ["make", "--no-print-directory", "check-types"], (PYTHON, NODE)),
    Part("ruff", [str(BIN / "ruff"), "check", "."], (PYTHON,)),
    Part("ruff format", [str(BIN / "ruff"), "format", "--check", "."], (PYTHON,)),
    Part(
        "Python and browser tests",
        tests(f"not ({LONG_MARKS})"),
        (PYTHON, BUILT, DEMO, CHROMIUM, COMPILED),
        aloud=True,
    ),
]


def run(part: Part) -> Outcome:
    """Run a part to its end and keep what it printed, unless it prints aloud."""
    begun = time.monotonic()
    done = subprocess.run(
        part.command,
        cwd=part.folder,
        env=ENVIRONMENT,
        capture_output=not part.aloud,
        text=True,
        stdin=subprocess.DEVNULL,
    )
    return Outcome(part.name, time.monotonic() - begun, done.returncode == 0, (done.stdout or "") + (done.stderr or ""))


def side_by_side(parts: list[Part]) -> list[Outcome]:
    """Run parts side by side, each when what it needs has passed; what needs something that failed is not run."""
    waiting, outcomes = list(parts), []
    passed: set[str] = set()
    running: set[Future[Outcome]] = set()
    with ThreadPoolExecutor(AT_ONCE) as pool:
        while True:
            for part in [p for p in waiting if set(p.needs) <= passed][: AT_ONCE - len(running)]:
                waiting.remove(part)
                running.add(pool.submit(run, part))
            if not running:
                break
            done, running = wait(running, return_when=FIRST_COMPLETED)
            for outcome in (future.result() for future in done):
                print(f"{outcome.name}: {'passed' if outcome.passed else 'FAILED'}", flush=True)
                if outcome.passed:
                    passed.add(outcome.name)
                else:
                    print(outcome.output, flush=True)
                outcomes.append(outcome)
    return outcomes + [Outcome(part.name, 0.0, False, "") for part in waiting]


def main() -> int:
    """Run everything; 0 when all passed."""
    begun = time.monotonic()
    outcomes = side_by_side(LONG if sys.argv[1:] == ["long"] else PARTS)
    print("\nSeconds by part:")
    for outcome in outcomes:
        print(f"{outcome.seconds:8.0f}  {outcome.name}{'' if outcome.passed else ': FAILED'}")
    print(f"{time.monotonic() - begun:8.0f}  all together")
    return 0 if all(outcome.passed for outcome in outcomes) else 1


if __name__ == "__main__":
    sys.exit(main())
