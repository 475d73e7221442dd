"""What several files of API tests begin from."""

import pytest


@pytest.fixture
def issued(lab):
    """A material with an issued set, and a bought-in one to compare with."""
    calibration = lab.decided()
    held = lab.issue(calibration)
    sheet = lab.post(
        "/api/reference-materials", {"name": "Sawn sheet", "what": "4 mm sheet, sawn", "price_per_l": 30}, 201
    )
    return {"material_id": calibration["material_id"], "set_code": held["code"], "sheet_id": sheet["id"]}
