"""Blends through the API: recipe, batch, vat, series, and what each refuses."""

import math
from datetime import timedelta

import pytest

from setback.core.testing.methods import METHODS
from tests.lab import PRINTER, RESIN, ROUTE

KELP = {
    "name": "Kelpflex",
    "maker": "Tidewrack Works",
    "colour": "kelp",
    "family": "flexible",
    "opacity": "tinted",
    "wash_class": "solvent",
    "chemistry": "acrylate",
    "density_g_ml": 1.05,
    "price_per_l": 70,
    "viscosity_mpa_s": 900,
    "vat_hours": 24,
}
SLATE = RESIN | {"chemistry": "acrylate", "density_g_ml": 1.1, "price_per_l": 22, "viscosity_mpa_s": 200}


@pytest.fixture
def shop(lab):
    """Two resins with a bottle each, a water-wash one, and a printer."""
    made = {}
    for name, given in (
        ("slate", SLATE),
        ("kelp", KELP),
        ("rinse", KELP | {"name": "Rinsewell", "wash_class": "water"}),
    ):
        made[name] = lab.post("/api/resins", given, 201)["id"]
        bottle = {"material_id": made[name], "lot": f"{name}-1", "volume_ml": 1000, "left_ml": 600}
        made[f"{name} bottle"] = lab.post("/api/bottles", bottle, 201)["id"]
    made["printer"] = lab.post("/api/printers", PRINTER, 201)["id"]
    made["route"] = lab.post("/api/finish-routes", ROUTE, 201)["id"]
    return made


def parts(shop, kelp=0.18):
    return [
        {"material_id": shop["slate"], "fraction": round(1 - kelp, 6)},
        {"material_id": shop["kelp"], "fraction": kelp},
    ]


def blend(lab, shop, kelp=0.18):
    return lab.post("/api/blends", {"name": f"Slate + {100 * kelp:g} % Kelpflex", "parts": parts(shop, kelp)}, 201)


def batch(lab, shop, **more):
    made = lab.post(f"/api/blends/{blend(lab, shop)['id']}/batches", {"volume_ml": 400, **more}, 201)
    lab.post(f"/api/batches/{made['id']}/cup")
    return lab.post(f"/api/batches/{made['id']}/cup-finding", {"finding": "fine"})


def left(lab, shop, name):
    return next(b["left_ml"] for b in lab.get("/api/bottles")["items"] if b["id"] == shop[f"{name} bottle"])


def enter(lab, shop, kind, volume=0, bottle=None, expected=201, **more):
    given = {"kind": kind, "volume_ml": volume, "bottle_id": shop[f"{bottle} bottle"] if bottle else None, **more}
    return lab.post(f"/api/printers/{shop['printer']}/vat", given, expected)


class TestRecipes:
    def test_a_recipe_says_what_to_pour_and_what_to_expect(self, lab, shop):
        quote = lab.post("/api/blends/quote", {"parts": parts(shop), "batch_ml": 400, "part_ml": 30})
        assert [round(p["mass_g"], 1) for p in quote["result"]["pours"]] == [360.8, 75.6]
        assert quote["result"]["price_per_l"] == pytest.approx(30.64) and 200 < quote["result"]["viscosity_mpa_s"] < 900
        assert quote["depth_basis"] is None and quote["viscosity_basis"]

    def test_the_first_exposure_is_mixed_from_what_its_parts_need(self, lab, shop):
        given = {
            "material_id": shop["slate"],
            "printer_id": shop["printer"],
            "finish_route_id": shop["route"],
            "bottle_id": shop["slate bottle"],
        }
        calibration = lab.calibration(given)
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
        lab.series(calibration, [1.8, 2.2, 2.8], "support")
        issued = lab.issue(lab.again(calibration))
        exposures = lab.post("/api/blends/quote", {"parts": parts(shop)})["exposures"]
        assert (
            len(exposures) == 1 and issued["code"] in exposures[0]["basis"] and "an estimate" in exposures[0]["basis"]
        )
        assert exposures[0]["exposure_s"] > 0

    def test_a_blends_first_estimate_is_that_of_its_parts_on_every_page(self, lab, shop):
        shelf = {
            "material_id": shop["slate"],
            "printer_id": shop["printer"],
            "finish_route_id": shop["route"],
            "bottle_id": shop["slate bottle"],
        }
        calibration = lab.calibration(shelf)
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.8])
        issued = lab.issue(lab.led(calibration))
        blend = lab.post("/api/blends", {"name": "Slate with kelp", "parts": parts(shop)}, 201)
        query = f"printer_id={shop['printer']}&layer_height_um=50"
        told = lab.get(f"/api/guess?material_id={blend['id']}&{query}")
        (mixed,) = lab.post("/api/blends/quote", {"parts": parts(shop)})["exposures"]
        assert (told["exposure_s"], told["basis"]) == (mixed["exposure_s"], mixed["basis"])
        assert told["basis"] == f"Mixed from its parts: {issued['code']} and an estimate."
        assert told["carried_by"][0]["exposure_s"] == issued["exposure_s"]
        (cell,) = [c for c in lab.get("/api/board")["cells"] if c["material_id"] == blend["id"]]
        assert cell["exposure_s"] == pytest.approx(told["exposure_s"]) and cell["why"] == told["basis"]
        assert (cell["lower_s"], cell["upper_s"]) == pytest.approx(tuple(told["interval_s"]))
        begun = lab.calibration(shelf | {"material_id": blend["id"], "bottle_id": None})
        assert begun["guess"]["exposure_s"] == pytest.approx(told["exposure_s"], abs=1e-3)

    def test_a_dye_whose_effect_nobody_measured_leaves_the_estimate_to_what_is_usual(self, lab, shop):
        dye = lab.post("/api/dyes", {"name": "Soot", "what": "oil dye"}, 201)
        dyed = [{"material_id": shop["slate"], "fraction": 0.99}, {"material_id": dye["id"], "fraction": 0.01}]
        blend = lab.post("/api/blends", {"name": "Slate with soot", "parts": dyed}, 201)
        query = f"material_id={blend['id']}&printer_id={shop['printer']}&layer_height_um=50"
        assert "Mixed" not in lab.get(f"/api/guess?{query}")["basis"]

    def test_a_forbidden_mixture_waits_for_a_reason_and_stays_marked(self, lab, shop):
        given = {
            "name": "Odd",
            "parts": [{"material_id": shop["slate"], "fraction": 0.5}, {"material_id": shop["rinse"], "fraction": 0.5}],
        }
        refused = lab.post("/api/blends", given, 409)
        assert (
            "loses its water wash" in refused["error"]["message"] and "forbidden_reason" in refused["error"]["fields"]
        )
        made = lab.post("/api/blends", given | {"forbidden_reason": "For waste only."}, 201)
        assert made["forbidden_reason"] == "For waste only." and made["findings"][0]["severity"] == "forbid"

    def test_what_is_no_recipe(self, lab, shop):
        short = [{"material_id": shop["slate"], "fraction": 0.5}, {"material_id": shop["kelp"], "fraction": 0.4}]
        assert "parts" in lab.post("/api/blends/quote", {"parts": short}, 422)["error"]["fields"]
        alone = {"name": "Alone", "parts": [{"material_id": shop["slate"], "fraction": 1}]}
        assert "parts" in lab.post("/api/blends", alone, 422)["error"]["fields"]
        bare = lab.post("/api/dyes", {"name": "Rust dye", "what": "oil dye"}, 201)
        dyed = {
            "parts": [{"material_id": shop["slate"], "fraction": 0.99}, {"material_id": bare["id"], "fraction": 0.01}]
        }
        assert "parts.1.density_g_ml" in lab.post("/api/blends/quote", dyed | {"by": "mass"}, 422)["error"]["fields"]
        assert "dye-unknown" in {w["code"] for w in lab.post("/api/blends/quote", dyed)["result"]["warnings"]}

    def test_a_dye_moves_the_exposure_by_what_was_measured(self, lab, shop):
        dye = {"name": "Rust dye", "what": "oil dye", "exposure_pct_per_percent": 35}
        assert "basis" in lab.post("/api/dyes", dye, 422)["error"]["fields"]
        assert (
            "exposure_pct_per_percent"
            in lab.post("/api/dyes", dye | {"exposure_pct_per_percent": None, "basis": "an estimate"}, 422)["error"][
                "fields"
            ]
        )
        made = lab.post("/api/dyes", dye | {"basis": "three strips at 1, 2 and 3 %"}, 201)
        assert math.exp(made["ln_exposure_per_percent"]) == pytest.approx(1.35)

    def test_a_material_knows_the_blends_it_is_in(self, lab, shop):
        made = blend(lab, shop)
        assert [b["id"] for b in lab.get(f"/api/blends?part_id={shop['kelp']}")["items"]] == [made["id"]]
        assert lab.get(f"/api/blends?part_id={shop['rinse']}")["items"] == []

    def test_a_blend_is_calibrated_like_any_material(self, lab, shop):
        made = blend(lab, shop)
        assert made["name"] in {m["name"] for m in lab.get("/api/board")["materials"]}
        given = {
            "material_id": made["id"],
            "printer_id": shop["printer"],
            "finish_route_id": shop["route"],
            "bottle_id": None,
        }
        assert lab.calibration(given)["material"] == made["name"]

    def test_the_time_below_which_nothing_cures_is_mixed_from_depth_squares(self, lab, shop):
        for name, tc in (("slate", 0.8), ("kelp", 1.6)):
            given = {
                "material_id": shop[name],
                "printer_id": shop["printer"],
                "finish_route_id": shop["route"],
                "bottle_id": shop[f"{name} bottle"],
            }
            calibration = lab.calibration(given)
            squares = lab.post(f"/api/calibrations/{calibration['id']}/depth-squares", {"exposures_s": [2, 4, 8]}, 201)[
                "squares"
            ]
            for square in squares:
                depth = 0.12 * math.log(square["exposure_s"] / tc)
                lab.post(f"/api/depth-squares/{square['id']}/readings", {"thicknesses_mm": [depth]}, 201)
            if name == "slate":
                lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
                lab.series(calibration, [1.8, 2.2, 2.8], "support")
                lab.issue(lab.again(calibration))
        quote = lab.post("/api/blends/quote", {"parts": parts(shop, 0.5)})
        assert quote["exposures"][0]["critical_exposure_s"] == pytest.approx(math.sqrt(0.8 * 1.6), rel=0.02)
        assert quote["result"]["penetration_depth_mm"] == pytest.approx(0.12, rel=0.02) and quote["depth_basis"]


class TestBatches:
    def test_a_cup_trial_comes_first_then_the_bottles_go_down(self, lab, shop):
        made = lab.post(f"/api/blends/{blend(lab, shop)['id']}/batches", {"volume_ml": 400}, 201)
        assert made["next"] == "cup" and [p["total_g"] for p in made["pours"]] == pytest.approx([360.8, 436.4])
        assert lab.post(f"/api/batches/{made['id']}/cup")["next"] == "look"
        assert lab.post(f"/api/batches/{made['id']}/cup-finding", {"finding": "fine"})["next"] == "pour"
        poured = lab.post(f"/api/batches/{made['id']}/poured", {"poured_ml": [330, 80]})
        assert poured["next"] == "stir" and poured["pours"][1]["real_fraction"] == pytest.approx(80 / 410)
        assert [p["off"] for p in poured["pours"]] == [True, True]
        assert (left(lab, shop, "slate"), left(lab, shop, "kelp")) == (270, 520)
        assert lab.post(f"/api/batches/{made['id']}/stirred")["next"] == "done"
        bottle = next(b for b in lab.get("/api/bottles")["items"] if b["id"] == poured["bottle_id"])
        assert bottle["lot"] == made["code"] and bottle["left_ml"] == 410

    def test_what_the_scale_showed_is_taken_in_grams(self, lab, shop):
        made = lab.post(f"/api/blends/{blend(lab, shop)['id']}/batches", {"volume_ml": 400}, 201)
        lab.post(f"/api/batches/{made['id']}/cup")
        lab.post(f"/api/batches/{made['id']}/cup-finding", {"finding": "fine"})
        told = lab.post(f"/api/batches/{made['id']}/poured", {"poured_g": [330]}, 422)
        assert told["error"]["fields"] == {"poured_g": "Give 2 masses."}
        poured = lab.post(f"/api/batches/{made['id']}/poured", {"poured_g": [1.1 * 330, 1.05 * 80]})
        assert [p["poured_ml"] for p in poured["pours"]] == pytest.approx([330, 80])

    def test_a_cup_that_was_looked_at_too_soon_says_so_and_its_timer_is_off(self, lab, shop):
        made = lab.post(f"/api/blends/{blend(lab, shop)['id']}/batches", {"volume_ml": 400}, 201)
        lab.post(f"/api/batches/{made['id']}/cup")
        timer = {"name": "Look at the cup", "seconds": 43_200, "place": f"/blend/batches/{made['code']}"}
        lab.post("/api/timers", timer, 201)
        elsewhere = lab.post("/api/timers", {"name": "Wash", "seconds": 120, "place": "/log"}, 201)
        looked = lab.post(f"/api/batches/{made['id']}/cup-finding", {"finding": "fine"})
        assert 0 < looked["cup_stood_h"] < 0.1 and looked["cup_hours"] == 12
        assert [t["id"] for t in lab.get("/api/timers")["items"]] == [elsewhere["id"]]

    def test_a_batch_that_is_taken_up_again_has_its_timers_again_but_none_that_was_off_before(self, lab, shop):
        made = lab.post(f"/api/blends/{blend(lab, shop)['id']}/batches", {"volume_ml": 400}, 201)
        place = f"/blend/batches/{made['code']}"
        heard = lab.post("/api/timers", {"name": "Shake it", "seconds": 60, "place": place}, 201)
        lab.post(f"/api/timers/{heard['id']}/end")
        lab.clock.now += timedelta(minutes=5)
        cup = lab.post("/api/timers", {"name": "Look at the cup", "seconds": 43_200, "place": place}, 201)
        lab.post(f"/api/batches/{made['id']}/cancel", {"reason": "wrong bottle"})
        assert lab.get("/api/timers")["items"] == []
        lab.post(f"/api/batches/{made['id']}/reinstate")
        assert [t["id"] for t in lab.get("/api/timers")["items"]] == [cup["id"]]
        lab.post(f"/api/batches/{made['id']}/reinstate")
        assert [t["id"] for t in lab.get("/api/timers")["items"]] == [cup["id"]], "once more changes nothing"

    def test_its_bottle_gets_a_label_with_what_is_in_it(self, lab, shop):
        made = batch(lab, shop)
        answer = lab.client.get(f"/api/batches/{made['code']}/label?sheet=24")
        assert answer.status_code == 200 and answer.data.startswith(b"%PDF")

    def test_a_cup_that_gelled_is_not_poured(self, lab, shop):
        made = lab.post(f"/api/blends/{blend(lab, shop)['id']}/batches", {"volume_ml": 400}, 201)
        lab.post(f"/api/batches/{made['id']}/cup")
        assert lab.post(f"/api/batches/{made['id']}/cup-finding", {"finding": "gelled"})["next"] == "off"
        lab.post(f"/api/batches/{made['id']}/poured", None, 409)
        assert left(lab, shop, "slate") == 600

    def test_a_bottle_without_enough_left_and_a_retired_one(self, lab, shop):
        blend_id = blend(lab, shop)["id"]
        fields = lab.post(f"/api/blends/{blend_id}/batches", {"volume_ml": 2000}, 422)["error"]["fields"]
        assert "the fullest has 600 ml" in fields[f"bottles.{shop['slate']}"]
        lab.post(f"/api/bottles/{shop['kelp bottle']}/retire")
        fields = lab.post(f"/api/blends/{blend_id}/batches", {"volume_ml": 200}, 422)["error"]["fields"]
        assert list(fields) == [f"bottles.{shop['kelp']}"]

    def test_more_than_a_bottle_holds_cannot_have_been_poured(self, lab, shop):
        made = batch(lab, shop)
        fields = lab.post(f"/api/batches/{made['id']}/poured", {"poured_ml": [700, 72]}, 422)["error"]["fields"]
        assert list(fields) == ["poured_ml.0"] and left(lab, shop, "kelp") == 600


class TestVats:
    def test_contents_follow_from_the_ledger(self, lab, shop):
        enter(lab, shop, "fill", 200, "slate")
        printed = {
            "printer_id": shop["printer"],
            "settings_note": "trial",
            "volume_ml": 40,
            "parts": [{"name": "clip"}],
        }
        lab.post("/api/prints", printed, 201)
        vat = lab.get(f"/api/printers/{shop['printer']}/vat")
        assert vat["volume_ml"] == 160 and vat["is_called"] == "Slate 2" and vat["layers"][0]["lots"] == ["slate-1"]
        assert [line["kind"] for line in vat["ledger"]] == ["print", "fill"] and left(lab, shop, "slate") == 400

    def test_something_else_wants_a_name_or_a_stated_contamination_and_lapses_sets(self, lab, shop):
        given = {
            "material_id": shop["slate"],
            "printer_id": shop["printer"],
            "finish_route_id": shop["route"],
            "bottle_id": shop["slate bottle"],
        }
        calibration = lab.calibration(given)
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
        lab.series(calibration, [1.8, 2.2, 2.8], "support")
        issued = lab.issue(lab.again(calibration))
        enter(lab, shop, "fill", 150, "slate")
        entry = {"kind": "pour", "volume_ml": 50, "bottle_id": shop["kelp bottle"]}
        before = lab.post(f"/api/printers/{shop['printer']}/vat/preview", entry)
        assert (
            before["mixes"]
            and before["becomes"] is None
            and [t["set_code"] for t in before["touched"]] == [issued["code"]]
        )
        refused = enter(lab, shop, "pour", 50, "kelp", 409)
        assert "75 % Slate 2, 25 % Kelpflex" in refused["error"]["message"]
        vat = enter(lab, shop, "pour", 50, "kelp", new_name="Quarter Kelpflex")
        assert vat["is_called"] == "Quarter Kelpflex"
        state = lambda: lab.get(f"/api/sets/{issued['code']}/life")["validity"]["state"]  # noqa: E731
        assert state() == "lapsed"
        entry_id = next(line["id"] for line in vat["ledger"] if line["kind"] == "pour")
        vat = lab.post(f"/api/vat-entries/{entry_id}/withdraw", {"reason": "It went into another vat."})
        assert vat["is_called"] == "Slate 2" and state() == "valid" and left(lab, shop, "kelp") == 600

    def test_a_contamination_is_stated_and_stays_nameless(self, lab, shop):
        enter(lab, shop, "fill", 150, "slate")
        vat = enter(lab, shop, "pour", 10, "kelp", contamination="A dirty funnel.")
        assert vat["is_called"] is None and vat["contamination"] == "A dirty funnel."

    def test_a_little_of_the_same_is_no_mixture(self, lab, shop):
        enter(lab, shop, "fill", 150, "slate")
        assert enter(lab, shop, "pour", 1, "kelp")["is_called"] == "Slate 2"

    def test_a_poured_batch_brings_its_real_fractions(self, lab, shop):
        made = batch(lab, shop)
        poured = lab.post(f"/api/batches/{made['id']}/poured", {"poured_ml": [300, 100]})
        shop["batch bottle"] = poured["bottle_id"]
        vat = enter(lab, shop, "fill", 200, "batch")
        assert {x["material"]: round(x["fraction"], 3) for x in vat["layers"]} == {"Slate 2": 0.75, "Kelpflex": 0.25}

    def test_topping_up_reaches_the_recipe_and_says_the_least_drain(self, lab, shop):
        target = blend(lab, shop, 0.2)["id"]
        enter(lab, shop, "fill", 100, "slate")
        made = lab.post(f"/api/printers/{shop['printer']}/vat/reach", {"material_id": target})
        assert made["result"]["drain_ml"] == 0 and made["final_ml"] == 220
        assert {p["material"]: round(p["volume_ml"], 1) for p in made["pours"]} == {"Slate 2": 76, "Kelpflex": 44}
        enter(lab, shop, "pour", 100, "kelp", new_name="Half")
        assert lab.post(f"/api/printers/{shop['printer']}/vat/reach", {"material_id": target})["result"]["drain_ml"] > 0
        over = lab.post(f"/api/printers/{shop['printer']}/vat/reach", {"material_id": target, "final_ml": 999}, 422)
        assert "final_ml" in over["error"]["fields"]

    def test_what_cannot_be_is_refused_at_its_field(self, lab, shop):
        assert "volume_ml" in enter(lab, shop, "fill", 300, "slate", 422)["error"]["fields"]
        enter(lab, shop, "fill", 200, "slate")
        assert "taken out of" in enter(lab, shop, "drain", 500, None, 422)["error"]["fields"]["volume_ml"]
        assert "volume_ml" in enter(lab, shop, "pour", -5, "slate", 422)["error"]["fields"]
        assert "bottle_id" in enter(lab, shop, "pour", 5, None, 422)["error"]["fields"]
        assert "at" in enter(lab, shop, "stir", at="2030-01-01T00:00:00Z", expected=422)["error"]["fields"]
        lab.post(f"/api/bottles/{shop['kelp bottle']}/retire")
        assert "retired" in enter(lab, shop, "pour", 5, "kelp", 422)["error"]["fields"]["bottle_id"]

    def test_an_entry_in_the_past_may_not_make_a_later_level_negative(self, lab, shop):
        enter(lab, shop, "fill", 200, "slate", at="2026-01-20T08:00:00Z")
        enter(lab, shop, "drain", 150, at="2026-01-20T12:00:00Z")
        late = enter(lab, shop, "drain", 100, at="2026-01-20T10:00:00Z", expected=422)
        assert "later entry" in late["error"]["fields"]["at"]
        filled = next(
            line["id"] for line in lab.get(f"/api/printers/{shop['printer']}/vat")["ledger"] if line["kind"] == "fill"
        )
        refused = lab.post(f"/api/vat-entries/{filled}/withdraw", {"reason": "mistake"}, 409)
        assert "later entry" in refused["error"]["message"]

    def test_a_drain_goes_back_only_where_it_belongs(self, lab, shop):
        enter(lab, shop, "fill", 200, "slate")
        wrong = enter(lab, shop, "drain", 50, to_bottle_id=shop["kelp bottle"], expected=422)
        assert "a bottle of its own" in wrong["error"]["fields"]["to_bottle_id"]
        enter(lab, shop, "drain", 50, to_bottle_id=shop["slate bottle"])
        assert left(lab, shop, "slate") == 450

    def test_standing_asks_for_a_stir_and_names_the_makers_limit(self, lab, shop):
        vat = enter(lab, shop, "fill", 200, "kelp", at="2026-01-19T06:00:00Z")
        assert vat["stir_due"] and "may stay 24 h" in vat["over_limit"]
        tasks = [t for t in lab.get("/api/board")["today"] if t["kind"] == "vat"]
        assert [t["title"] for t in tasks] == ["Vat of Cormorant: too long in it"]
        assert not enter(lab, shop, "stir")["stir_due"]


class TestSeries:
    def test_from_fractions_to_the_recommended_one(self, lab, shop):
        brief = {
            "name": "Clip",
            "requirements": [
                {"property": "flexing.cycles", "at": "least", "limit": 300},
                {"property": "cantilever-bend.strength", "at": "least", "limit": 40},
            ],
        }
        brief_id = lab.post("/api/briefs", brief, 201)["id"]
        series = lab.post(
            "/api/blend-series",
            {"name": "Tough clip", "base_id": shop["slate"], "additive_id": shop["kelp"], "brief_id": brief_id},
            201,
        )
        assert series["suggested"] == [0.075, 0.15, 0.225, 0.3] and "Not yet tested" in series["words"]
        for fraction in series["suggested"]:
            series = lab.post(f"/api/blend-series/{series['id']}/fractions", {"fraction": fraction}, 201)
        assert [m["fraction"] for m in series["members"]] == [0, 0.075, 0.15, 0.225, 0.3] and series["suggested"] == []
        for key, value in (("flexing", lambda f: 120 + 1500 * f), ("cantilever-bend", lambda f: 70 - 80 * f)):
            tried(lab, METHODS[key], series, value)
        series = lab.get(f"/api/blend-series/{series['id']}")
        response = series["response"]
        low, high = response["feasible"][0]
        assert 0.12 < low < response["best_fraction"] < high <= 0.3 and "with 90 % assurance" in series["words"]
        assert series["replicate"] in (0.075, 0.15, 0.225, 0.3)
        # The fraction to go on with is one that was made and tried, and meets it all.
        assert low <= series["chosen"]["fraction"] <= high
        assert response["next_fraction"] is not None and all(m["price_per_l"] for m in series["members"])

    def test_a_series_needs_two_things(self, lab, shop):
        given = {"name": "Nothing", "base_id": shop["slate"], "additive_id": shop["slate"]}
        assert "additive_id" in lab.post("/api/blend-series", given, 422)["error"]["fields"]

    def test_after_the_fact(self, lab):
        made = lab.post(
            "/api/poured-about", {"poured_ml": 40, "poured_doubt_ml": 10, "into_ml": 200, "into_doubt_ml": 20}
        )
        result = made["result"]
        assert result["fraction"] == pytest.approx(1 / 6) and result["fraction_ci"][0] < 1 / 6
        assert result["exposure_doubt_pct"] is None and result["warnings"][0]["code"] == "effect-unknown"

    def test_after_the_fact_two_sets_say_what_the_app_knows_already(self, lab):
        about = {"poured_ml": 40, "poured_doubt_ml": 10, "into_ml": 200, "into_doubt_ml": 20}
        calibration = lab.decided()
        window = calibration["arms"][0]["window"]
        one, other = (
            lab.issue(calibration, policy="own choice", exposure_s=exposure, temp_low_c=20, temp_high_c=26)
            for exposure in (window["policies"]["centre"], window["policies"]["centre"] + 0.2)
        )
        made = lab.post("/api/poured-about", about | {"base_set": one["code"], "additive_set": other["code"]})
        assert made["times_exposure"] == pytest.approx(other["exposure_s"] / one["exposure_s"])
        assert made["latitude_pct"] == pytest.approx(window["window"]["latitude_pct"])
        assert made["result"]["matters"] is False and one["code"] in made["basis"] and other["code"] in made["basis"]
        # A number by hand goes before what two sets say.
        by_hand = lab.post("/api/poured-about", about | {"base_set": one["code"], "times_exposure": 500})
        assert by_hand["times_exposure"] == 500 and by_hand["result"]["matters"] is True

    @pytest.mark.parametrize("times", [0, -1, 5e-324, 1e-9, 1e9])
    def test_after_the_fact_no_additive_needs_that(self, lab, times):
        about = {"poured_ml": 40, "poured_doubt_ml": 10, "into_ml": 200, "into_doubt_ml": 20}
        said = lab.post("/api/poured-about", about | {"times_exposure": times}, 422)
        assert "times_exposure" in said["error"]["fields"]

    def test_after_the_fact_sets_that_cannot_be_compared_are_refused_at_their_field(self, lab):
        about = {"poured_ml": 40, "poured_doubt_ml": 10, "into_ml": 200, "into_doubt_ml": 20}
        assert "base_set" in lab.post("/api/poured-about", about | {"base_set": "S-404"}, 422)["error"]["fields"]
        calibration = lab.decided()
        one = lab.issue(calibration)
        thick = {k: calibration[k] for k in ("material_id", "printer_id", "finish_route_id", "bottle_id")}
        again = lab.calibration(thick, layer_height_um=100)
        lab.series(again, [1.5, 2.0, 2.6, 3.4, 4.4])
        lab.series(again, [1.8, 2.2, 2.8], "support")
        other = lab.issue(lab.again(again))
        said = lab.post("/api/poured-about", about | {"base_set": one["code"], "additive_set": other["code"]}, 422)
        assert "layer height" in said["error"]["fields"]["additive_set"]


def tried(lab, method, series, value):
    """Every fraction tried in one test; without sets of their own, so it is said why."""
    groups = [{"material_id": m["material_id"]} for m in series["members"]]
    plan = {
        "method": method.key,
        "each": 3,
        "groups": groups,
        "concerns_reason": "A series before calibration.",
        "setup": {f.key: f.usual for f in method.setup},
    }
    test = lab.post("/api/tests", plan, 201)
    fractions = {g["number"]: m["fraction"] for g, m in zip(test["groups"], series["members"], strict=True)}
    while test["next_code"]:
        one = next(s for s in test["specimens"] if s["code"] == test["next_code"])
        aim = value(fractions[one["group"]]) * (1 + 0.02 * (one["number"] - 2))
        row = (
            {"cycles": round(aim), "broke": True}
            if method.key == "flexing"
            else {"width_mm": 10, "height_mm": 4, "force_n": aim * 160 / 300, "broke": True}
        )
        test = lab.post(f"/api/specimens/{one['code']}/readings", {"read": row}, 201)
