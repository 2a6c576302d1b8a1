"""Plan the demo's hair and coats: `python -m tools.make_demo_surround`, after tools.make_demo_plan.

Needed after a change of how regions are found or their ramps are planned.
"""

from __future__ import annotations

import json

from core.exchange.tray_csv import read_tray
from core.plan.questions import Owned
from core.plan.setup import Setup
from core.surround.questions import FigureShown, Surround, Surrounded, ramp_for, told
from core.surround.ramp import Shade
from core.surround.region import PARTS, USUAL_REACH, Seed
from tools.drawn import PIECES, reference_of
from tools.site import ROOT

NAME = "night-watch"
RADIUS = 0.012
REGIONS: tuple[tuple[str, str, Shade, tuple[tuple[float, float], ...], float], ...] = (
    ("Mairen’s hair", "hair", "darker", ((0.30, 0.125), (0.18, 0.22)), USUAL_REACH),
    ("Mairen’s coat", "cloth", "complement", ((0.10, 0.85), (0.42, 0.9), (0.30, 0.95)), USUAL_REACH),
    ("Odelo’s cap", "cloth", "darker", ((0.67, 0.16), (0.79, 0.2), (0.84, 0.27)), 0.5),
    ("Odelo’s coat", "cloth", "complement", ((0.80, 0.85), (0.62, 0.8), (0.55, 0.95), (0.96, 0.96)), USUAL_REACH),
    ("the night", "ground", "darker", ((0.04, 0.1), (0.96, 0.1), (0.45, 0.1), (0.5, 0.52), (0.06, 0.5)), USUAL_REACH),
)


def main() -> None:
    layers = json.loads((ROOT / f"demo/plans/{NAME}.json").read_text())
    skin = frozenset(layer["stick"] for layer in layers)
    range_id, method = PIECES[NAME]
    owned = Owned(read_tray((ROOT / f"demo/ranges/{range_id}.csv").read_bytes()).sticks, Setup(method=method))
    seen = reference_of(NAME)
    regions = tuple(Surround(name, Seed(points, reach)) for name, _, _, points, reach in REGIONS)
    figures = tuple(FigureShown("", (), (), 0.0) for _ in seen.people)
    found = told(Surrounded(seen, figures, regions, (96.0, 0.0, 1.5)))
    rows = []
    for number, (region, tones) in enumerate(zip(REGIONS, found.tones, strict=True), start=1):
        name, kind, shade, points, reach = region
        assert tones is not None, found.troubles
        planned, trouble = ramp_for(owned, tones, shade, skin)
        assert planned is not None, trouble
        (x, y), *more = points
        rows.append(
            {
                "id": f"region-{number}",
                "name": name,
                "kind": kind,
                "x": x,
                "y": y,
                "radius": RADIUS,
                "more": more,
                "reach": reach,
                "shade": shade,
                "layers": [
                    {
                        "id": f"region-{number}-layer-{i}",
                        "stick": layer.stick,
                        "levels": {
                            part: dose and {"pressure": dose.pressure, "repeats": dose.repeats}
                            for part, dose in zip(PARTS, layer.doses, strict=True)
                        },
                    }
                    for i, layer in enumerate(planned.layers, start=1)
                ],
            }
        )
    file = ROOT / f"demo/surrounds/{NAME}.json"
    file.parent.mkdir(exist_ok=True)
    file.write_text(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")


if __name__ == "__main__":
    main()
