"""Draw every member of the crew in warm and in cool light, small, with the truth beside: where skin is and how lit.

Run: python -m tests.heads.drawn.heads   (about two minutes)
Writes into tests/heads: NAME-LIGHT.jpg, NAME-LIGHT-key.png (255 outside the skin, else the share of key
light × 200) and heads.json.
"""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
from PIL import Image

from core.colour.munsell import y_to_value
from core.colour.spaces import SRGB, srgb_encode
from tests.heads.drawn.people import CREW, DECK_LAMP, GREY_MORNING
from tests.heads.drawn.render import shade

WIDTH, HEIGHT = 320, 400
LIGHTS = {"lamp": DECK_LAMP, "morning": GREY_MORNING}
OUT = Path(__file__).parents[1]
NOT_SKIN = 255
PER_SHARE = 200


def main() -> None:
    """Everybody in every light."""
    OUT.mkdir(exist_ok=True)
    said = {}
    for name, sitter in CREW.items():
        for light_name, light in LIGHTS.items():
            linear, share = shade(replace(sitter, light=light), WIDTH, HEIGHT)
            pixels = np.rint(srgb_encode(linear) * 255).astype(np.uint8)
            key = np.where(share < 0, NOT_SKIN, np.rint(np.clip(share, 0, 1) * PER_SHARE)).astype(np.uint8)
            values = y_to_value(linear[share >= 0] @ SRGB.to_xyz[:, 1])
            head = f"{name}-{light_name}"
            Image.fromarray(pixels).save(OUT / f"{head}.jpg", quality=95, subsampling=0)
            Image.fromarray(key).save(OUT / f"{head}-key.png", optimize=True)
            right, up, _ = light.key_direction
            said[head] = {
                "key": light.key,
                "fill": light.fill,
                "from_deg": round(float(np.degrees(np.arctan2(up, right))), 1),
                "darkest": round(float(np.percentile(values, 1)), 2),
                "lightest": round(float(np.percentile(values, 99)), 2),
            }
            print(head)
    (OUT / "heads.json").write_text(json.dumps(said, indent=1) + "\n")


if __name__ == "__main__":
    main()
