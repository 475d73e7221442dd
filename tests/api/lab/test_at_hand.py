"""What a phone keeps at hand, and what makes the app open on it."""


def test_open_coupons_running_prints_and_cards_are_at_hand(lab):
    assert lab.get("/api/at-hand") == {"today": [], "to_read": [], "running": [], "cards": []}
    calibration = lab.decided()
    issued = lab.issue(calibration)
    [code] = lab.plan(calibration, [2.6])
    lab.print(code)
    print_input = {
        "set_code": issued["code"],
        "printer_id": calibration["printer_id"],
        "temp_c": 24,
        "temp_place": "room",
        "minutes": 30,
        "parts": [{"name": "funnel", "printed": 16}],
    }
    started = lab.post("/api/prints/start", print_input, 201)
    hand = lab.get("/api/at-hand")
    assert [row["code"] for row in hand["to_read"]] == [code]
    assert [row["code"] for row in hand["running"]] == [started["code"]]
    assert hand["running"][0]["due_at"] > hand["running"][0]["started_at"]
    assert [(row["code"], row["exposure_s"]) for row in hand["cards"]] == [(issued["code"], issued["exposure_s"])]
    assert "read" not in {task["kind"] for task in hand["today"]}


def test_the_app_says_what_a_phone_needs_to_install_it(lab):
    client = lab.client
    manifest = client.get("/manifest.webmanifest")
    assert manifest.mimetype == "application/manifest+json"
    stated = manifest.get_json(force=True)
    assert stated["start_url"] == "/at-hand" and stated["display"] == "standalone"
    for icon in stated["icons"]:
        picture = client.get(icon["src"])
        assert picture.mimetype == "image/png"
        size = int.from_bytes(picture.data[16:20], "big"), int.from_bytes(picture.data[20:24], "big")
        assert f"{size[0]}x{size[1]}" == icon["sizes"]
    worker = client.get("/sw.js")
    assert worker.mimetype in ("text/javascript", "application/javascript")
    assert worker.cache_control.max_age in (0, None) or worker.cache_control.no_cache
