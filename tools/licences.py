"""Write docs/licences.md: every package that Setback is run with or ships in its pages, with its licence. ``make licences``."""

from __future__ import annotations

import json
import re
import subprocess
from importlib.metadata import distribution
from pathlib import Path

ROOT = Path(__file__).parent.parent
HEAD = """# Licences

Setback itself is under the [MIT licence](../LICENSE). The fonts it ships are under the SIL Open Font License 1.1; their texts are in
[LICENSES](../LICENSES). What it is run with, and what its pages hold, as each package says of itself (`make licences` writes this page):
"""
LONGEST = 60


def of_python() -> list[tuple[str, str, str]]:
    """Name, version and licence of every package in the lock."""
    lock = (ROOT / "requirements.lock").read_text()
    return [_of_distribution(name) for name in re.findall(r"^([a-z0-9][a-z0-9._-]*)==", lock, re.MULTILINE)]


def _of_distribution(name: str) -> tuple[str, str, str]:
    of = distribution(name)
    told = of.metadata.get("License-Expression") or ""
    if not told:
        classes = [c.split(" :: ")[-1] for c in of.metadata.get_all("Classifier") or [] if c.startswith("License ::")]
        text = (of.metadata.get("License") or "").strip().splitlines()
        told = ", ".join(classes) or (text[0] if text else "")
    return name, of.version, told[:LONGEST] or "see the package"


def of_pages() -> list[tuple[str, str, str]]:
    """Name, version and licence of every package the front end is built with for running."""
    listed = subprocess.run(
        ["npm", "ls", "--omit=dev", "--all", "--parseable"], cwd=ROOT / "web", capture_output=True, text=True
    )
    rows = set()
    for folder in listed.stdout.splitlines()[1:]:
        package = json.loads((Path(folder) / "package.json").read_text())
        rows.add((package["name"], package["version"], str(package.get("license", "see the package"))))
    return sorted(rows)


def table(rows: list[tuple[str, str, str]]) -> str:
    """Rows as a table of Markdown."""
    return "\n".join(["| package | version | licence |", "|---|---|---|", *(f"| {' | '.join(row)} |" for row in rows)])


def main() -> None:
    """Write the page."""
    text = f"{HEAD}\n## Python\n\n{table(of_python())}\n\n## Pages\n\n{table(of_pages())}\n"
    (ROOT / "docs" / "licences.md").write_text(text)


if __name__ == "__main__":
    main()
