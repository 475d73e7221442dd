"""Rules of validity: every row of the table from happening to state and back."""

import dataclasses

import pytest

from setback.core.status.validity import Check, Happening, Rule, SetFacts, shipped_rules, touches, validity

SET = SetFacts("s1", "m1", "p1", "2026-01-10T00:00:00Z", bottle_id="b1", lot="L1", route_version_id="r1")
RULES = shipped_rules()


def happening(rule, at="2026-02-01T00:00:00Z", **changes):
    """A happening that concerns the set in the way its rule asks for."""
    about = {
        "printer": {"printer_id": "p1"},
        "bottle": {"material_id": "m1", "bottle_id": "b2", "lot": "L2"},
        "material": {"material_id": "m1"},
        "route": {"route_version_id": "r1"},
        "pair": {"printer_id": "p1", "material_id": "m1"},
        "set": {"set_id": "s1"},
    }[rule.subject]
    if rule.only == "same-bottle":
        about["bottle_id"] = "b1"
    return Happening(rule=rule.key, at=at, **{**about, **changes})


def of(*happenings, checks=(), rules=RULES):
    return validity(SET, list(happenings), list(checks), rules)


@pytest.mark.parametrize("rule", RULES.values(), ids=RULES)
class TestEveryRule:
    def test_it_changes_the_state_and_says_why(self, rule):
        made = of(happening(rule))
        assert made.state == {"due": "due", "lapse": "lapsed"}[rule.effect]
        assert made.causes[0].why == rule.why and made.by_check == ("check" in rule.renewed_by)

    def test_what_happened_before_the_set_was_issued_does_not_count(self, rule):
        assert of(happening(rule, at="2026-01-09T00:00:00Z")).state == "valid"

    def test_what_concerns_others_does_not_count(self, rule):
        others = {"printer_id": "px", "material_id": "mx", "bottle_id": "bx", "route_version_id": "rx", "set_id": "sx"}
        held = happening(rule)
        moved = {name: value for name, value in others.items() if getattr(held, name) is not None}
        assert of(dataclasses.replace(held, **moved)).state == "valid"

    def test_a_check_within_limits_renews_what_it_can(self, rule):
        made = of(happening(rule), checks=[Check("s1", "2026-02-02T00:00:00Z", True)])
        assert made.state == ("valid" if "check" in rule.renewed_by else {"due": "due", "lapse": "lapsed"}[rule.effect])

    def test_a_check_from_before_does_not_renew(self, rule):
        assert of(happening(rule), checks=[Check("s1", "2026-01-20T00:00:00Z", True)]).state != "valid"

    def test_a_failed_check_renews_nothing(self, rule):
        assert of(happening(rule), checks=[Check("s1", "2026-02-02T00:00:00Z", False)]).state != "valid"


def test_the_same_lot_spares_the_set_and_another_does_not():
    rule = RULES["lot-opened"]
    assert of(happening(rule, lot="L1")).state == "valid" and of(happening(rule)).state == "due"


def test_dye_in_another_bottle_does_not_concern_it():
    assert of(happening(RULES["dye-added"], bottle_id="b9")).state == "valid"


def test_lapsing_causes_stand_first():
    made = of(happening(RULES["film-replaced"], at="2026-03-01T00:00:00Z"), happening(RULES["screen-replaced"]))
    assert made.state == "lapsed" and [c.rule for c in made.causes] == ["screen-replaced", "film-replaced"]


def test_a_kind_added_as_data_alone_works_like_any_other():
    own = Rule(
        key="shed-flooded",
        name="Shed flooded",
        subject="printer",
        effect="lapse",
        why="Salt water everywhere.",
        renewed_by=["calibration"],
    )
    made = of(happening(own), rules={**RULES, own.key: own})
    assert made.state == "lapsed" and not made.by_check and touches(own, happening(own), SET)


def test_a_kind_nobody_knows_does_nothing():
    assert of(Happening(rule="unheard-of", at="2026-02-01T00:00:00Z", printer_id="p1")).state == "valid"
