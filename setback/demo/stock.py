"""What stands on the shelf at Skerry Point."""

from __future__ import annotations

from typing import Any

from ..simulate.hidden import Machine, Material

TECHNICIANS = ("IM", "RB", "TO")

PRINTERS: dict[str, dict[str, Any]] = {
    "Cormorant": {
        "light_engine": "mono screen", "pixel_um": 35, "plate_x_mm": 153, "plate_y_mm": 87, "vat_capacity_ml": 260,
        "fill_line_ml": 220, "exposure_step_s": 0.1, "screen_hours": 412, "light_power_adjustable": True,
        "delay_includes_motion": False, "note": "By the shed door: coldest place of the room.",
    },
    "Sanderling": {
        "light_engine": "mono screen", "pixel_um": 19, "plate_x_mm": 143, "plate_y_mm": 80, "vat_capacity_ml": 240,
        "fill_line_ml": 200, "exposure_step_s": 0.05, "screen_hours": 168, "several_exposures": True,
        "light_power_adjustable": True, "note": "Light meter readings on file.",
    },
    "Gannet": {
        "light_engine": "colour screen", "pixel_um": 47, "plate_x_mm": 120, "plate_y_mm": 68, "vat_capacity_ml": 180,
        "fill_line_ml": 150, "exposure_step_s": 0.1, "screen_hours": 2900, "delay_includes_motion": True,
        "note": "Old and fading. Scratch near the left edge of the plate.",
    },
    "Guillemot": {
        "light_engine": "mono screen", "pixel_um": 35, "plate_x_mm": 153, "plate_y_mm": 87, "vat_capacity_ml": 260,
        "fill_line_ml": 220, "exposure_step_s": 0.1, "screen_hours": 0, "several_exposures": True,
        "suppresses_lift": True, "simulated": True,
        "note": "No machine: for practice and for trying things out.",
    },
}  # fmt: skip

RESINS: dict[str, dict[str, Any]] = {
    "Slate 2": {
        "maker": "Tidewrack Works", "line": "Slate", "colour": "slate grey", "family": "basic", "opacity": "opaque",
        "wash_class": "solvent", "chemistry": "acrylate", "maker_low_s": 1.5, "maker_high_s": 4, "density_g_ml": 1.1,
        "price_per_l": 28, "maker_temp_low_c": 20, "maker_temp_high_c": 30,
        "viscosity_mpa_s": 210,
    },
    "Tideglass": {
        "maker": "Tidewrack Works", "line": "Glass", "colour": "clear", "family": "clear", "opacity": "clear",
        "wash_class": "solvent", "chemistry": "acrylate", "maker_low_s": 1.5, "maker_high_s": 6, "density_g_ml": 1.09,
        "price_per_l": 34, "maker_temp_low_c": 20, "maker_temp_high_c": 30,
        "viscosity_mpa_s": 190,
    },
    "Hullform": {
        "maker": "Foreshore Polymers", "line": "Hullform", "colour": "dark blue", "family": "ABS-like",
        "opacity": "opaque", "wash_class": "solvent", "chemistry": "acrylate", "maker_low_s": 1.5, "maker_high_s": 5,
        "density_g_ml": 1.12, "price_per_l": 41, "maker_temp_low_c": 20, "maker_temp_high_c": 30,
        "viscosity_mpa_s": 420,
    },
    "Kelpflex": {
        "maker": "Foreshore Polymers", "line": "Kelpflex", "colour": "kelp brown", "family": "flexible",
        "opacity": "tinted", "wash_class": "solvent", "chemistry": "acrylate", "maker_low_s": 3, "maker_high_s": 15,
        "density_g_ml": 1.08, "price_per_l": 68, "maker_temp_low_c": 22, "maker_temp_high_c": 32,
        "viscosity_mpa_s": 980, "vat_hours": 72,
    },
    "Rinsewell": {
        "maker": "Tidewrack Works", "line": "Rinsewell", "colour": "shell white", "family": "basic",
        "opacity": "opaque", "wash_class": "water", "chemistry": "acrylate", "maker_low_s": 1.5, "maker_high_s": 4.5,
        "density_g_ml": 1.1, "price_per_l": 31, "maker_temp_low_c": 20, "maker_temp_high_c": 30,
        "viscosity_mpa_s": 260,
    },
    "Ironwrack": {
        "maker": "Foreshore Polymers", "line": "Ironwrack", "colour": "rust", "family": "rigid", "opacity": "opaque",
        "wash_class": "solvent", "chemistry": "acrylate", "maker_low_s": 2, "maker_high_s": 7, "density_g_ml": 1.32,
        "price_per_l": 79, "maker_temp_low_c": 24, "maker_temp_high_c": 32,
        "viscosity_mpa_s": 1400, "vat_hours": 24,
    },
}  # fmt: skip

ROUTES: dict[str, dict[str, Any]] = {
    "Two-bath solvent": {
        "wash_fluid": "solvent", "wash_method": "stirred basket", "dirty_bath_min": 2, "clean_bath_min": 2,
        "dry_min": 20, "air_min": 10, "lamp": "turntable lamp", "cure_min": 6, "cure_temp_c": 40,
        "supports_off": "before cure",
    },
    "Tap-water rinse": {
        "wash_fluid": "tap water", "wash_method": "brush and tray", "dirty_bath_min": 3, "clean_bath_min": 2,
        "dry_min": 30, "lamp": "turntable lamp", "cure_min": 8, "supports_off": "after cure",
    },
}  # fmt: skip

# Hidden truth per material, and of the printers whose readings are in the records.
MATERIALS: dict[str, Material] = {
    "Slate 2": Material(1.0, tint=(112, 124, 138)),
    "Tideglass": Material(1.35, penetration_mm=0.26, scatter_mm=0.060, tint=(176, 196, 204), clarity=0.75),
    "Hullform": Material(1.16, viscosity=1.2, tint=(58, 70, 94)),
    "Kelpflex": Material(2.65, penetration_mm=0.17, viscosity=1.6, tint=(122, 96, 58), clarity=0.2),
    "Rinsewell": Material(0.93, tint=(206, 200, 190)),
    "Ironwrack": Material(1.2, peel=0.55, bind_mm=0.052, viscosity=2.2, scatter_mm=0.055, tint=(128, 84, 62)),
}
MACHINES: dict[str, Machine] = {
    "Cormorant": Machine(pixel_mm=0.035, plate_mm=(153, 87)),
    "Sanderling": Machine(pixel_mm=0.019, plate_mm=(143, 89), light=1.09, optics_mm=0.012),
    "Gannet": Machine(pixel_mm=0.047, plate_mm=(115, 65), light=0.43, fade_hours=9000, optics_mm=0.022),
}
