"""Find anything by the start of its code or any word of its name."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many


class Found(Row):
    """A thing that was found, with the address of its page."""

    kind: str
    id: str
    code: str
    title: str
    detail: str


_SOURCES = (
    (
        "coupon",
        """SELECT 'coupon' AS kind, k.id, k.code, m.name || ' on ' || p.name AS title,
        printf('%g s, %s', k.exposure_s, c.code) AS detail
      FROM coupon k JOIN arm a ON a.id = k.arm_id JOIN calibration c ON c.id = a.calibration_id
      JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id
      WHERE k.code >= :upper AND k.code < :upper_end AND k.gone_at IS NULL ORDER BY k.code LIMIT :limit""",
    ),
    (
        "calibration",
        """SELECT 'calibration' AS kind, c.id, c.code, m.name || ' on ' || p.name AS title,
        printf('%g µm', c.layer_height_um) AS detail
      FROM calibration c JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id
      WHERE c.code LIKE :start OR m.name LIKE :start OR m.name LIKE :word OR p.name LIKE :start
      ORDER BY c.opened_at DESC LIMIT :limit""",
    ),
    (
        "set",
        """SELECT 'set' AS kind, s.id, s.code, m.name || ' on ' || p.name AS title,
        printf('%g µm, %g s, version %d', s.layer_height_um, s.exposure_s, s.version) AS detail
      FROM parameter_set s JOIN material m ON m.id = s.material_id JOIN printer p ON p.id = s.printer_id
      WHERE s.code LIKE :start OR m.name LIKE :start OR m.name LIKE :word ORDER BY s.chain DESC LIMIT :limit""",
    ),
    (
        "test",
        """SELECT 'test' AS kind, x.id, x.code, x.method AS title, coalesce(b.name, '') AS detail
      FROM test x LEFT JOIN brief_version v ON v.id = x.brief_version_id LEFT JOIN brief b ON b.id = v.brief_id
      WHERE x.code LIKE :start OR x.method LIKE :start OR b.name LIKE :start ORDER BY x.planned_at DESC LIMIT :limit""",
    ),
    (
        "specimen",
        """SELECT 'specimen' AS kind, s.id, s.code, m.name AS title, x.code AS detail FROM specimen s
      JOIN test_group g ON g.id = s.group_id JOIN test x ON x.id = g.test_id JOIN material m ON m.id = g.material_id
      WHERE s.code >= :upper AND s.code < :upper_end AND length(:upper) > 5 ORDER BY s.code LIMIT :limit""",
    ),
    (
        "brief",
        """SELECT 'brief' AS kind, id, code, name AS title, '' AS detail FROM brief
      WHERE retired_at IS NULL AND (code LIKE :start OR name LIKE :start OR name LIKE :word) ORDER BY name LIMIT :limit""",
    ),
    (
        "resin",
        """SELECT 'resin' AS kind, m.id, m.code, m.name AS title, r.family || ' · ' || r.colour AS detail
      FROM material m JOIN resin r ON r.material_id = m.id
      WHERE m.retired_at IS NULL AND (m.code LIKE :start OR m.name LIKE :start OR m.name LIKE :word)
      ORDER BY m.name LIMIT :limit""",
    ),
    (
        "blend",
        """SELECT 'blend' AS kind, m.id, m.code, m.name AS title, '' AS detail FROM material m
        JOIN blend b ON b.material_id = m.id
      WHERE m.retired_at IS NULL AND (m.code LIKE :start OR m.name LIKE :start OR m.name LIKE :word)
      ORDER BY m.name LIMIT :limit""",
    ),
    (
        "batch",
        """SELECT 'batch' AS kind, b.id, b.code, m.name AS title, printf('%g ml', b.volume_ml) AS detail
      FROM batch b JOIN material m ON m.id = b.blend_id WHERE b.code LIKE :start ORDER BY b.code LIMIT :limit""",
    ),
    (
        "series",
        """SELECT 'series' AS kind, id, code, name AS title, '' AS detail FROM blend_series
      WHERE retired_at IS NULL AND (code LIKE :start OR name LIKE :start OR name LIKE :word) ORDER BY name LIMIT :limit""",
    ),
    (
        "qualification",
        """SELECT 'qualification' AS kind, q.id, q.code, b.name AS title, s.code || ', ' || q.verdict AS detail
      FROM qualification q JOIN brief_version v ON v.id = q.brief_version_id JOIN brief b ON b.id = v.brief_id
      JOIN parameter_set s ON s.id = q.parameter_set_id
      WHERE q.code LIKE :start OR b.name LIKE :start OR b.name LIKE :word ORDER BY q.chain DESC LIMIT :limit""",
    ),
    (
        "warm start",
        """SELECT 'warm start' AS kind, id, code, 'Warm start' AS title, substr(at, 1, 10) AS detail FROM warm_start
      WHERE code LIKE :start ORDER BY at DESC LIMIT :limit""",
    ),
    (
        "bottle",
        """SELECT 'bottle' AS kind, b.id, b.code, m.name AS title, 'lot ' || b.lot AS detail
      FROM bottle b JOIN material m ON m.id = b.material_id
      WHERE b.retired_at IS NULL AND (b.code LIKE :start OR b.lot LIKE :start OR m.name LIKE :start)
      ORDER BY b.code LIMIT :limit""",
    ),
    (
        "printer",
        """SELECT 'printer' AS kind, p.id, p.code, p.name AS title, p.light_engine AS detail FROM printer p
      WHERE p.retired_at IS NULL AND (p.code LIKE :start OR p.name LIKE :start OR p.name LIKE :word)
      ORDER BY p.name LIMIT :limit""",
    ),
    (
        "finish route",
        """SELECT 'finish route' AS kind, f.id, f.code, f.name AS title, '' AS detail FROM finish_route f
      WHERE f.retired_at IS NULL AND (f.code LIKE :start OR f.name LIKE :start OR f.name LIKE :word)
      ORDER BY f.name LIMIT :limit""",
    ),
)


def find(db: sqlite3.Connection, text: str, limit: int = 6) -> list[Found]:
    """What matches, by kind; at most ``limit`` of each kind."""
    plain = text.strip().replace("\\", "").replace("%", "").replace("_", "")
    if not plain:
        return []
    values = {
        "start": f"{plain}%",
        "word": f"% {plain}%",
        "upper": plain.upper(),
        "upper_end": plain.upper() + "\uffff",
        "limit": limit,
    }
    return [match for _, sql in _SOURCES for match in many(db, Found, sql, values)]
