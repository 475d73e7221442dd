"""The settings of the whole lab: what they refuse, and where they show."""

import io

import pypdfium2
import pytest

from setback.services.lab import chores
from setback.services.unit_of_work import UnitOfWork
from setback.store import copies
from setback.store.database import connect


def settings(lab, **changes):
    """The settings as they are now, with changes."""
    return {**lab.get("/api/lab-settings"), **changes}


def text_of(pdf: bytes) -> str:
    document = pypdfium2.PdfDocument(io.BytesIO(pdf))
    return "\n".join(page.get_textpage().get_text_range() for page in document)


def test_saved_tidied_and_counted(lab):
    kept = lab.put("/api/lab-settings", settings(lab, name="  Skerry   Point ", currency=" kr "))
    assert (kept["name"], kept["currency"], kept["version"]) == ("Skerry Point", "kr", 1)
    assert lab.get("/api/lab-settings") == kept


def test_two_people_at_once_are_told(lab):
    first = settings(lab, name="Skerry Point")
    lab.put("/api/lab-settings", first)
    told = lab.put("/api/lab-settings", first, 409)
    assert "changed" in told["error"]["message"]


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("base_address", "bench.local", "as a browser shows it"),
        ("base_address", "http://", "as a browser shows it"),
        ("base_address", "javascript:alert(1)", "as a browser shows it"),
        ("base_address", "http://bench.local:99999", "as a browser shows it"),
        ("base_address", "http://a b", "as a browser shows it"),
        ("backup_folder", "copies", "whole path"),
        ("backup_folder", "/no/such/folder", "no such folder"),
        ("band_c", 0, "1"),
        ("label_sheet", "23", ""),
    ],
)
def test_what_cannot_be_is_said_at_its_field_and_nothing_changes(lab, field, value, words):
    told = lab.put("/api/lab-settings", settings(lab, name="Skerry Point", **{field: value}), 422)
    assert words in told["error"]["fields"][field]
    assert lab.get("/api/lab-settings")["name"] == ""


def test_codes_lead_where_it_says(lab, monkeypatch):
    lab.put("/api/lab-settings", settings(lab, base_address="https://bench.local:8350/"))
    assert lab.get("/api/lab-settings/place")["address"] == "https://bench.local:8350"
    assert lab.get("/api/lab-settings/place")["reaches_others"] is True
    monkeypatch.setenv("SETBACK_ADDRESS", "http://127.0.0.1:9000")
    place = lab.get("/api/lab-settings/place")
    assert (place["address"], place["address_from"]) == ("http://127.0.0.1:9000", "environment")
    assert place["reaches_others"] is False


def test_the_name_stands_on_a_card(lab):
    lab.put("/api/lab-settings", settings(lab, name="Skerry Point"))
    card = lab.issue(lab.decided())
    # A prepared lab came with its own settings: none.
    lab.put("/api/lab-settings", settings(lab, name="Skerry Point"))
    pdf = lab.client.get(f"/api/sets/{card['code']}/file?format=pdf").data
    assert "Skerry Point: S-001" in text_of(pdf)


def test_the_band_of_the_lab_is_proposed(lab):
    calibration = lab.decided()
    lab.put("/api/lab-settings", settings(lab, band_c=4))
    arm = calibration["arms"][0]
    band = lab.get(f"/api/calibrations/{calibration['id']}/temperature-band?arm_id={arm['id']}&exposure_s=2.4")
    assert (band["low_c"], band["high_c"]) == (20, 28)


def test_a_copy_lies_in_the_second_folder_too(lab, tmp_path):
    elsewhere = tmp_path / "stick"
    elsewhere.mkdir()
    lab.put("/api/lab-settings", settings(lab, backup_folder=str(elsewhere)))
    db = connect(lab.path)
    try:
        chores.copy(UnitOfWork(db))
        chores.copy(UnitOfWork(db))
    finally:
        db.close()
    usual = copies.newest(lab.path)
    assert usual is not None and [file.name for file in elsewhere.iterdir()] == [usual.path.name]


def test_a_second_folder_that_is_gone_keeps_the_first_copy(lab, tmp_path):
    elsewhere = tmp_path / "stick"
    elsewhere.mkdir()
    lab.put("/api/lab-settings", settings(lab, backup_folder=str(elsewhere)))
    elsewhere.rmdir()
    db = connect(lab.path)
    try:
        chores.copy(UnitOfWork(db))
    finally:
        db.close()
    assert copies.newest(lab.path) is not None
