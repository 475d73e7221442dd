"""Queries behind the pages of one material and one printer."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many
from ..terms import Outcome


class CampaignLine(Row):
    """A calibration in a material's or a printer's list."""

    id: str
    code: str
    material: str
    printer: str
    layer_height_um: float
    opened_at: str
    closed_at: str | None
    set_code: str | None
    squares: int


class PrintLine(Row):
    """A print on the page of a material or printer."""

    id: str
    code: str
    printer: str
    set_code: str | None
    printed_at: str
    temp_c: float | None
    outcome: Outcome | None
    seen: str


_CAMPAIGN = """
SELECT c.id, c.code, m.name AS material, p.name AS printer, c.layer_height_um, c.opened_at, c.closed_at,
  (SELECT code FROM parameter_set s WHERE s.calibration_id = c.id ORDER BY version DESC LIMIT 1) AS set_code,
  (SELECT count(*) FROM depth_square q WHERE q.calibration_id = c.id AND q.gone_at IS NULL) AS squares
FROM calibration c JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id"""
_PRINTED = """
SELECT p.id, p.code, r.name AS printer, s.code AS set_code, p.printed_at, p.temp_c, p.outcome, p.seen
FROM print p JOIN printer r ON r.id = p.printer_id LEFT JOIN parameter_set s ON s.id = p.parameter_set_id"""


def campaigns_of_material(db: sqlite3.Connection, material_id: str, limit: int) -> list[CampaignLine]:
    return many(
        db, CampaignLine, f"{_CAMPAIGN} WHERE c.material_id = ? ORDER BY c.opened_at DESC LIMIT ?", (material_id, limit)
    )


def campaigns_of_printer(db: sqlite3.Connection, printer_id: str, limit: int) -> list[CampaignLine]:
    return many(
        db, CampaignLine, f"{_CAMPAIGN} WHERE c.printer_id = ? ORDER BY c.opened_at DESC LIMIT ?", (printer_id, limit)
    )


def prints_of_material(db: sqlite3.Connection, material_id: str, limit: int) -> list[PrintLine]:
    """Prints logged with a set of the material, newest first."""
    sql = f"{_PRINTED} WHERE s.material_id = ? AND p.status = 'printed' ORDER BY p.printed_at DESC LIMIT ?"
    return many(db, PrintLine, sql, (material_id, limit))


def prints_of_printer(db: sqlite3.Connection, printer_id: str, limit: int) -> list[PrintLine]:
    sql = f"{_PRINTED} WHERE p.printer_id = ? AND p.status = 'printed' ORDER BY p.printed_at DESC LIMIT ?"
    return many(db, PrintLine, sql, (printer_id, limit))
