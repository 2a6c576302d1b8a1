"""A filled card for the demo's second piece, with what it taught: `python -m tools.make_demo_card`, after a change of
what cards ask or what boxes teach. Filled by a hand that is not there (tools.nature), photographed by a camera that is
not there (tools.camera)."""

from __future__ import annotations

import io
import json
from dataclasses import asdict

import numpy as np
import pypdfium2
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, lab_to_hex, lab_to_xyz, srgb_decode
from core.exchange.card_json import CardFile, write_card_json
from core.exchange.card_sheet import write_card
from core.exchange.json_files import read_spots
from core.exchange.tray_csv import read_tray
from core.look.picture import read_picture
from core.look.questions import Source
from core.look.reading import read_spot
from core.optics.support import supports
from core.photo.swatch_sheet import SwatchSheet
from core.plan.questions import Owned
from core.plan.setup import Setup
from core.plan.tried import Filled, Tried, made_card, taught_by
from core.recipe.recipe import MODEL
from tools.camera import Camera, photograph
from tools.nature import Nature
from tools.site import ROOT

CARD, PHOTO = ROOT / "demo/cards/morning-relief.json", ROOT / "demo/photos/morning-relief-card.jpg"
TRAY, PIECE, METHOD = "small-tray-24", "morning-relief", "pale_base_first"
_BOXES, _SIZE, _SEED, _HAND = 48, "A4", 5, 0.15
_DPI = 150


def main() -> None:
    setup, sticks = (
        Setup(method=METHOD, max_sticks=12),
        read_tray((ROOT / f"demo/ranges/{TRAY}.csv").read_bytes()).sticks,
    )
    support = supports()[setup.paper]
    picture = read_picture((ROOT / f"demo/references/{PIECE}.jpg").read_bytes())
    spots = read_spots((ROOT / f"demo/references/{PIECE}.json").read_bytes())
    seen = [tuple(float(v) for v in read_spot(picture, spot.disc).swatch.lab) for spot in spots]
    tried = Tried(sticks, support, setup.medium)
    names = [spot.name for spot in spots]
    card, known = made_card(Owned(sticks, setup), tried, names, seen, "teach", _SIZE, 0, _BOXES)
    nature = Nature(_SEED, sticks, support)
    labs = [nature.lab(cell.passes, hand=_HAND) for cell in card.cells]
    pdf = write_card(card, np.array(known.labs), "Morning relief: the card that teaches most")
    sheet = _laid(pdf, card.pages()[0], labs, np.array(support.lab))
    data, _ = photograph(sheet, Camera(_SEED, "mild", 0.05, size=(2000, 1500)))
    PHOTO.write_bytes(data)
    taught = taught_by(Filled(Source(PIECE, data), card, tried))
    assert taught.calibrated is not None, taught.refused
    found, read = taught.calibrated, taught.read
    rows = [
        asdict(box) | {"off": round(float(ciede2000(np.array(box.lab), np.array(known.labs[box.cell]))), 2)}
        for box in read.boxes
    ]
    held = {
        "medium": setup.medium,
        "paper": support.id,
        "number": card.number,
        "card": write_card_json(CardFile(card, setup.medium, support.id)).decode(),
        "foreseen": [lab_to_hex(lab) for lab in known.labs],
        "photo": {
            "page": read.page,
            "corners": read.corners,
            "places": [asdict(place) for place in read.places],
            "rows": rows,
            "said": read.said,
        },
        "calibration": {
            "boxes": sum(row["verdict"] == "fine" for row in rows),
            "fits": {stick.code: asdict(stick.fit) for stick in found.sticks},
            "colours": {stick.code: stick.hex for stick in found.sticks},
            "lab": found.lab,
            "touch": asdict(found.touch),
            "doubt": found.doubt,
            "errors": asdict(found.errors) if found.errors else None,
            "disagree": found.disagree,
            "words": found.words[:12],
            "model": MODEL,
        },
    }
    CARD.write_text(json.dumps(held, ensure_ascii=False, indent=1) + "\n")
    print(f"{CARD}: {len(card.cells)} boxes, {found.errors}, off by {found.doubt} in the mean; {len(data) // 1000} kB")


def _laid(
    pdf: bytes, page: SwatchSheet, labs: list[NDArray[np.float64]], paper: NDArray[np.float64]
) -> NDArray[np.float64]:
    """The printed page with its boxes filled, by strokes that fray at the frames: XYZ (h, w, 3)."""
    printed = pypdfium2.PdfDocument(io.BytesIO(pdf))[0].render(scale=_DPI / 72).to_pil().convert("RGB")
    xyz = np.asarray(srgb_decode(np.asarray(printed) / 255) @ SRGB.to_xyz)
    xyz *= lab_to_xyz(paper) / xyz.max(axis=(0, 1))
    rng, per_mm = np.random.default_rng(_SEED), xyz.shape[1] / page.width
    for lab, place in zip(labs, page.places, strict=False):
        left, right = (int((part * page.printed.wide + page.margin) * per_mm) for part in (place.left, place.right))
        top, bottom = (int((part * page.printed.high + page.margin) * per_mm) for part in (place.top, place.bottom))
        y, x = np.mgrid[0 : bottom - top, 0 : right - left].astype(float)
        grain = ndimage.gaussian_filter(rng.normal(size=y.shape), 1.0)
        grain /= grain.std()
        slope = rng.uniform(0.5, 0.9)
        shade = 1 + 0.035 * np.sin((x * slope + y) / 2.6 + 0.5 * grain) + 0.02 * grain
        edge = np.minimum(np.minimum(x, x[:, ::-1]), np.minimum(y, y[::-1])) + 2.0 * grain
        cover = np.clip(edge / 3, 0, 1)[..., None]
        where = (slice(top, bottom), slice(left, right))
        xyz[where] = xyz[where] * (1 - cover) + lab_to_xyz(lab) * shade[..., None] * cover
    return xyz


if __name__ == "__main__":
    main()
