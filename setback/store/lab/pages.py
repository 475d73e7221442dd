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
    sql = f"{_PRINTED} WHERE p.material_id = ? AND p.parameter_set_id IS NOT NULL AND p.status = 'printed' ORDER BY p.printed_at DESC LIMIT ?"
    return many(db, PrintLine, sql, (material_id, limit))


def prints_of_printer(db: sqlite3.Connection, printer_id: str, limit: int) -> list[PrintLine]:
    sql = f"{_PRINTED} WHERE p.printer_id = ? AND p.status = 'printed' ORDER BY p.printed_at DESC LIMIT ?"
    return many(db, PrintLine, sql, (printer_id, limit))


class BottleUse(Row):
    """Something that went into or out of a bottle, ml: out is negative."""

    kind: str
    code: str
    at: str
    words: str
    ml: float | None
    initials: str | None


_USES = (
    """SELECT 'print' AS kind, p.code, p.printed_at AS at, 'printed on ' || r.name AS words, -p.taken_ml AS ml, t.initials FROM print p
      JOIN printer r ON r.id = p.printer_id LEFT JOIN technician t ON t.id = p.technician_id
      WHERE p.bottle_id = :bottle AND p.status = 'printed'""",
    """SELECT 'vat' AS kind, r.code, v.at, v.kind || ' the vat of ' || r.name AS words, -v.volume_ml AS ml, t.initials
      FROM vat_entry v JOIN printer r ON r.id = v.printer_id LEFT JOIN technician t ON t.id = v.technician_id
      WHERE v.bottle_id = :bottle AND v.withdrawn_at IS NULL AND v.volume_ml > 0""",
    """SELECT 'vat' AS kind, r.code, v.at, 'back from the vat of ' || r.name AS words, v.volume_ml AS ml, t.initials
      FROM vat_entry v JOIN printer r ON r.id = v.printer_id LEFT JOIN technician t ON t.id = v.technician_id
      WHERE v.to_bottle_id = :bottle AND v.withdrawn_at IS NULL AND v.volume_ml > 0""",
    """SELECT 'batch' AS kind, b.code, b.poured_at AS at, 'into ' || m.name AS words, -q.poured_ml AS ml, t.initials
      FROM batch_pour q JOIN batch b ON b.id = q.batch_id JOIN material m ON m.id = b.blend_id
      LEFT JOIN technician t ON t.id = b.technician_id WHERE q.bottle_id = :bottle AND b.poured_at IS NOT NULL""",
    """SELECT 'batch' AS kind, b.code, b.poured_at AS at, 'mixed into it' AS words, b.volume_ml AS ml, t.initials
      FROM batch b LEFT JOIN technician t ON t.id = b.technician_id
      WHERE b.bottle_id = :bottle AND b.poured_at IS NOT NULL""",
    """SELECT 'event' AS kind, e.code, e.happened_at AS at, e.kind AS words, NULL AS ml, t.initials
      FROM event e LEFT JOIN technician t ON t.id = e.technician_id
      WHERE e.bottle_id = :bottle AND e.withdrawn_at IS NULL""",
    """SELECT 'calibration' AS kind, c.code, c.opened_at AS at, 'calibrated on ' || p.name AS words, NULL AS ml, t.initials
      FROM calibration c JOIN printer p ON p.id = c.printer_id LEFT JOIN technician t ON t.id = c.technician_id
      WHERE c.bottle_id = :bottle""",
)


def uses_of_bottle(db: sqlite3.Connection, bottle_id: str, limit: int) -> list[BottleUse]:
    """What went into and out of a bottle, and what was calibrated with it, newest first."""
    sql = f"{' UNION ALL '.join(_USES)} ORDER BY 3 DESC LIMIT :limit"
    return many(db, BottleUse, sql, {"bottle": bottle_id, "limit": limit})
