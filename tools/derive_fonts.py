"""Derive core/exchange/fonts: the letters of sheets, two weights of the variable font that the pages ship.

The Latin and Latin Extended parts of Atkinson Hyperlegible Next (SIL Open Font License 1.1), each fixed at a weight and
joined, without hints and layout tables, which a sheet does not use. Needs the web packages (./caltin types).
Run: python -m tools.derive_fonts
"""

from __future__ import annotations

import io
import shutil
from pathlib import Path

from fontTools.merge import Merger, Options
from fontTools.subset import Options as Kept
from fontTools.subset import Subsetter
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "web/node_modules/@fontsource-variable/atkinson-hyperlegible-next"
TARGET = ROOT / "core/exchange/fonts"
_NAME = "AtkinsonHyperlegibleNext"
_DATE = 3_850_000_000
"""In the font, so that it is the same to the byte: seconds since 1904."""
WEIGHTS = {"regular": 400, "bold": 700}


def part(name: str, weight: int) -> bytes:
    """A part of the font at a weight."""
    font = TTFont(SOURCE / f"files/atkinson-hyperlegible-next-{name}-wght-normal.woff2", recalcTimestamp=False)
    fixed = instancer.instantiateVariableFont(font, {"wght": weight})
    kept = Kept(layout_features=[], hinting=False, notdef_outline=True, name_IDs=["*"])
    subsetter = Subsetter(kept)
    subsetter.populate(unicodes=fixed.getBestCmap().keys())
    subsetter.subset(fixed)
    fixed.flavor = None
    out = io.BytesIO()
    fixed.save(out)
    return out.getvalue()


def build(name: str, weight: int) -> bytes:
    """The bytes of the font at a weight, by whose name it is told from the other."""
    merger = Merger(Options(drop_tables=["GSUB", "GPOS", "GDEF", "STAT"]))
    joined = merger.merge([io.BytesIO(part(side, weight)) for side in ("latin", "latin-ext")])
    joined.recalcTimestamp = False
    for number in (4, 6):
        joined["name"].setName(f"{_NAME}-{name.title()}", number, 3, 1, 0x409)
    joined["head"].created = joined["head"].modified = _DATE
    out = io.BytesIO()
    joined.save(out)
    return out.getvalue()


if __name__ == "__main__":
    TARGET.mkdir(exist_ok=True)
    for name, weight in WEIGHTS.items():
        (TARGET / f"{name}.ttf").write_bytes(build(name, weight))
    shutil.copy(SOURCE / "LICENSE", TARGET / "LICENSE")
