"""Whether the records of a lab are what was entered: the chains of signed records, the journal of all evidence, and printed heads."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable
from itertools import pairwise
from typing import Any

from pydantic import Field

from ...report import signed_file
from ...store import journal, lab_key
from ...store.database import reading
from ...store.lab import bundles, record_names, settings
from ...store.qualify import qualifications
from ...store.sets import parameter_sets
from ..unit_of_work import UnitOfWork, View

Progress = Callable[[float, str], None]
BATCH = 1000
MOST_NAMED = 20
STANDING = "records"
"""The setting that keeps what the last walk found."""

CHAINS: tuple[tuple[str, Any, str], ...] = (
    ("sets", parameter_sets, "parameter_set"),
    ("qualifications", qualifications, "qualification"),
)


class KeyView(View):
    """The public half of a key of the lab."""

    id: str
    public: str = Field(description="32 bytes in hexadecimal digits")
    at: str
    reason: str = Field(description="first, rotated or lost: why it signs since then")


class Standing(View):
    """What the last walk through all records found."""

    checked_at: str | None = Field(description="None while no walk has ended")
    intact: bool = Field(description="Whether nothing was altered, as far as the last walk saw")
    words: str
    faults: list[str] = Field(description="The first records that are not what was entered, in words")
    notes: list[str] = Field(description="What is no fault, yet should be known: clocks set back, keys lost")


def verify(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Walk everything as of one moment, and keep what was found for every page to show."""
    with reading(work.db) as db:
        summary = walk(db, progress)
    with work.write():
        settings.put(work.db, STANDING, {"checked_at": work.now(), **summary})
    return summary


def walk(db: sqlite3.Connection, progress: Progress, heads: Iterable[tuple[str, journal.Head]] = ()) -> dict[str, Any]:
    """Everything that must hold of the records of a database.

    Parameters
    ----------
    heads : iterable of (where it stands, head)
        Of certificates, cards or backups: each must be an entry of the journal still.
    """
    totals = {name: bundles.count(db, table) for name, _, table in CHAINS}
    faults = [
        *_broken_links(db, totals, progress),
        *_broken_entries(db, progress),
        *_differences(db, progress),
        *(fault for where, head in heads if (fault := head_fault(db, where, head))),
    ]
    entries = journal.head(db).seq
    summary = {
        "intact": not faults,
        "checked": sum(totals.values()),
        "entries": entries,
        "first_broken": faults[0][0] if faults else None,
        "faults": [words for _, words in faults[:MOST_NAMED]],
        "more": max(len(faults) - MOST_NAMED, 0),
        "notes": _notes(db),
        **totals,
    }
    return {**summary, "words": in_words(summary)}


def signed_records_fault(db: sqlite3.Connection) -> str | None:
    """The first issued set or qualification that is not what was signed, in words: a walk of the two chains alone."""
    totals = {name: bundles.count(db, table) for name, _, table in CHAINS}
    broken = _broken_links(db, totals, lambda share, message: None)
    return broken[0][1] if broken else None


class Keys(View):
    """What is needed to check a certificate of this lab."""

    head: str = Field(description="The journal's newest entry, as certificates carry it")
    keys: list[KeyView] = Field(description="Public keys of the lab, oldest first")


def keys(work: UnitOfWork) -> Keys:
    """The journal's head and the lab's public keys."""
    rows = lab_key.public_keys(work.db)
    views = [KeyView(id=key.id, public=key.public.hex(), at=key.at, reason=key.reason) for key in rows]
    return Keys(head=str(journal.head(work.db)), keys=views)


def standing(work: UnitOfWork) -> Standing:
    """What the last walk found."""
    summary = settings.value(work.db, STANDING) or {
        "checked_at": None,
        "intact": True,
        "words": "Not checked yet.",
        "faults": [],
        "notes": [],
    }
    return Standing.model_validate(summary)


def warning(work: UnitOfWork) -> str | None:
    """What cards and certificates must say while records are not what was entered."""
    summary = settings.value(work.db, STANDING)
    return (
        None
        if summary is None or summary["intact"]
        else f"Records of this lab do not match its journal: {summary['words']}"
    )


def _broken_links(db: sqlite3.Connection, totals: dict[str, int], progress: Progress) -> list[tuple[str, str]]:
    """The first altered record of each chain, with its code and in words."""
    every, checked, broken = max(sum(totals.values()), 1), 0, []
    for _, store, _ in CHAINS:
        after, previous = 0, store.GENESIS
        while batch := store.links(db, after, BATCH):
            altered = None
            for row in batch:
                if row.previous_hash != previous or store.hash_of(row) != row.hash or row.chain != after + 1:
                    altered = row.code
                    break
                after, previous, checked = row.chain, row.hash, checked + 1
            if altered is not None:
                broken.append((altered, f"{altered} is not what was signed."))
                break
            progress(0.2 * checked / every, f"{checked} of {every} signed records checked")
    return broken


def _broken_entries(db: sqlite3.Connection, progress: Progress) -> list[tuple[str, str]]:
    """The first entry of the journal that does not follow from the one before, or whose signature is none of the lab's."""
    last, after, previous, at = journal.head(db).seq, 0, journal.GENESIS, ""
    keys = {key.id: key for key in lab_key.public_keys(db)}
    while batch := journal.entries(db, after, BATCH):
        for entry in batch:
            if entry.seq != after + 1 or not journal.follows(entry, previous):
                return [_entry_fault(entry.seq, "is not what was entered")]
            if entry.at < at:
                return [_entry_fault(entry.seq, "goes back in time")]
            if entry.signature is not None and not _is_ours(entry, keys):
                return [_entry_fault(entry.seq, "is not signed with the lab's key")]
            after, previous, at = entry.seq, entry.hash, entry.at
        progress(0.2 + 0.3 * after / max(last, 1), f"{after} of {last} entries of the journal checked")
    if last and batch == [] and (newest := journal.entry(db, last)) is not None and newest.signature is None:
        return [_entry_fault(last, "is the newest and is not signed")]
    return _unvouched(list(keys.values()))


def _is_ours(entry: journal.Entry, keys: dict[str, lab_key.LabKey]) -> bool:
    key = keys.get(entry.key_id or "")
    return (
        key is not None
        and entry.signature is not None
        and lab_key.name_of(key.public) == key.id
        and lab_key.is_signed(key.public, entry.hash, entry.signature)
    )


def _unvouched(keys: list[lab_key.LabKey]) -> list[tuple[str, str]]:
    for older, newer in pairwise(keys):
        vouched = newer.vouched is not None and lab_key.is_signed(older.public, newer.public, newer.vouched)
        if newer.reason == "rotated" and not vouched:
            return [(f"key {newer.id}", f"The key {newer.id} says it follows {older.id}, whose signature it lacks.")]
    return []


def _entry_fault(seq: int, words: str) -> tuple[str, str]:
    return f"entry {seq}", f"Entry {seq} of the journal {words}."


HOW = {
    "changed": "was changed outside Setback",
    "added": "was added outside Setback",
    "removed": "was removed outside Setback",
}


def _differences(db: sqlite3.Connection, progress: Progress) -> list[tuple[str, str]]:
    if not journal.has_begun(db):
        return []
    progress(0.5, "Checking every record against the journal")
    names = [
        (record_names.name_of(db, kind, record), HOW[how]) for kind, record, how in sorted(set(journal.differences(db)))
    ]
    return [(name, f"{name[:1].upper()}{name[1:]} {how}.") for name, how in names]


def head_fault(db: sqlite3.Connection, where: str, head: journal.Head) -> tuple[str, str] | None:
    """What is wrong where a printed head is no entry of the journal any more."""
    seq = head.seq
    entry = journal.entry(db, seq)
    if seq == 0 or (entry is not None and journal.head_of(entry) == head):
        return None
    if entry is None:
        last = journal.head(db).seq
        return f"entry {seq}", f"{where} names entry {seq} of the journal, which ends at {last}: its end was cut off."
    return f"entry {seq}", f"{where} names another entry {seq} than the journal has: it was written anew since."


def _notes(db: sqlite3.Connection) -> list[str]:
    notes = []
    begun = journal.entry(db, 1)
    if begun is None:
        return ["The journal has not begun: it does with the first record that is written."]
    earlier_records = journal.count_found(db)
    if earlier_records:
        notes.append(
            f"The journal began on {begun.at[:10]}. It covers the {_plural(earlier_records, 'record')} from before that day only since then."
        )
    if back := journal.clock_set_back(db):
        notes.append(
            f"The clock of this machine was set back: entry {back.seq} was made at {_minute(back.clock_at or '')} by the clock, "
            f"after one of {_minute(back.at)}. The journal kept its order."
        )
    for key in lab_key.public_keys(db):
        if key.reason == "lost":
            notes.append(f"The key {key.id} signs since {key.at[:10]}, without the word of the one before it.")
    return notes


def _minute(at: str) -> str:
    return at[:16].replace("T", " ")


def in_words(summary: dict[str, Any]) -> str:
    """What a walk found, for a person."""
    if not summary["intact"]:
        more = len(summary["faults"]) + summary["more"] - 1
        return f"{summary['faults'][0]}" + (f" And {more} more." if more else "")
    kinds = [
        _plural(summary["sets"], "issued set"),
        *([_plural(summary["qualifications"], "qualification")] if summary["qualifications"] else []),
        *([_plural(summary["entries"], "entry", "entries")] if summary["entries"] else []),
    ]
    listed = kinds[0] if len(kinds) == 1 else f"{', '.join(kinds[:-1])} and {kinds[-1]}"
    return f"{listed}{' of the journal' if summary['entries'] else ''}, none altered."


def _plural(count: int, name: str, several: str | None = None) -> str:
    return f"{count:,} {name if count == 1 else several or name + 's'}"


def head_line(work: UnitOfWork) -> str:
    """How paper names the state of the journal it was printed at."""
    seq, mark = journal.head(work.db)
    return f"Journal {seq}:{mark}" if seq else ""


def signed(work: UnitOfWork, content: bytes) -> bytes:
    """A file with the lab's signature behind it; as it is where this machine has no key the database knows."""
    signer = lab_key.known_signer(work.db)
    if signer is None:
        return content
    return signed_file.with_signature(content, str(journal.head(work.db)), signer.public, signer.sign)


class Checked(View):
    """Whether a signed file is as it was signed, by which key, and at which state of the journal."""

    genuine: bool
    key: str | None
    head: str | None
    words: str


def check_file(content: bytes, db: sqlite3.Connection | None, public: bytes | None = None) -> Checked:
    """Check a certificate or card by itself, and against a key that is known or a database that is at hand.

    Parameters
    ----------
    db : connection or None
        The lab's database: the key must be one of its keys, and the head an entry of its journal.
    public : bytes or None
        The lab's public key as somebody has it from the lab.
    """
    try:
        signature = signed_file.signature_of(content)
    except signed_file.NotSigned as error:
        return Checked(genuine=False, key=None, head=None, words=str(error))
    name = lab_key.name_of(signature.public)

    def answer(genuine: bool, words: str) -> Checked:
        """What is wrong, or that nothing is."""
        return Checked(genuine=genuine, key=name, head=signature.head, words=words)

    if not lab_key.is_signed(signature.public, signature.content, signature.signature):
        return answer(False, "It is not what was signed: something in it was changed.")
    if public is not None and public != signature.public:
        return answer(False, f"It is signed with the key {name}, which is not the one given.")
    if db is not None:
        if signature.public not in [key.public for key in lab_key.public_keys(db)]:
            return answer(False, f"It is signed with the key {name}, which this lab never had.")
        head = journal.read_head(signature.head)
        if head is not None and (fault := head_fault(db, "It", head)):
            return answer(False, fault[1])
    elif public is None:
        return answer(True, f"It is as it was signed with the key {name}. Ask the lab whether that is its key.")
    return answer(True, f"It is as it was signed with the lab's key {name}, at entry {signature.head} of its journal.")
