"""Take the example pictures anew: what each part of a coupon looks like with too little, the right and too much light.

They are shipped, so that nobody waits for them. Run it when a coupon's drawing, the virtual printer or its camera changes.
"""

from __future__ import annotations

import io
import json
from pathlib import Path

from PIL import Image

from setback.simulate import lessons

FOLDER = Path(__file__).parent.parent / "setback" / "simulate" / "examples"
INDEX = "index.json"
QUALITY = 80
"""They are shipped with the package: half the size, and no mark is lost."""


def main() -> None:
    """Write every picture, and what is true of it."""
    FOLDER.mkdir(exist_ok=True)
    index = {}
    for kind, calls in lessons.OFF.items():
        index[kind] = {"parameters": lessons.drawing(kind).parameters, "examples": {}}
        for call in calls:
            shown = lessons.example(kind, call)
            with Image.open(io.BytesIO(shown.picture)) as picture:
                picture.save(FOLDER / f"{kind}-{call}.jpg", quality=QUALITY, progressive=True, optimize=True)
            index[kind]["examples"][call] = {"growth_um": shown.growth_um, "states": shown.states}
    (FOLDER / INDEX).write_text(json.dumps(index, indent=1, sort_keys=True) + "\n")


if __name__ == "__main__":
    main()
