"""What was done in the lab, newest first: every kind of work is one query, entered here and nowhere else."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, many


class Done(Row):
    """One piece of work: what, of which thing, when and by whom."""

    kind: str
    code: str
    at: str
    by: str | None
    title: str
    detail: str


_OF_CALIBRATION = "CROSS JOIN material m ON m.id = c.material_id CROSS JOIN printer p ON p.id = c.printer_id"
"""A cross join is walked as it is written: newest first, until there is enough."""

KINDS: dict[str, str] = {
    "print": """SELECT x.code, x.printed_at AS at, t.initials AS by,
        coalesce(m.name || ' on ', '') || p.name AS title, coalesce(x.outcome, 'outcome not noted') AS detail,
        m.id AS material_id, p.id AS printer_id, s.code AS set_code
      FROM print x JOIN printer p ON p.id = x.printer_id LEFT JOIN technician t ON t.id = x.technician_id
      LEFT JOIN arm a ON a.id = x.arm_id LEFT JOIN calibration c ON c.id = a.calibration_id
      LEFT JOIN parameter_set s ON s.id = x.parameter_set_id
      LEFT JOIN material m ON m.id = coalesce(c.material_id, s.material_id)
      WHERE x.printed_at IS NOT NULL""",
    "reading": """SELECT k.code, r.read_at AS at, t.initials AS by, m.name || ' on ' || p.name AS title,
        CASE WHEN r.withdrawn = 1 THEN 'withdrawn: ' || coalesce(r.reason, '')
          WHEN r.supersedes_id IS NOT NULL THEN 'corrected: ' || coalesce(r.reason, '') ELSE printf('%g s', k.exposure_s) END
          AS detail,
        c.material_id, c.printer_id, NULL AS set_code
      FROM reading r CROSS JOIN coupon k ON k.id = r.coupon_id CROSS JOIN arm a ON a.id = k.arm_id
      CROSS JOIN calibration c ON c.id = a.calibration_id """
    + _OF_CALIBRATION
    + """ LEFT JOIN technician t ON t.id = r.technician_id""",
    "calibration": """SELECT c.code, c.opened_at AS at, t.initials AS by, m.name || ' on ' || p.name AS title,
        printf('%g µm', c.layer_height_um) AS detail, c.material_id, c.printer_id, NULL AS set_code
      FROM calibration c """
    + _OF_CALIBRATION
    + """ LEFT JOIN technician t ON t.id = c.technician_id""",
    "set": """SELECT c.code, c.issued_at AS at, t.initials AS by, m.name || ' on ' || p.name AS title,
        printf('version %d, %g s: %s', c.version, c.exposure_s, c.reason) AS detail,
        c.material_id, c.printer_id, c.code AS set_code
      FROM parameter_set c """
    + _OF_CALIBRATION
    + """ LEFT JOIN technician t ON t.id = c.technician_id""",
    "confirmation": """SELECT c.code, x.confirmed_at AS at, t.initials AS by, m.name || ' on ' || p.name AS title,
        x.what || ': ' || x.finding AS detail, c.material_id, c.printer_id, NULL AS set_code
      FROM confirmation x CROSS JOIN calibration c ON c.id = x.calibration_id """
    + _OF_CALIBRATION
    + """ LEFT JOIN technician t ON t.id = x.technician_id WHERE x.withdrawn_at IS NULL""",
    "qualification": """SELECT q.code, q.signed_at AS at, t.initials AS by, b.name AS title, s.code || ': ' || q.verdict AS detail,
        s.material_id, s.printer_id, s.code AS set_code
      FROM qualification q CROSS JOIN parameter_set s ON s.id = q.parameter_set_id
      JOIN brief_version v ON v.id = q.brief_version_id JOIN brief b ON b.id = v.brief_id
      LEFT JOIN technician t ON t.id = q.technician_id""",
    "brief": """SELECT b.code, v.created_at AS at, t.initials AS by, b.name AS title, printf('version %d', v.version) AS detail,
        NULL AS material_id, NULL AS printer_id, NULL AS set_code
      FROM brief_version v JOIN brief b ON b.id = v.brief_id LEFT JOIN technician t ON t.id = v.technician_id""",
    "event": """SELECT e.code, e.recorded_at AS at, t.initials AS by, coalesce(p.name, m.name, f.name, k.code, '') AS title,
        e.kind || '|' || CASE WHEN e.withdrawn_at IS NOT NULL THEN 'withdrawn: ' || e.withdrawn_reason
          WHEN e.note <> '' THEN e.note ELSE '' END AS detail,
        e.material_id, e.printer_id, NULL AS set_code
      FROM event e LEFT JOIN printer p ON p.id = e.printer_id LEFT JOIN material m ON m.id = e.material_id
      LEFT JOIN finish_route f ON f.id = e.finish_route_id LEFT JOIN bottle k ON k.id = e.bottle_id
      LEFT JOIN technician t ON t.id = e.technician_id""",
    "vat": """SELECT p.code, v.recorded_at AS at, t.initials AS by, p.name AS title,
        v.kind || CASE WHEN v.volume_ml > 0 THEN printf(', %g ml', v.volume_ml) ELSE '' END || coalesce(' from ' || k.code, '') AS detail,
        k.material_id, v.printer_id, NULL AS set_code
      FROM vat_entry v JOIN printer p ON p.id = v.printer_id LEFT JOIN bottle k ON k.id = v.bottle_id
      LEFT JOIN technician t ON t.id = v.technician_id WHERE v.withdrawn_at IS NULL""",
    "batch": """SELECT b.code, b.poured_at AS at, t.initials AS by, m.name AS title, printf('%g ml poured', b.volume_ml) AS detail,
        b.blend_id AS material_id, NULL AS printer_id, NULL AS set_code
      FROM batch b JOIN material m ON m.id = b.blend_id LEFT JOIN technician t ON t.id = b.technician_id
      WHERE b.poured_at IS NOT NULL""",
    "test": """SELECT x.code, x.planned_at AS at, t.initials AS by, x.method AS title, 'planned' AS detail,
        NULL AS material_id, NULL AS printer_id, NULL AS set_code
      FROM test x LEFT JOIN technician t ON t.id = x.technician_id""",
    "specimens": """SELECT x.code, max(r.read_at) AS at, t.initials AS by, x.method AS title,
        printf('%d read', count(*)) AS detail, g.material_id, g.printer_id, NULL AS set_code
      FROM specimen_reading r JOIN specimen s ON s.id = r.specimen_id JOIN test_group g ON g.id = s.group_id
      JOIN test x ON x.id = g.test_id LEFT JOIN technician t ON t.id = r.technician_id
      WHERE r.read_at <= :before AND r.read_at >= :since GROUP BY x.id, substr(r.read_at, 1, 10), t.id""",
    "warm start": """SELECT w.code, w.at AS at, t.initials AS by, 'Warm start' AS title,
        CASE WHEN w.begun_at IS NULL THEN 'planned' ELSE 'begun' END AS detail,
        NULL AS material_id, NULL AS printer_id, NULL AS set_code
      FROM warm_start w LEFT JOIN technician t ON t.id = w.technician_id""",
    "bottle": """SELECT b.code, b.created_at AS at, NULL AS by, m.name AS title, 'lot ' || b.lot AS detail,
        b.material_id, NULL AS printer_id, NULL AS set_code
      FROM bottle b JOIN material m ON m.id = b.material_id""",
}
_NARROWED = """ at <= :before AND (at < :before OR '{kind} ' || code < :tie) AND at >= :since
"""
_TO = {"by": "by", "material": "material_id", "printer": "printer_id", "set_code": "set_code"}
"""What the work is narrowed to, by column. Only what is asked for stands in the query: so its index serves it."""


def done(db: sqlite3.Connection, kinds: list[str], limit: int, **narrowed: Any) -> list[Done]:
    """Work of some kinds, newest first.

    ``before`` and ``since`` are moments, and ``tie`` the kind and code before which work of that very moment comes; ``by``,
    ``material``, ``printer`` and ``set_code`` may be None.
    """
    rows: list[Done] = []
    since = narrowed["since"]
    to = "".join(f" AND {column} = :{name}" for name, column in _TO.items() if narrowed[name] is not None)
    for kind in kinds:
        sql = f"""SELECT '{kind}' AS kind, code, at, by, coalesce(title, '') AS title, coalesce(detail, '') AS detail FROM ({KINDS[kind]})
          WHERE {_NARROWED.format(kind=kind)}{to} ORDER BY at DESC, code DESC LIMIT :limit"""
        rows += many(db, Done, sql, {**narrowed, "since": since, "limit": limit})
        rows = sorted(rows, key=lambda row: (row.at, f"{row.kind} {row.code}"), reverse=True)[:limit]
        if len(rows) == limit:
            since = rows[-1].at  # Nothing older of the next kind can be shown.
    return rows
