"""Qualify through the API: briefs judged, signed, lapsed; the chain; the certificate."""

import itertools
import json
import sqlite3

import pypdfium2 as pdfium
import pytest

from setback.core.qualify.properties import ASKABLE
from setback.services.lab.records import verify
from setback.services.unit_of_work import UnitOfWork
from setback.store.database import connect
from tests.lab import OF_THE_SET, RESIN, brief, sign


@pytest.fixture
def card(lab):
    return lab.issue(lab.decided(), temp_low_c=21, temp_high_c=27)


class TestBrief:
    @pytest.mark.parametrize(
        ("line", "place"),
        [
            ({"property": "set.nothing", "at": "most", "limit": 1}, "requirements.0.property"),
            ({"property": "set.cost", "at": "most", "limit": 1}, "requirements.0.amount"),
            ({"property": "looks.layers", "at": "least", "limit": 4, "basis": "bound"}, "requirements.0.basis"),
            (
                {"property": "set.tip", "at": "most", "limit": 1, "conditions": [{"key": "soak", "value": "dry"}]},
                "requirements.0.conditions",
            ),
            ({"property": "drop.height", "at": "least", "limit": 1, "basis": "every"}, "requirements.0.basis"),
            ({"property": "set.tip", "at": "most", "limit": 1, "margin_pct": -5}, "requirements.0.margin_pct"),
        ],
    )
    def test_what_cannot_be_asked_is_refused_at_its_line(self, lab, line, place):
        assert place in brief(lab, [line], 422)["error"]["fields"]

    def test_one_property_under_two_conditions_is_two_lines(self, lab):
        lines = [
            {"property": "flexing.cycles", "at": "least", "limit": 300, "conditions": [{"key": "temp_c", "value": t}]}
            for t in (10, 20)
        ]
        assert len(brief(lab, lines)["requirements"]) == 2
        assert "requirements.1.property" in brief(lab, [lines[0], lines[0]], 422, "Again")["error"]["fields"]

    def test_templates_can_be_kept_as_they_are(self, lab):
        for template in lab.get("/api/brief-templates")["items"]:
            brief(lab, template["requirements"], name=template["name"])


class TestVerdict:
    def test_each_set_is_judged_with_its_reasons(self, lab, card):
        held = brief(lab, [*OF_THE_SET, {"property": "drop.height", "at": "least", "limit": 1, "kind": "should"}])
        standing = lab.get(f"/api/qualify/{held['code']}")
        (one,) = standing["candidates"]
        assert one["verdict"] == "conditional" and [j["status"] for j in one["judged"]] == ["met", "met", "not shown"]
        assert one["judged"][2]["need"]["specimens"] == 5
        (line,) = lab.get("/api/qualify")["items"]
        assert line["counts"] == {"conditional": 1}

    def test_the_cheapest_that_qualifies_is_marked(self, lab, card):
        held = brief(lab)
        (one,) = lab.get(f"/api/qualify/{held['code']}")["candidates"]
        assert one["verdict"] == "qualified" and one["price_per_l"] is None and one["cheapest"] is False
        resin = lab.get("/api/resins")["items"][0]
        kept = {k: v for k, v in resin.items() if k in RESIN or k == "version"}
        lab.put(f"/api/resins/{resin['id']}", kept | {"price_per_l": 40})
        assert lab.get(f"/api/qualify/{held['code']}")["candidates"][0]["cheapest"] is True
        assert lab.get("/api/qualify")["items"][0]["best"] == "Slate 2 on Cormorant"

    def test_the_cost_of_a_part_and_what_the_set_does_not_say(self, lab, card):
        lines = [
            {"property": "set.cost", "at": "most", "limit": 1, "amount": 20},
            {"property": "set.plate", "at": "least", "limit": 50},
            {"property": "set.cold", "at": "most", "limit": 15},
            {"property": "set.cure", "at": "most", "limit": 60},
        ]
        held = brief(lab, lines)
        judged = lab.get(f"/api/qualify/{held['code']}/{card['code']}")["judged"]
        assert judged[1]["status"] == "not shown" and judged[1]["need"]["stage"] == "confirm"
        assert judged[2]["status"] == "not met" and judged[3]["status"] == "met"

    def test_no_set_and_no_brief_are_plain(self, lab, card):
        lab.get("/api/qualify/A-999", 404)
        lab.get(f"/api/qualify/{brief(lab)['code']}/S-999", 404)


class TestSigning:
    def test_kept_as_it_was_and_lapsed_by_an_event(self, lab, card):
        held = brief(lab)
        made = sign(lab, held, card, scope="Baffles of up to 80 mm.")
        assert (made["verdict"], made["state"], made["code"]) == ("qualified", "qualified", "N-001")
        lab.post("/api/events", {"kind": "screen-replaced", "printer_id": card["printer_id"]}, 201)
        after = lab.get("/api/qualifications/N-001")
        assert (after["verdict"], after["state"]) == ("qualified", "lapsed") and after["hash"] == made["hash"]
        assert any("creen" in why for why in after["why"])
        assert lab.get("/api/qualifications")["items"][0]["state"] == "lapsed"
        told = lab.post(
            "/api/qualifications",
            {
                "brief_id": held["id"],
                "set_code": card["code"],
                "initials": "IM",
                "evidence_hash": lab.get(f"/api/qualify/{held['code']}/{card['code']}")["evidence_hash"],
            },
            409,
        )
        assert "lapsed" in told["error"]["message"]

    def test_the_initials_must_be_ones_own(self, lab, card):
        lab.post("/api/technicians", {"initials": "RB"}, 201)
        assert "initials" in sign(lab, brief(lab), card, 422, initials="RB")["error"]["fields"]

    def test_evidence_that_changed_meanwhile_is_named(self, lab, card):
        held = brief(lab)
        before = lab.get(f"/api/qualify/{held['code']}/{card['code']}")
        lines = [{**OF_THE_SET[0]}, {**OF_THE_SET[1], "limit": 500}]
        lab.put(f"/api/briefs/{held['id']}", {"name": "Baffle", "requirements": lines, "version": 1})
        told = sign(
            lab,
            held,
            card,
            409,
            evidence_hash=before["evidence_hash"],
            seen=[
                {"property": j["demand"]["property"], "status": j["status"], "source": j["used"]["source"]}
                for j in before["judged"]
            ],
        )
        assert "Exposure latitude was met, now not met" in told["error"]["message"]

    def test_a_newer_version_of_the_brief_is_said(self, lab, card):
        held = brief(lab)
        sign(lab, held, card)
        lab.put(f"/api/briefs/{held['id']}", {"name": "Baffle", "requirements": OF_THE_SET, "version": 1})
        assert "version 2" in lab.get("/api/qualifications/N-001")["why"][0]

    def test_a_double_tap_signs_once(self, lab, card):
        held = brief(lab)
        judged = lab.get(f"/api/qualify/{held['code']}/{card['code']}")
        given = {
            "brief_id": held["id"],
            "set_code": card["code"],
            "evidence_hash": judged["evidence_hash"],
            "initials": "IM",
        }
        for expected in (201, 200):
            lab.post("/api/qualifications", given, expected, Idempotency_Key="one")
        assert len(lab.get("/api/qualifications")["items"]) == 1


class TestChain:
    @pytest.mark.parametrize(
        "column", ["verdict", "scope", "input", "result", "evidence_hash", "signed_at", "core_version"]
    )
    def test_one_changed_byte_is_found(self, lab, card, db_path, column):
        made = sign(lab, brief(lab), card, scope="As drawn.")
        db = connect(db_path)
        quiet = lambda share, message: None  # noqa: E731
        assert verify(UnitOfWork(db), quiet, {})["intact"]
        db.execute("DROP TRIGGER qualification_kept")
        text = db.execute(f"SELECT {column} FROM qualification").fetchone()[0]
        if column == "verdict":
            changed = "conditional"
        elif column in ("input", "result"):
            place = text.rindex('"') - 1
            changed = text[:place] + ("x" if text[place] != "x" else "y") + text[place + 1 :]
            json.loads(changed)
        else:
            changed = text[:-1] + ("x" if text[-1] != "x" else "y")
        db.execute(f"UPDATE qualification SET {column} = ?", (changed,))
        told = verify(UnitOfWork(db), quiet, {})
        assert told["first_broken"] == made["code"] and "not what was signed" in told["words"]
        db.close()

    def test_a_record_cannot_be_changed_or_taken_out(self, lab, card, db_path):
        sign(lab, brief(lab), card)
        db = connect(db_path)
        for sql in ("UPDATE qualification SET scope = 'x'", "DELETE FROM qualification"):
            with pytest.raises(sqlite3.IntegrityError, match="append-only"):
                db.execute(sql)
        db.close()


class TestCertificate:
    def test_as_pdf_and_as_json(self, lab, card):
        made = sign(lab, brief(lab), card)
        pdf = lab.client.get(f"/api/qualifications/{made['code']}/file")
        assert pdf.mimetype == "application/pdf" and pdf.data[:5] == b"%PDF-"
        held = json.loads(lab.client.get(f"/api/qualifications/{made['code']}/file?format=json").data)
        assert held["hash"] == made["hash"]
        again = lab.client.get(f"/api/qualifications/{made['code']}/file")
        assert again.data == pdf.data

    def test_thirty_requirements_break_over_pages_and_nothing_is_cut(self, lab, card):
        names = [key for key in ASKABLE if key not in ("set.cost",)][:30]
        lines = [
            {
                "property": key,
                "at": "most" if ASKABLE[key].better == "lower" else "least",
                "limit": 1234.5,
                "kind": "should",
                "note": "A long word of the workshop that has to find its place.",
            }
            for key in names
        ]
        made = sign(lab, brief(lab, lines), card, scope="A scope that says a good deal about what it is for. " * 8)
        pdf = lab.client.get(f"/api/qualifications/{made['code']}/file").data
        pages = [page.get_textpage() for page in pdfium.PdfDocument(pdf)]
        assert len(pages) >= 4
        text = " ".join(" ".join(page.get_text_range().split()) for page in pages)
        assert "95 % interval" in text and ".py" not in text and "setback/" not in text
        for key in names:
            assert ASKABLE[key].name in text
        wide, high = 595.3, 841.9
        for page in pages:
            boxes = [page.get_rect(i) for i in range(page.count_rects())]
            assert all(box[0] > 45 and box[2] < wide - 45 and box[1] > 15 and box[3] < high - 40 for box in boxes)
            # No two lines of words lie on one another.
            rows = sorted((round(low, 1), round(left, 1), right) for left, low, right, _ in boxes)
            assert all(n[0] != o[0] or n[1] >= o[2] - 1 for o, n in itertools.pairwise(rows))
