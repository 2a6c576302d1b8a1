"""Draw the demo's piece that has no picture of its own: `python -m tools.make_demo_scene`, then tools.make_demo_plan.

Two of the ferry's crew, described, between the red and the blue lamp: the sheet, and the document's part of it. Needed
after a change of what scenes look like.
"""

from __future__ import annotations

import json
from dataclasses import asdict, replace

from PIL import Image

from core.light.lamps import Lamp
from core.light.questions import proposals
from core.light.scene import Around, Key, Scene, Sitter
from core.light.sheet import drawn
from core.skin.describe import described
from tools.site import ROOT

NAME = "below-deck"
TAVI = replace(described((58.0, 8.4, 18.2)), beard=0.6)
SENNA_RUE = replace(described((45.5, 12.2, 18.0)), flush=0.1)
SCENE = Scene(
    (Sitter("Tavi", TAVI, "head", 22.0, 2.0), Sitter("Senna Rue", SENNA_RUE, "head", -18.0, -3.0)),
    Key(Lamp("glow", 3200.0, "own", "ff4a38"), -62.0, 22.0, 6.0),
    (
        Around("side", Lamp("daylight", 5500.0, "own", "3a5cff"), 0.42, 82.0, 8.0),
        Around("even", Lamp("glow", 3200.0), 0.16),
    ),
    exposure=0.8,
)  # fmt: skip


def main() -> None:
    picture = ROOT / f"demo/references/{NAME}.jpg"
    Image.fromarray(drawn(SCENE)).save(picture, quality=92, subsampling=0, optimize=True)
    spots, seats = [], []
    for number, said in enumerate(proposals(SCENE), start=1):
        figure = f"figure-{number}"
        seats.append({"figure": figure, "sitter": asdict(SCENE.sitters[number - 1])})
        for target, disc in zip(said.proposed, said.discs, strict=True):
            place = {"x": round(disc.x, 4), "y": round(disc.y, 4), "radius": round(disc.radius, 4)}
            row = {"id": f"spot-{len(spots) + 1}", "figure": figure, "name": target.name, "place": target.place}
            spots.append(row | {"role": target.role, "family": target.family} | place)
    light = {key: part for key, part in asdict(SCENE).items() if key != "sitters"}
    held = {"imagined": {"seats": seats, **light}, "spots": spots}
    (ROOT / f"demo/scenes/{NAME}.json").write_text(json.dumps(held, indent=1, ensure_ascii=False) + "\n")
    print(f"{picture}: {picture.stat().st_size // 1000} kB, {len(spots)} spots")


if __name__ == "__main__":
    main()
