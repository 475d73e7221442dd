"""Find anything by the start of its code or by words of its name."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many

MOST_WORDS = 6


class Found(Row):
    """A thing that was found, with the address of its page."""

    kind: str
    id: str
    code: str
    title: str
    detail: str


_BY_CODE = (
    """SELECT 'coupon' AS kind, k.id, k.code, m.name || ' on ' || p.name AS title,
        printf('%g s, %s', k.exposure_s, c.code) AS detail
      FROM coupon k JOIN arm a ON a.id = k.arm_id JOIN calibration c ON c.id = a.calibration_id
      JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id
      WHERE k.code >= :upper AND k.code < :upper_end ORDER BY k.code LIMIT :limit""",
    """SELECT 'specimen' AS kind, s.id, s.code, m.name AS title, x.code AS detail FROM specimen s
      JOIN test_group g ON g.id = s.group_id JOIN test x ON x.id = g.test_id JOIN material m ON m.id = g.material_id
      WHERE s.code >= :upper AND s.code < :upper_end AND length(:upper) > 5 ORDER BY s.code LIMIT :limit""",
    """SELECT 'print' AS kind, p.id, p.code, r.name AS title,
        coalesce(substr(p.printed_at, 1, 10), 'runs') AS detail
      FROM print p JOIN printer r ON r.id = p.printer_id
      WHERE p.code >= :upper AND p.code < :upper_end AND length(:upper) > 1
        AND (p.printed_at IS NOT NULL OR p.started_at IS NOT NULL)
      ORDER BY p.code LIMIT :limit""",
)
"""Things there are thousands of: found by the start of their code alone, which their index serves."""

_BY_WORDS = (
    """SELECT 'calibration' AS kind, c.id, c.code, m.name || ' on ' || p.name AS title,
        printf('%g µm', c.layer_height_um) AS detail, c.opened_at AS rank
      FROM calibration c CROSS JOIN material m ON m.id = c.material_id CROSS JOIN printer p ON p.id = c.printer_id""",
    """SELECT 'set' AS kind, s.id, s.code, m.name || ' on ' || p.name AS title,
        printf('%g µm, %g s, version %d', s.layer_height_um, s.exposure_s, s.version) AS detail, s.issued_at AS rank
      FROM parameter_set s CROSS JOIN material m ON m.id = s.material_id CROSS JOIN printer p ON p.id = s.printer_id""",
    """SELECT 'test' AS kind, x.id, x.code, x.method AS title, coalesce(b.name, '') AS detail, x.planned_at AS rank
      FROM test x LEFT JOIN brief_version v ON v.id = x.brief_version_id LEFT JOIN brief b ON b.id = v.brief_id""",
    """SELECT 'brief' AS kind, id, code, name AS title, '' AS detail, code AS rank FROM brief WHERE retired_at IS NULL""",
    """SELECT 'resin' AS kind, m.id, m.code, m.name AS title, r.family || ' · ' || r.colour AS detail, m.code AS rank
      FROM material m JOIN resin r ON r.material_id = m.id WHERE m.retired_at IS NULL""",
    """SELECT 'blend' AS kind, m.id, m.code, m.name AS title, '' AS detail, m.code AS rank FROM material m
        JOIN blend b ON b.material_id = m.id WHERE m.retired_at IS NULL""",
    """SELECT 'batch' AS kind, b.id, b.code, m.name AS title, printf('%g ml', b.volume_ml) AS detail, b.code AS rank
      FROM batch b JOIN material m ON m.id = b.blend_id""",
    """SELECT 'series' AS kind, id, code, name AS title, '' AS detail, code AS rank FROM blend_series
      WHERE retired_at IS NULL""",
    """SELECT 'qualification' AS kind, q.id, q.code, b.name AS title, s.code || ', ' || q.verdict AS detail, q.signed_at AS rank
      FROM qualification q CROSS JOIN brief_version v ON v.id = q.brief_version_id CROSS JOIN brief b ON b.id = v.brief_id
      CROSS JOIN parameter_set s ON s.id = q.parameter_set_id""",
    """SELECT 'warm start' AS kind, id, code, 'Warm start' AS title, substr(at, 1, 10) AS detail, at AS rank FROM warm_start""",
    """SELECT 'bottle' AS kind, b.id, b.code, m.name AS title, 'lot ' || b.lot AS detail, b.code AS rank
      FROM bottle b JOIN material m ON m.id = b.material_id WHERE b.retired_at IS NULL""",
    """SELECT 'printer' AS kind, id, code, name AS title, light_engine AS detail, code AS rank FROM printer
      WHERE retired_at IS NULL""",
    """SELECT 'finish route' AS kind, id, code, name AS title, '' AS detail, code AS rank FROM finish_route
      WHERE retired_at IS NULL""",
    # Each name once, and of each what was entered last: by the index from name to name, not through all that was ever printed.
    """WITH RECURSIVE named(name) AS (
        SELECT min(name) FROM print_part
        UNION ALL SELECT (SELECT min(t.name) FROM print_part t WHERE t.name > n.name) FROM named n WHERE n.name IS NOT NULL)
      SELECT 'part' AS kind, p.id, p.code, n.name AS title,
        r.name || ', ' || substr(coalesce(p.printed_at, p.planned_at), 1, 10) AS detail,
        coalesce(p.printed_at, p.planned_at) AS rank
      FROM named n JOIN print_part t ON t.rowid = (SELECT max(o.rowid) FROM print_part o WHERE o.name = n.name)
      JOIN print p ON p.id = t.print_id JOIN printer r ON r.id = p.printer_id WHERE p.status <> 'cancelled'""",
)
"""Everything else: each word of what is looked for begins a word of its code, title or detail.

A cross join is walked as it is written: newest first, until enough were found."""


def find(db: sqlite3.Connection, text: str, limit: int = 6) -> list[Found]:
    """What matches, by kind; at most ``limit`` of each kind."""
    words = text.replace("\\", " ").replace("%", " ").replace("_", " ").split()[:MOST_WORDS]
    if not words:
        return []
    matches: list[Found] = []
    if len(words) == 1:
        code = words[0].upper()
        values = {"upper": code, "upper_end": code + "\uffff", "limit": limit}
        matches = [match for sql in _BY_CODE for match in many(db, Found, sql, values)]
    wanted = {f"word{n}": f"% {word}%" for n, word in enumerate(words)}
    # What stands behind a dash begins a word too.
    hay = "' ' || code || ' ' || title || ' ' || replace(title, '-', ' ') || ' ' || detail"
    every = " AND ".join(f"({hay}) LIKE :{name}" for name in wanted)
    for source in _BY_WORDS:
        sql = f"SELECT kind, id, code, title, detail FROM ({source}) WHERE {every} ORDER BY rank DESC LIMIT :limit"
        matches += many(db, Found, sql, {**wanted, "limit": limit})
    return matches
