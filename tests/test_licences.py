"""The page of licences names every package that Setback is run with."""

import re
from pathlib import Path

ROOT = Path(__file__).parent.parent


def test_every_package_of_the_lock_stands_on_the_page():
    lock = (ROOT / "requirements.lock").read_text()
    packages = re.findall(r"^([a-z0-9][a-z0-9._-]*)==(\S+)", lock, re.MULTILINE)
    page = (ROOT / "docs" / "licences.md").read_text()
    missing = [f"{name} {version}" for name, version in packages if f"| {name} | {version} |" not in page]
    assert len(packages) > 20 and not missing, "run make licences"
