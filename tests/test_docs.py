"""The docs tell the truth: worked examples give the numbers that are printed, commands exist, links lead somewhere."""

import json
import re
import shlex
from pathlib import Path

import click
import pytest

from setback.cli import main
from setback.core.calculators import CALCULATORS

ROOT = Path(__file__).parent.parent
DOCS = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", ROOT / "CHANGELOG.md", *sorted((ROOT / "docs").glob("*.md"))]
METHODS = (ROOT / "docs" / "methods.md").read_text(encoding="utf-8")
EXAMPLES = ROOT / "docs" / "examples"
LINK = re.compile(r"\[([a-z-]+)\]\(examples/([a-z-]+)\.json\)")
NUMBER = r"−?\d+(?:\.\d+)?"
# A field of the answer and what stands behind it: one number, several of a list ("1.9 to 2.7", "1.2, 1.7, 2.4"), or a word.
FIELD = re.compile(rf"`([a-z_]+(?:\[\d+\]|\.[a-z_]+)*)`\s+(?:({NUMBER}(?:(?:,\s|\s+to\s+){NUMBER})*)|([a-z-]+))")


CALL = re.compile(r"(?:\.venv/bin/)?setback ")


def fields_of(example: str) -> list[tuple[str, list[str], str]]:
    """What the methods say of one example: path, numbers as they are printed, or the word."""
    begins = METHODS.index(f"(examples/{example}.json)")
    following = LINK.search(METHODS, begins)
    ends = min(x for x in (following.start() if following else len(METHODS), METHODS.find("\n#", begins)) if x >= 0)
    return [(m[1], re.findall(NUMBER, m[2] or ""), m[3] or "") for m in FIELD.finditer(METHODS[begins:ends])]


def at(answer, path: str):
    for step in re.findall(r"[a-z_]+|\d+", path):
        answer = answer[int(step) if step.isdigit() else step]
    return answer


def as_printed(value: float, like: str) -> str:
    """A value with as many decimals as the docs give it."""
    decimals = len(like.partition(".")[2])
    return f"{value:.{decimals}f}".replace("-", "−")


@pytest.mark.parametrize("name", CALCULATORS)
def test_a_worked_example_gives_what_the_methods_print(name):
    assert LINK.search(METHODS) and f"[{name}](examples/{name}.json)" in METHODS
    answer = CALCULATORS[name](json.loads((EXAMPLES / f"{name}.json").read_text(encoding="utf-8")))
    fields = fields_of(name)
    assert fields, "no number of its answer is named"
    for path, numbers, word in fields:
        value = at(answer, path)
        if word:
            assert str(value).startswith(word), f"{path} is {value}"
            continue
        values = value if isinstance(value, list | tuple) else [value]
        assert [as_printed(one, like) for one, like in zip(values, numbers, strict=True)] == numbers, path


def test_no_example_is_without_a_calculator():
    assert {file.stem for file in EXAMPLES.iterdir()} == set(CALCULATORS)


def commands() -> list[list[str]]:
    """Every call of ``setback`` in a block of code."""
    found = []
    for doc in DOCS:
        for block in re.findall(r"```(?:sh)?\n(.*?)```", doc.read_text(encoding="utf-8"), re.DOTALL):
            for line in block.splitlines():
                if CALL.match(line):
                    found.append(shlex.split(line, comments=True)[1:])
    return found


@pytest.mark.parametrize("words", commands(), ids=" ".join)
def test_a_command_of_the_docs_exists_with_its_options(words):
    command: click.Command = main
    while isinstance(command, click.Group):
        assert words[0] in command.commands, words[0]
        command = command.commands[words.pop(0)]
    options = {name for parameter in command.params for name in parameter.opts}
    assert {word for word in words if word.startswith("--")} <= options


def anchors(doc: Path) -> set[str]:
    """Headings as a link names them."""
    headings = re.findall(r"^#+ (.+)$", doc.read_text(encoding="utf-8"), re.MULTILINE)
    return {re.sub(r"[^\w\- ]", "", heading.lower()).replace(" ", "-") for heading in headings}


@pytest.mark.parametrize("doc", DOCS, ids=lambda doc: doc.name)
def test_a_link_leads_to_something(doc):
    for target in re.findall(r"\]\(([^)\s]+)\)", doc.read_text(encoding="utf-8")):
        if "://" in target:
            continue
        place, _, anchor = target.partition("#")
        file = (doc.parent / place).resolve() if place else doc
        assert file.exists(), target
        if anchor:
            assert anchor in anchors(file), target


def test_every_picture_is_shown_somewhere():
    shown = "".join(doc.read_text(encoding="utf-8") for doc in DOCS)
    for picture in (ROOT / "docs" / "screenshots").iterdir():
        assert f"screenshots/{picture.name}" in shown, picture.name
