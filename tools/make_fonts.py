"""Make the TrueType files for PDFs from the web fonts that npm ships.

Run once, with ``pip install fonttools brotli`` in an environment of its own: python tools/make_fonts.py
The micro sign is missing in the two younger families; it is taken from their elder sister and scaled.
"""

from pathlib import Path

from fontTools.merge import Merger
from fontTools.pens.transformPen import TransformPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "web" / "node_modules" / "@fontsource"
TARGET = ROOT / "setback" / "report" / "fonts"
ELDER = "atkinson-hyperlegible"
WANTED = {
    "text-regular": ("atkinson-hyperlegible-next", 400),
    "text-bold": ("atkinson-hyperlegible-next", 700),
    "mono-regular": ("atkinson-hyperlegible-mono", 400),
    "mono-bold": ("atkinson-hyperlegible-mono", 700),
}
MICRO = 0xB5


def merged(family: str, weight: int, scratch: Path) -> TTFont:
    parts = []
    for subset in ("latin", "latin-ext"):
        font = TTFont(SOURCE / family / "files" / f"{family}-{subset}-{weight}-normal.woff2")
        font.flavor = None
        parts.append(str(scratch / f"{family}-{subset}-{weight}.ttf"))
        font.save(parts[-1])
    return Merger().merge(parts)


def add_micro(font: TTFont, elder: TTFont) -> None:
    name = elder.getBestCmap()[MICRO]
    scale = font["head"].unitsPerEm / elder["head"].unitsPerEm
    pen = TTGlyphPen(None)
    glyphs = elder.getGlyphSet()
    glyphs[name].draw(TransformPen(pen, (scale, 0, 0, scale, 0, 0)))
    font.setGlyphOrder([*font.getGlyphOrder(), "micro"])
    font["glyf"]["micro"] = pen.glyph()
    font["hmtx"]["micro"] = (round(elder["hmtx"][name][0] * scale), round(elder["hmtx"][name][1] * scale))
    for table in font["cmap"].tables:
        if table.isUnicode():
            table.cmap[MICRO] = "micro"


def main() -> None:
    import tempfile

    TARGET.mkdir(exist_ok=True, parents=True)
    with tempfile.TemporaryDirectory() as folder:
        for name, (family, weight) in WANTED.items():
            font = merged(family, weight, Path(folder))
            if MICRO not in font.getBestCmap():
                add_micro(font, merged(ELDER, weight, Path(folder)))
            font.save(TARGET / f"{name}.ttf")


if __name__ == "__main__":
    main()
