"""What a record of the journal is called, so that a person finds it."""

from __future__ import annotations

import sqlite3
from datetime import UTC, datetime

from ..journal import HOUR_S, SAMPLES

# Records without a code or name of their own, by what they belong to.
OF = {
    "account": "SELECT t.initials FROM account a JOIN technician t ON t.id = a.technician_id WHERE a.id = ?",
    "opinion": "SELECT q.code FROM opinion o JOIN question q ON q.id = o.question_id WHERE o.id = ?",
    "earlier_pour": "SELECT b.code FROM earlier_pour p JOIN bottle b ON b.id = p.bottle_id WHERE p.id = ?",
    "earlier_result": "SELECT m.name FROM earlier_result r JOIN material m ON m.id = r.material_id WHERE r.id = ?",
    "coupon_look": "SELECT c.code FROM coupon_look l JOIN coupon c ON c.id = l.coupon_id WHERE l.id = ?",
    "claim": "SELECT m.name FROM claim c JOIN material m ON m.id = c.material_id WHERE c.id = ?",
    "picture_reading": "SELECT c.code FROM picture_reading p JOIN coupon c ON c.id = p.coupon_id WHERE p.id = ?",
    "gauge_reading": """SELECT s.code FROM gauge_reading r JOIN gauge_turn u ON u.id = r.turn_id
      JOIN gauge_study s ON s.id = u.study_id WHERE r.id = ?""",
    "reader_correction": "SELECT s.code FROM reader_correction c JOIN gauge_study s ON s.id = c.study_id WHERE c.id = ?",
    "picture_camera": """SELECT c.code FROM picture_reading p JOIN coupon c ON c.id = p.coupon_id WHERE p.id = ?""",
    "reading": "SELECT 'coupon ' || c.code FROM reading r JOIN coupon c ON c.id = r.coupon_id WHERE r.id = ?",
    "specimen_reading": "SELECT s.code FROM specimen_reading r JOIN specimen s ON s.id = r.specimen_id WHERE r.id = ?",
    "arm": "SELECT c.code FROM arm a JOIN calibration c ON c.id = a.calibration_id WHERE a.id = ?",
    "photo": """SELECT coalesce(c.code, s.code, j.code) FROM photo p LEFT JOIN coupon c ON c.id = p.coupon_id
      LEFT JOIN specimen s ON s.id = p.specimen_id LEFT JOIN print j ON j.id = p.print_id WHERE p.id = ?""",
    "print_report": "SELECT p.code FROM print_report q JOIN print p ON p.id = q.print_id WHERE q.id = ?",
    "guide_run": "SELECT p.name FROM guide_run g JOIN printer p ON p.id = g.printer_id WHERE g.id = ?",
    "trace_answer": "SELECT x.code FROM trace_answer a JOIN trace x ON x.id = a.trace_id WHERE a.id = ?",
    "trace_cause": "SELECT x.code FROM trace_cause c JOIN trace x ON x.id = c.trace_id WHERE c.id = ?",
    "wash_bath_filling": "SELECT b.name FROM wash_bath_filling f JOIN wash_bath b ON b.id = f.wash_bath_id WHERE f.id = ?",
    "brief_version": "SELECT b.code FROM brief_version v JOIN brief b ON b.id = v.brief_id WHERE v.id = ?",
}
WORDS = {
    "specimen_reading": "test reading",
    "gauge_study": "gauge study",
    "gauge_reading": "reading of a gauge study",
    "reader_correction": "correction of a reader",
    "picture_camera": "camera of a picture",
    "picture_reading": "picture that was read",
    "flow_reading": "flow reading",
    "vat_entry": "vat entry",
    "lab_key": "public key",
    "parameter_set": "set",
    "print_part": "part of a print",
    "guide_run": "steps",
    "trace_answer": "answer",
    "wash_bath_filling": "filling",
    "own_task": "own task",
    "earlier_table": "table",
    "earlier_pour": "earlier pour",
    "earlier_result": "earlier result",
    "borrowed_set": "borrowed set",
    "coupon_look": "look at a coupon",
    "own_coupon": "coupon of one's own",
    "provisional_set": "settings in use",
    "plan_tick": "ticked step",
    "printer_down": "printer down",
    "job_due": "needed by",
    "plan_pin": "pin",
    "day_plan": "plan",
    "calendar_feed": "calendar address",
    "trace_cause": "cause",
    "print_report": "report on a print",
}


def name_of(db: sqlite3.Connection, kind: str, record: str) -> str:
    """Its kind with its code or name; with the beginning of its key where it is gone or has neither."""
    if kind == SAMPLES:
        return _hour(db, record)
    words = WORDS.get(kind, kind.replace("_", " "))
    if kind in OF:
        row = db.execute(OF[kind], (record,)).fetchone()
        return f"{words} of {row[0]}" if row and row[0] else f"{words} {record[:8]}"
    columns = [column[1] for column in db.execute(f"PRAGMA table_info({kind})")]
    naming = next((column for column in ("code", "name", "initials") if column in columns), None)
    keys = [column[1] for column in db.execute(f"PRAGMA table_info({kind})") if column[5]]
    if naming and len(keys) == 1:
        row = db.execute(f"SELECT {naming} FROM {kind} WHERE {keys[0]} = ?", (record,)).fetchone()
        if row:
            return f"{words} {row[0]}"
    return f"{words} {record[:8]}"


def _hour(db: sqlite3.Connection, record: str) -> str:
    probe, hour = (int(part) for part in record.split("|"))
    row = db.execute("SELECT name FROM probe WHERE number = ?", (probe,)).fetchone()
    at = datetime.fromtimestamp(hour * HOUR_S, UTC).strftime("%Y-%m-%d %H:00")
    return f"an hour of samples from {at} UTC of {row[0] if row else f'probe {probe}'}"
