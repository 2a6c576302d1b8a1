"""Derives `core/skin/data/measured.toml` from measured spectra of skin: the model's layers, what hue is usual at which
depth, the envelope of skins that exist, and how the places of a body differ.

    python -m tools.derive_skin            all of it, and how well the half fits that nothing was fitted to
    python -m tools.derive_skin --tables   keep the layers, derive the tables alone
"""

from __future__ import annotations

import argparse
from dataclasses import asdict, fields
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, lab_to_lch
from core.optics.spectra import reflectance_to_lab
from core.skin.reflectance import Layers, layers, skin_reflectance
from core.skin.solve import skins_of
from tools.skin_archive import CLASSES, Archive, angles_of, read_archive

OUT = Path(__file__).parents[1] / "core/skin/data/measured.toml"

START = Layers(0.6, 1.0, 1.0, 0.85, 4.0, 2.0, 0.015)
LOW = Layers(0.3, 0.5, 0.5, 0.5, 1.0, 1.0, 0.005)
HIGH = Layers(1.3, 3.0, 2.0, 0.95, 20.0, 4.0, 0.02)
"""Half to twice or three times what was published. The darkest spectra reflect no more than the last surface does."""
SCALE = Layers(0.5, 1.0, 1.0, 0.2, 5.0, 1.0, 0.02)
EACH_CLASS = 120
SPECTRUM, COLOUR = 60.0, 3.0
"""What an error of 1 in reflectance, and in CIELAB, weigh in the fit."""

PERCENT = (1, 5, 25, 50, 75, 95, 99)
ANGLES = np.arange(-65.0, 66.0, 10.0)
LIGHTNESSES = np.arange(26.0, 75.0, 4.0)
WIDE_ANGLE, WIDE_LIGHTNESS = 5.0, 2.0
"""How far around a node (standard deviation of the weights) people count."""
DEPTHS = (-30.0, 10.0, 41.0)
FEWEST = 30
"""With fewer people at a depth, what the nearest depth with more says counts for those that are missing."""
PLACES = {
    "forehead": "forehead", "cheek": "cheek", "cheekbone": "cheek bone", "nose tip": "nose tip", "chin": "chin",
    "ear": "ear lobe", "neck": "neck", "arm": "outer arm", "inner arm": "inner arm", "hand": "back of hand",
    "palm": "palm", "finger": "ring finger",
}  # fmt: skip
"""Our places, and where the archive measured."""


def fit(archive: Archive) -> Layers:
    """The layers that fit a half of the people best, all depths counting alike."""
    rng = np.random.default_rng(13)
    rows = [np.flatnonzero(archive.depth == depth) for depth in range(len(CLASSES) + 1)]
    some = archive.take(np.concatenate([rng.choice(row, min(EACH_CLASS, len(row)), replace=False) for row in rows]))

    def missed(values: NDArray[np.float64]) -> NDArray[np.float64]:
        made_of = Layers(*values)
        seen = skin_reflectance(skins_of(some.labs, made_of), made_of)
        colours = reflectance_to_lab(seen) - some.labs
        return np.concatenate([SPECTRUM * (seen - some.spectra).ravel(), COLOUR * colours.ravel()])

    found = least_squares(
        missed, _row(START), bounds=(_row(LOW), _row(HIGH)), x_scale=_row(SCALE), diff_step=0.01, loss="soft_l1",
        f_scale=3.0, max_nfev=40,
    )  # fmt: skip
    print(f"fitted to {len(some.spectra)} spectra in {found.nfev} rounds: cost {found.cost:.0f}")
    return Layers(*(float(f"{value:.4g}") for value in found.x))


def _row(of: Layers) -> NDArray[np.float64]:
    return np.array([getattr(of, field.name) for field in fields(of)])


def weighted(values: Floats, weights: Floats, percent: tuple[int, ...]) -> list[float]:
    """Percentiles of weighted values (n,)."""
    order = np.argsort(values)
    shares = np.cumsum(weights[order])
    at = (shares - weights[order] / 2) / shares[-1]
    return [round(float(v), 1) for v in np.interp(np.array(percent) / 100, at, values[order])]


def usual_hue(archive: Archive) -> dict[str, Any]:
    """The median hue by depth, of people's foreheads and cheeks."""
    people = np.array(list(archive.means("forehead", "cheek").values()))
    angle, hue = angles_of(people), lab_to_lch(people)[:, 2]
    found = [weighted(hue, np.exp(-0.5 * ((angle - node) / WIDE_ANGLE) ** 2), (50,))[0] for node in ANGLES]
    return {"angle_deg": ANGLES.tolist(), "hue_deg": found}


def envelope(archive: Archive) -> dict[str, Any]:
    """Percentiles of hue and chroma by lightness, of readings of foreheads and cheeks."""
    labs = archive.labs[np.isin(archive.location, ["forehead", "cheek"])]
    lightness, chroma, hue = lab_to_lch(labs).T
    weights = [np.exp(-0.5 * ((lightness - node) / WIDE_LIGHTNESS) ** 2) for node in LIGHTNESSES]
    return {
        "percent": list(PERCENT),
        "lightness": LIGHTNESSES.tolist(),
        "hue_deg": [weighted(hue, w, PERCENT) for w in weights],
        "chroma": [weighted(chroma, w, PERCENT) for w in weights],
    }


def places(archive: Archive) -> dict[str, Any]:
    """How each place differs from the mean of forehead and cheek of the same person, by depth, with the spread."""
    usual = archive.means("forehead", "cheek")
    depth_of = dict(zip(usual, np.digitize(angles_of(np.array(list(usual.values()))), DEPTHS), strict=True))
    nodes = [
        round(float(np.median(angles_of(np.array([usual[p] for p in usual if depth_of[p] == depth])))))
        for depth in range(len(DEPTHS) + 1)
    ]
    found: dict[str, Any] = {"angle_deg": nodes}
    for place, location in PLACES.items():
        here = archive.by_person(location)
        groups = [
            np.array([here[p] - usual[p] for p in here if p in usual and depth_of[p] == depth]).reshape(-1, 3)
            for depth in range(len(nodes))
        ]
        counts = [len(group) for group in groups]
        well = [depth for depth, count in enumerate(counts) if count >= FEWEST]
        rows, spreads = [], []
        for depth, group in enumerate(groups):
            nearest = groups[min(well, key=lambda other: abs(other - depth))]
            share = min(1.0, len(group) / FEWEST)
            own = group if len(group) > 1 else nearest
            rows.append(share * own.mean(axis=0) + (1 - share) * nearest.mean(axis=0))
            spreads.append(np.sqrt(share * own.var(axis=0) + (1 - share) * nearest.var(axis=0)))
        found[place] = {
            "people": counts,
            "offset": [_rounded(row) for row in rows],
            "spread": [_rounded(row) for row in spreads],
        }
    return found


def _rounded(values: Floats) -> list[float]:
    return [round(float(v), 1) + 0.0 for v in values]  # no minus before a nought


def report(archive: Archive, made_of: Layers) -> None:
    """How near the model's best comes to spectra nothing was fitted to, by class of depth."""
    seen = skin_reflectance(skins_of(archive.labs, made_of), made_of)
    off = ciede2000(archive.labs, reflectance_to_lab(seen))
    rms = np.sqrt(((seen - archive.spectra) ** 2).mean(axis=1))
    for name, which in [("all", np.ones(len(off), bool)), *((f"{i}", archive.depth == i) for i in range(7))]:
        print(
            f"{name:4} {which.sum():5} spectra: ΔE00 median {np.median(off[which]):.2f}, p95 "
            f"{np.percentile(off[which], 95):.2f}; reflectance rms {np.median(rms[which]):.4f}"
        )


def written(data: dict[str, Any], name: str = "") -> str:
    """The data as TOML: numbers, lists and tables of them."""
    plain = [f"{key} = {value}" for key, value in data.items() if not isinstance(value, dict)]
    head = [f"[{name}]"] if name and plain else []
    tables = [
        written(value, f"{name}.{_key(key)}" if name else _key(key))
        for key, value in data.items()
        if isinstance(value, dict)
    ]
    return "\n".join([*head, *plain, *([""] if plain else []), *tables])


def _key(key: str) -> str:
    return f'"{key}"' if " " in key else key


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--tables", action="store_true")
    archive = read_archive()
    first, second = archive.halves()
    made_of = layers() if asked.parse_args().tables else fit(first)
    report(second, made_of)
    data = {
        "layers": asdict(made_of),
        "usual_hue": usual_hue(archive),
        "envelope": envelope(archive),
        "places": places(archive),
    }
    OUT.write_text(
        f"# Made by tools/derive_skin.py from measured spectra of skin; see docs/skin.md.\n\n{written(data)}"
    )


if __name__ == "__main__":
    main()
