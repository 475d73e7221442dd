"""What Skerry Point printed with before it measured: two sets of settings that work, and nothing shows it yet."""

from __future__ import annotations

from ..services.earlier import provisional
from .shed import Shed


def in_use(lab: Shed, ids: dict[str, str]) -> None:
    """Hullform as TO has always printed it, and Kelpflex by the sheet that came with the bottle."""
    for material, printer, exposure_s, base_s, source, note, since in (
        ("Hullform", "Cormorant", 4.4, 32, "own habit", "TO’s list in the shed", "2025-04-01"),
        ("Kelpflex", "Sanderling", 5.6, 45, "maker", "sheet of the bottle", "2025-10-15"),
    ):
        request = provisional.ProvisionalInput.model_validate(
            {
                "material_id": ids[material],
                "printer_id": ids[printer],
                "layer_height_um": 50,
                "exposure_s": exposure_s,
                "settings": {"base_exposure_s": base_s, "base_layers": 5},
                "source": source,
                "source_note": note,
                "in_use_since": since,
            }
        )
        provisional.put(lab.work, request)
