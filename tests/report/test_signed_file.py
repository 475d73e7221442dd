"""Certificates and cards verify by themselves, over every byte, and against the lab's journal."""

from __future__ import annotations

import os
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import pypdfium2
import pytest
from click.testing import CliRunner

from setback.cli import main
from setback.report.signed_file import NotSigned, signature_of
from setback.services.lab import records
from setback.services.qualify import certificates
from setback.services.sets import cards
from setback.services.unit_of_work import UnitOfWork
from setback.store import journal, lab_key
from setback.store.database import connect, migrate
from setback.store.rows import insert

run = CliRunner().invoke


@pytest.fixture
def papers(small_path, tmp_path):
    """The certificate and the card of a lab, as files."""
    with closing(connect(small_path)) as db:
        work = UnitOfWork(db)
        journal.begin(db)
        [code] = db.execute("SELECT code FROM qualification LIMIT 1").fetchone()
        [set_code] = db.execute("SELECT code FROM parameter_set LIMIT 1").fetchone()
        certificate = certificates.file(work, code, certificates.FileAsked()).content
        card = cards.exported(work, set_code, "pdf").content
    paths = {"certificate": tmp_path / "certificate.pdf", "card": tmp_path / "card.pdf"}
    paths["certificate"].write_bytes(certificate)
    paths["card"].write_bytes(card)
    return paths


def checked(path, *options):
    return run(main, ["verify", "--certificate", str(path), *options])


@pytest.mark.parametrize("paper", ["certificate", "card"])
def test_it_is_genuine_and_every_reader_opens_it(papers, small_path, paper):
    told = checked(papers[paper], "--db", str(small_path))
    assert told.exit_code == 0 and "as it was signed with the lab's key" in told.output
    document = pypdfium2.PdfDocument(papers[paper].read_bytes())
    text = document[0].get_textpage().get_text_range()
    head = signature_of(papers[paper].read_bytes()).head
    assert f"Journal {head}" in text.replace("\r\n", "\n"), "the head stands on the paper"


def test_offline_with_the_public_key_alone(papers, small_path, tmp_path):
    public = run(main, ["key", "show", "--db", str(small_path)]).output.splitlines()[0]
    nowhere = str(tmp_path / "none.db")
    told = checked(papers["certificate"], "--db", nowhere, "--public-key", public)
    assert told.exit_code == 0 and "the lab's key" in told.output
    told = checked(papers["certificate"], "--db", nowhere, "--public-key", "00" * 32)
    assert told.exit_code == 1 and "is not the one given" in told.output
    told = checked(papers["certificate"], "--db", nowhere, "--public-key", "no key")
    assert told.exit_code == 1 and "64 digits" in told.output
    told = checked(papers["certificate"], "--db", nowhere)
    assert told.exit_code == 0 and "Ask the lab whether that is its key" in told.output


def test_every_changed_byte_is_found(papers):
    whole = papers["certificate"].read_bytes()
    public = signature_of(whole).public
    for place in range(0, len(whole), max(len(whole) // 300, 1)):
        changed = bytearray(whole)
        changed[place] ^= 1
        assert not records.check_file(bytes(changed), None, public).genuine, f"byte {place}"


@pytest.mark.parametrize("more", [b"%%EOF", b" ", b"\n%Setback: journal 1:0000000000000000 key x signature y\n"])
def test_what_is_added_or_cut_off_is_found(papers, more):
    whole = papers["certificate"].read_bytes()
    for file in (whole + more, whole[:-1], whole[:-200], b""):
        with pytest.raises(NotSigned):
            signature_of(file)


def test_a_lab_that_never_had_the_key_says_so(papers, tmp_path, monkeypatch):
    other = tmp_path / "other.db"
    monkeypatch.setenv(lab_key.SETTING, str(tmp_path / "other.key"))

    migrate(other)
    with closing(connect(other)) as db:
        journal.begin(db)
    told = checked(papers["certificate"], "--db", str(other))
    assert told.exit_code == 1 and "which this lab never had" in told.output


def test_the_newest_records_cut_off_are_found_against_its_head(small_path, tmp_path, papers):
    with closing(connect(small_path)) as db:
        work = UnitOfWork(db)
        with work.write():
            insert(db, "technician", id="t-new", initials="QZ", created_at=work.now())
        [code] = db.execute("SELECT code FROM qualification LIMIT 1").fetchone()
        later = tmp_path / "later.pdf"
        later.write_bytes(certificates.file(work, code, certificates.FileAsked()).content)
        last = journal.head(db).seq
    with closing(sqlite3.connect(small_path)) as db:
        db.execute("DROP TRIGGER journal_stays")
        db.execute("DELETE FROM journal WHERE seq = ?", (last,))
        db.execute("DELETE FROM technician WHERE id = 't-new'")
        db.commit()
    assert run(main, ["verify", "--db", str(small_path)]).exit_code == 0, "by itself, the rest holds"
    told = checked(later, "--db", str(small_path))
    assert told.exit_code == 1 and "its end was cut off" in told.output
    assert checked(papers["certificate"], "--db", str(small_path)).exit_code == 0
    head = signature_of(later.read_bytes()).head
    told = run(main, ["verify", "--db", str(small_path), "--head", head])
    assert told.exit_code == 1 and "its end was cut off" in told.output
    assert run(main, ["verify", "--db", str(small_path), "--head", "x"]).exit_code == 1


def test_while_records_do_not_match_the_paper_says_so(small_path):
    with closing(connect(small_path)) as db:
        journal.begin(db)
    with closing(sqlite3.connect(small_path)) as db:
        db.execute("UPDATE technician SET initials = 'XX'")
        db.commit()
    with closing(connect(small_path)) as db:
        work = UnitOfWork(db)
        found = records.verify(work, lambda share, message: None, {})
        assert not found["intact"]
        [code] = db.execute("SELECT code FROM qualification LIMIT 1").fetchone()
        content = certificates.file(work, code, certificates.FileAsked()).content
    text = pypdfium2.PdfDocument(content)[0].get_textpage().get_text_range()
    assert "do not match its journal" in text


class TestTheCommand:
    def test_show_and_rotate(self, small_path, tmp_path, monkeypatch):
        monkeypatch.setenv(lab_key.SETTING, str(tmp_path / "lab.key"))
        with closing(connect(small_path)) as db:
            journal.begin(db)
        first = run(main, ["key", "show", "--db", str(small_path)]).output
        told = run(main, ["key", "rotate", "--db", str(small_path)])
        assert told.exit_code == 0 and "signs from now on" in told.output
        assert run(main, ["key", "show", "--db", str(small_path)]).output != first
        assert run(main, ["verify", "--db", str(small_path)]).exit_code == 0

    def test_a_lab_without_a_key_yet(self, tmp_path):

        migrate(tmp_path / "new.db")
        told = run(main, ["key", "show", "--db", str(tmp_path / "new.db")])
        assert told.exit_code == 1 and "no key yet" in told.output

    def test_the_key_is_in_no_backup(self, small_path, tmp_path):
        key = Path(os.environ[lab_key.SETTING]).read_bytes()
        run(main, ["backup", "--db", str(small_path), str(tmp_path / "backup.db")])
        body = b"".join(key.splitlines()[1:-1])
        assert body not in (tmp_path / "backup.db").read_bytes()
        shutil.rmtree(tmp_path, ignore_errors=True)
