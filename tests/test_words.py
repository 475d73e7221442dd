"""How the product speaks: what was found to read strangely stands nowhere that people read."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
# What people read: screens, messages, documents, descriptions of the API, sample data. The changelog tells of the past.
READ = [
    *(p for p in (ROOT / "web" / "src").rglob("*.ts*") if ".test." not in p.name and p.name != "schema.d.ts"),
    *(
        p
        for p in (ROOT / "setback").rglob("*")
        if p.suffix in (".py", ".json") and "web" not in p.relative_to(ROOT).parts[1:2]
    ),
    *(ROOT / "docs").glob("*.md"),
    ROOT / "README.md",
]
STRANGE = [
    "room before (under|over)",
    "of a growth of",
    "Poured by eye",
    "Side by side",
    "Open formats",
    "Tip that should fail",
    "first settings",
    "give or take",
    "times in 100",
    "surely at least",
    "\\} by the bound",
    "Who works\\?",
    "As the system",
    "Such (walls stand|slots open)",
    "Lost under bridges",
    "in rising trust",
    "sources to be trusted more",
    "the coupons proposed beside",
    "It is printed\\b",
    "Take back\\b(?! (a|an|that|everything))",
    "Take away\\b",
    "Give (it )?up( \\$|…)",
    "on the way there",
    "print (longer|shorter)\\b",
    "end lies further",
    "Closed in\\b",
    "[Ll]east sufficient",
    "slope from flat",
    "where it was begun",
    "tip proven",
    "Go on without confirming",
    "coupon is gone",
    "Sets become",
    "Many months old",
    "it has stood",
    "[Rr]e-range: ",
    "Something bought in",
    "Or so many in each group",
    "none: to know",
    "Keep the (brief|map)",
    "It is standing",
    "Set poured in",
    "Date, when apart",
    "as air cannot",
    "No probe in the room speaks",
    "looked into(?!, then)",
    "[Ff]oretold",
    "who errs by",
    "Nothing here is called",
    "Going on all the same",
    "only what left parts missing",
    "Take it with you",
    "Bring one in",
    "held of it already",
    "times the exposure\\b",
    "I poured about",
    "see which sets meet it",
    "Keep and go on",
    "What it gives",
    "nine parts in ten keep",
    "first guess",
    "My own guess",
    "asked at (least|most)",
    "Beware",
    "Looking into",
    "before you say so",
    "nobody knows (since|for which)",
    "Nobody knows",
    'action="(Keep it|Note it)',
    "[Tt]ake out…",
]


@pytest.mark.parametrize("phrase", STRANGE)
def test_nothing_reads_strangely(phrase):
    """A sentence may be broken anywhere."""
    pattern = re.compile(phrase.replace(" ", r"\s+"))
    found = [
        f"{file.relative_to(ROOT)}: {text[max(match.start() - 60, 0) : match.end() + 40]}"
        for file in READ
        for text in [file.read_text(encoding="utf-8")]
        for match in pattern.finditer(text)
    ]
    assert not found, found
