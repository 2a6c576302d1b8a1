"""Invent the stand-in ranges: pencils (36, 72, a tray of 24), markers (24, 60), pastels (48, 36), oil pastels (24, 48),
and one of whites, body colours, liners and a colourless blender (16).

Nothing here is measured or copied: each stick is an absorption curve like a pigment's (edges and bumps), cut with white
by tints, or for markers thinned as a dye, turned into the colour of a solid swatch. Balanced for all complexions: many
browns, earth greens, violets and off-whites.
Run: python -m tools.make_ranges
"""

from __future__ import annotations

import csv
from pathlib import Path

import numpy as np

from core.colour.spaces import hex_to_lab, xyz_to_hex
from core.optics.film import k_over_s
from core.optics.spectra import BANDS_NM, reflectance_to_xyz

OUT = Path(__file__).parents[1] / "demo/ranges"

# Pigment-like masstones: base reflectance, then edges (nm, height, width) and bumps (nm, height, width).
MASSTONES: dict[str, tuple[float, tuple[tuple[float, float, float], ...], tuple[tuple[float, float, float], ...]]] = {
    "yellow earth": (0.05, ((545, 0.42, 32),), ()),
    "golden earth": (0.05, ((560, 0.40, 26),), ()),
    "raw sienna": (0.05, ((565, 0.30, 30),), ()),
    "burnt sienna": (0.04, ((592, 0.24, 20),), ()),
    "red earth": (0.04, ((590, 0.30, 14),), ()),
    "brown earth": (0.035, ((600, 0.12, 34),), ()),
    "raw umber": (0.04, ((570, 0.08, 40),), ()),
    "burnt umber": (0.028, ((610, 0.06, 30),), ()),
    "arylide yellow": (0.06, ((508, 0.78, 14),), ()),
    "diketo red": (0.035, ((597, 0.66, 10),), ()),
    "perylene red": (0.03, ((612, 0.42, 12),), ((430, 0.03, 30),)),
    "quinacridone rose": (0.04, ((604, 0.72, 14),), ((430, 0.20, 40),)),
    "dioxazine violet": (0.035, ((680, 0.20, 20),), ((430, 0.16, 35),)),
    "ultramarine": (0.035, ((715, 0.3, 20),), ((452, 0.42, 36),)),
    "phthalo blue": (0.03, (), ((470, 0.30, 42),)),
    "phthalo green": (0.03, (), ((515, 0.30, 36),)),
    "green earth": (0.10, (), ((540, 0.14, 60),)),
    "chromium oxide": (0.07, ((690, 0.1, 20),), ((545, 0.17, 34),)),
    "bone black": (0.028, (), ()),
    "benzimidazolone orange": (0.04, ((568, 0.72, 14),), ()),
    "titanium white": (0.93, (), ()),
}

# code, name, mixture of masstones (part by weight), opacity. The first 36 are the small range.
COLOURS: list[tuple[str, str, dict[str, float], str]] = [
    ("01", "salt", {"titanium white": 1}, "semi"),
    ("03", "sailcloth", {"titanium white": 60, "yellow earth": 1}, "semi"),
    ("05", "oat milk", {"titanium white": 26, "raw sienna": 1}, "semi"),
    ("08", "shell pink", {"titanium white": 34, "red earth": 1, "golden earth": 0.6}, "semi"),
    ("10", "peach stone", {"titanium white": 17, "benzimidazolone orange": 1, "red earth": 0.7}, "semi"),
    ("12", "apricot", {"titanium white": 13, "benzimidazolone orange": 1.4, "yellow earth": 0.8}, "semi"),
    ("14", "dawn rose", {"titanium white": 22, "quinacridone rose": 1, "red earth": 0.6}, "semi"),
    ("16", "biscuit", {"titanium white": 10, "raw sienna": 1, "brown earth": 0.4}, "semi"),
    ("18", "sand bar", {"titanium white": 8, "yellow earth": 1.2, "brown earth": 0.4}, "semi"),
    ("20", "honey", {"titanium white": 4, "golden earth": 1.5}, "semi"),
    ("22", "yellow earth", {"yellow earth": 1, "titanium white": 0.8}, "semi"),
    ("24", "lamp yellow", {"arylide yellow": 1, "titanium white": 2}, "transparent"),
    ("26", "clay", {"titanium white": 4, "red earth": 1, "golden earth": 0.7}, "semi"),
    ("28", "terracotta", {"red earth": 1.4, "titanium white": 1.2, "benzimidazolone orange": 0.3}, "semi"),
    ("30", "burnt sienna", {"burnt sienna": 1, "titanium white": 0.35}, "transparent"),
    ("32", "rust", {"red earth": 1, "burnt sienna": 0.5}, "semi"),
    ("34", "scarlet buoy", {"diketo red": 1, "titanium white": 0.25}, "semi"),
    ("36", "deep red", {"perylene red": 1}, "transparent"),
    ("38", "wine", {"perylene red": 1, "dioxazine violet": 0.25, "titanium white": 0.1}, "transparent"),
    ("40", "rose quay", {"quinacridone rose": 1, "titanium white": 3.5}, "semi"),
    ("42", "tan rope", {"titanium white": 3, "raw sienna": 1.1, "burnt sienna": 0.5}, "semi"),
    ("44", "hazel", {"raw sienna": 1, "burnt sienna": 0.6, "titanium white": 0.5}, "semi"),
    ("46", "chestnut", {"burnt sienna": 1, "brown earth": 1, "titanium white": 0.15}, "semi"),
    ("48", "brown earth", {"brown earth": 1, "titanium white": 0.12}, "semi"),
    ("50", "raw umber", {"raw umber": 1, "titanium white": 0.2}, "semi"),
    ("52", "dark umber", {"burnt umber": 1}, "semi"),
    ("54", "green earth", {"green earth": 1, "titanium white": 0.6}, "semi"),
    ("56", "olive net", {"chromium oxide": 1, "raw sienna": 0.8, "titanium white": 0.3}, "semi"),
    ("58", "mist blue", {"titanium white": 16, "ultramarine": 1}, "semi"),
    ("60", "ultramarine", {"ultramarine": 1, "titanium white": 0.25}, "transparent"),
    ("62", "night water", {"ultramarine": 1, "bone black": 0.5, "phthalo blue": 0.15}, "semi"),
    ("64", "lilac", {"titanium white": 20, "dioxazine violet": 1}, "semi"),
    ("66", "dusk violet", {"dioxazine violet": 1, "titanium white": 2.6}, "semi"),
    ("68", "fog grey", {"titanium white": 9, "bone black": 0.5, "raw umber": 0.3}, "semi"),
    ("70", "slate", {"bone black": 1, "titanium white": 2.2, "ultramarine": 0.5}, "semi"),
    ("72", "bone black", {"bone black": 1}, "semi"),
    ("02", "foam", {"titanium white": 90, "phthalo blue": 0.5}, "semi"),
    ("04", "candle", {"titanium white": 40, "golden earth": 1.2}, "semi"),
    ("06", "linen", {"titanium white": 24, "raw umber": 0.8, "yellow earth": 0.4}, "semi"),
    ("07", "rose milk", {"titanium white": 60, "quinacridone rose": 1}, "semi"),
    ("09", "wheat", {"titanium white": 15, "golden earth": 1, "red earth": 0.2}, "semi"),
    ("11", "warm blush", {"titanium white": 14, "red earth": 1, "quinacridone rose": 0.4}, "semi"),
    ("13", "melon", {"titanium white": 8, "benzimidazolone orange": 1, "quinacridone rose": 0.4}, "semi"),
    ("15", "salmon", {"titanium white": 7, "diketo red": 0.8, "benzimidazolone orange": 0.6}, "semi"),
    ("17", "almond", {"titanium white": 7, "burnt sienna": 0.7, "raw sienna": 0.6}, "semi"),
    ("19", "dune", {"titanium white": 7, "raw umber": 0.9, "yellow earth": 0.7}, "semi"),
    ("21", "amber", {"golden earth": 1, "benzimidazolone orange": 0.4, "titanium white": 0.8}, "transparent"),
    ("23", "straw", {"titanium white": 7, "arylide yellow": 0.5, "yellow earth": 0.8}, "semi"),
    ("25", "orange peel", {"benzimidazolone orange": 1, "titanium white": 0.8}, "semi"),
    ("27", "brick dust", {"titanium white": 2.4, "red earth": 1, "brown earth": 0.4}, "semi"),
    ("29", "copper", {"burnt sienna": 1, "benzimidazolone orange": 0.35, "titanium white": 0.6}, "semi"),
    ("31", "red earth", {"red earth": 1, "titanium white": 0.15}, "semi"),
    ("33", "cinnamon", {"burnt sienna": 1, "titanium white": 1.6, "brown earth": 0.3}, "semi"),
    ("35", "berry", {"quinacridone rose": 1, "perylene red": 0.6, "titanium white": 0.3}, "transparent"),
    ("37", "oxblood", {"perylene red": 1, "burnt umber": 0.8}, "semi"),
    ("39", "plum", {"dioxazine violet": 0.8, "perylene red": 0.8, "titanium white": 0.5}, "semi"),
    ("41", "heather", {"titanium white": 7, "dioxazine violet": 0.5, "quinacridone rose": 0.5}, "semi"),
    ("43", "saddle", {"raw sienna": 1, "brown earth": 0.8, "titanium white": 0.7}, "semi"),
    ("45", "walnut", {"brown earth": 1, "raw umber": 0.7, "titanium white": 0.25}, "semi"),
    ("47", "cocoa", {"brown earth": 1, "burnt umber": 0.5, "titanium white": 0.5}, "semi"),
    ("49", "mahogany", {"burnt sienna": 0.8, "burnt umber": 1, "perylene red": 0.3}, "semi"),
    ("51", "bark", {"burnt umber": 1, "raw umber": 0.6, "titanium white": 0.12}, "semi"),
    ("53", "warm black", {"burnt umber": 1, "bone black": 0.8}, "semi"),
    ("55", "sage", {"titanium white": 5, "green earth": 2, "chromium oxide": 0.6}, "semi"),
    ("57", "moss", {"chromium oxide": 1, "yellow earth": 0.7, "titanium white": 0.6}, "semi"),
    ("59", "deep sea green", {"phthalo green": 1, "bone black": 0.3, "titanium white": 0.3}, "semi"),
    ("61", "harbour blue", {"phthalo blue": 1, "titanium white": 2.5}, "semi"),
    ("63", "pale violet grey", {"titanium white": 14, "dioxazine violet": 0.4, "bone black": 0.4}, "semi"),
    ("65", "blue violet", {"ultramarine": 1, "dioxazine violet": 0.5, "titanium white": 1.5}, "semi"),
    ("67", "aubergine", {"dioxazine violet": 1, "burnt umber": 0.8, "titanium white": 0.15}, "semi"),
    ("69", "warm grey", {"titanium white": 4, "bone black": 0.6, "burnt umber": 0.5}, "semi"),
    ("71", "graphite sea", {"bone black": 1, "titanium white": 0.8, "phthalo blue": 0.1}, "semi"),
]  # fmt: skip
SMALL_TRAY = (
    "01", "03", "08", "10", "14", "16", "18", "20", "22", "26", "30", "34", "36", "42", "46", "48", "50", "52", "54",
    "56", "60", "64", "66", "72",
)  # fmt: skip
# Families of markers: name, mixture of dyes, strengths of the members, and the numbers of those in the small range.
MARKERS: list[tuple[str, dict[str, float], tuple[float, ...], tuple[int, ...]]] = [
    ("shell", {"red earth": 1, "golden earth": 0.7}, (0.07, 0.13, 0.22, 0.36), (0, 2)),
    ("peach stone", {"benzimidazolone orange": 0.6, "red earth": 0.8}, (0.10, 0.18, 0.30, 0.46), (0, 2)),
    ("sand bar", {"yellow earth": 1, "raw umber": 0.4}, (0.10, 0.18, 0.32), (1,)),
    ("honey", {"golden earth": 1, "raw sienna": 0.5}, (0.22, 0.40, 0.62), (1,)),
    ("clay", {"red earth": 1, "burnt sienna": 0.4}, (0.28, 0.42, 0.60, 0.82), (1, 3)),
    ("tan rope", {"raw sienna": 1, "burnt sienna": 0.6}, (0.24, 0.38, 0.56, 0.76), (1, 3)),
    ("cinnamon", {"burnt sienna": 1, "brown earth": 0.5}, (0.42, 0.60, 0.82), ()),
    ("cocoa", {"brown earth": 1, "burnt umber": 0.5}, (0.38, 0.55, 0.76, 1.0), (1, 3)),
    ("bark", {"burnt umber": 1, "raw umber": 0.6}, (0.62, 0.84, 1.05), (2,)),
    ("dawn rose", {"quinacridone rose": 1, "red earth": 0.3}, (0.10, 0.20, 0.38), (0, 2)),
    ("buoy", {"diketo red": 1}, (0.30, 0.75), (1,)),
    ("wine", {"perylene red": 1, "dioxazine violet": 0.2}, (0.45, 0.85), (1,)),
    ("lamp", {"arylide yellow": 1}, (0.20, 0.60), (1,)),
    ("moss", {"chromium oxide": 1, "yellow earth": 0.5}, (0.20, 0.42, 0.75), (1,)),
    ("sea glass", {"phthalo green": 1, "green earth": 0.8}, (0.12, 0.35), ()),
    ("mist", {"ultramarine": 1, "phthalo blue": 0.2}, (0.10, 0.22, 0.48), (1,)),
    ("dusk", {"dioxazine violet": 1}, (0.12, 0.26, 0.60), (1,)),
    ("fog", {"bone black": 1, "raw umber": 0.25}, (0.07, 0.14, 0.24, 0.40), (1,)),
    ("slate", {"bone black": 1, "ultramarine": 0.25}, (0.12, 0.60), ()),
    ("night", {"bone black": 1}, (1.0,), (0,)),
]
# What finishes a drawing: code, name, medium, mixture (None: the blender), opacity, binder.
FINISHING: list[tuple[str, str, str, dict[str, float] | None, str, str]] = [
    ("00", "colourless blender", "pencil", None, "transparent", "wax"),
    ("01", "white pen", "opaque", {"titanium white": 1}, "semi", "pen ink"),
    ("02", "cream pen", "opaque", {"titanium white": 40, "yellow earth": 1}, "semi", "pen ink"),
    ("10", "white gouache", "opaque", {"titanium white": 1}, "opaque", "gouache"),
    ("11", "lamplight gouache", "opaque", {"titanium white": 24, "golden earth": 1}, "opaque", "gouache"),
    ("12", "shell gouache", "opaque", {"titanium white": 20, "red earth": 1, "golden earth": 0.6}, "opaque", "gouache"),
    ("13", "sand gouache", "opaque", {"titanium white": 9, "raw sienna": 1, "red earth": 0.3}, "opaque", "gouache"),
    ("14", "clay gouache", "opaque", {"titanium white": 3.5, "red earth": 1, "raw sienna": 0.8}, "opaque", "gouache"),
    ("15", "saddle gouache", "opaque", {"titanium white": 1, "burnt sienna": 1, "raw umber": 0.5}, "opaque", "gouache"),
    ("16", "cocoa gouache", "opaque", {"brown earth": 1, "titanium white": 0.4}, "opaque", "gouache"),
    ("17", "bark gouache", "opaque", {"burnt umber": 1, "titanium white": 0.06}, "opaque", "gouache"),
    ("18", "mist gouache", "opaque", {"titanium white": 12, "ultramarine": 1}, "opaque", "gouache"),
    ("19", "wine gouache", "opaque", {"perylene red": 1, "titanium white": 0.3}, "opaque", "gouache"),
    ("30", "black liner, fine", "opaque", {"bone black": 1}, "transparent", "pigment ink"),
    ("31", "dark brown liner, fine", "opaque", {"burnt umber": 1}, "transparent", "pigment ink"),
    ("32", "red-brown liner, fine", "opaque", {"red earth": 1, "brown earth": 0.6}, "transparent", "pigment ink"),
]
DEPTHS = ("pale", "soft", "full", "deep")
BLENDER = "#f4f4f1"
FUGITIVE = {"quinacridone rose": "II", "dioxazine violet": "III"}
HEADER = ("code", "name", "medium", "hex", "opacity", "range", "binder", "pigments", "lightfastness", "condition")


def masstone(pigment: str) -> np.ndarray:
    """Reflectance (31,) of a pigment-like curve."""
    base, edges, bumps = MASSTONES[pigment]
    curve = np.full_like(BANDS_NM, base)
    for nm, height, width in edges:
        curve += height / (1 + np.exp(-(BANDS_NM - nm) / width))
    for nm, height, width in bumps:
        curve += height * np.exp(-(((BANDS_NM - nm) / width) ** 2))
    return np.clip(curve, 0.02, 0.95)


def swatch(mixture: dict[str, float]) -> str:
    """Hex of the solid swatch of a mixture: K/S of the masstones added by part (single-constant mixing)."""
    total = sum(mixture.values())
    ratio = sum(part / total * k_over_s(masstone(pigment)) for pigment, part in mixture.items())
    return xyz_to_hex(reflectance_to_xyz(1 + ratio - np.sqrt(ratio**2 + 2 * ratio)))


def rows(
    prefix: str, title: str, chosen: list[tuple[str, str, dict[str, float], str]], binder: str
) -> list[tuple[str, ...]]:
    """CSV rows of one range, in the order of their codes."""
    out = []
    for code, name, mixture, opacity in sorted(chosen):
        pigments = [p for p in mixture if p != "titanium white"] or ["titanium white"]
        grade = max((FUGITIVE.get(p, "I") for p in pigments), key=len)
        out.append(
            (
                f"{prefix}{code}",
                name,
                "pencil",
                swatch(mixture),
                opacity,
                title,
                binder,
                "+".join(pigments),
                grade,
                "good",
            )
        )
    return out


def marker_swatch(mixture: dict[str, float], strength: float) -> str:
    """Hex of one coat on white card: the dyes' absorbances added, thinned by strength, over a floor of 2 %."""
    total = sum(mixture.values())
    absorbance = strength * sum(part / total * -np.log(masstone(pigment)) for pigment, part in mixture.items())
    return xyz_to_hex(reflectance_to_xyz(0.02 + 0.88 * np.exp(-absorbance)))


def marker_rows(prefix: str, title: str, small: bool) -> list[tuple[str, ...]]:
    """CSV rows of a range of markers; of the small one if `small`. Dyes fade: none is of grade I."""
    out = []
    for family, (name, mixture, strengths, chosen) in enumerate(MARKERS, start=1):
        for number, strength in enumerate(strengths):
            if small and number not in chosen:
                continue
            said = name if len(strengths) == 1 else f"{name}, {DEPTHS[number + 4 - len(strengths)]}"
            grade = "III" if set(mixture) & set(FUGITIVE) else "II"
            code = f"{prefix}{family:02d}{number + 1}"
            hex_code = marker_swatch(mixture, strength)
            out.append((code, said, "marker", hex_code, "transparent", title, "alcohol", "solvent dyes", grade, "good"))
    out.append(
        (f"{prefix}00", "colourless blender", "marker", BLENDER, "transparent", title, "alcohol", "", "", "good")
    )
    return out


def other_rows(medium: str, prefix: str, title: str, count: int, binder: str) -> list[tuple[str, ...]]:
    """CSV rows of pastels or oil pastels: the first colours, with some chalk in each."""
    word = "chalk" if medium == "pastel" else "oil"
    chalky = [
        (code, f"{name} {word}", mixture | {"titanium white": mixture.get("titanium white", 0) + 0.15}, opacity)
        for code, name, mixture, opacity in COLOURS[:count]
    ]
    return [(row[0], row[1], medium, *row[3:]) for row in rows(prefix, title, chalky, binder)]


def finishing_rows(prefix: str, title: str) -> list[tuple[str, ...]]:
    """CSV rows of whites, body colours, liners and the blender."""
    out = []
    for code, name, medium, mixture, opacity, binder in FINISHING:
        if mixture is None:
            out.append((f"{prefix}{code}", name, medium, BLENDER, opacity, title, binder, "", "", "good"))
        else:
            row = rows(prefix, title, [(code, name, mixture, opacity)], binder)[0]
            out.append((*row[:2], medium, *row[3:]))
    return out


_PRICES = {"pencil": 1.9, "marker": 4.2, "pastel": 2.4, "oil_pastel": 1.6}
_DEAR = {"quinacridone rose": 0.5, "dioxazine violet": 0.4, "perylene red": 0.5, "green earth": 0.3}
"""What some pigments add."""


def sold(table: list[tuple[str, ...]]) -> list[tuple[str, ...]]:
    """The rows with prices and the sets they are in: a rainbow, one for portraits, all of them; each cheaper a stick
    the larger it is."""
    prices = [
        round(_PRICES.get(row[2], 3.2) + sum(_DEAR.get(part, 0) for part in row[7].split(" + ")), 2) for row in table
    ]
    labs = np.array([hex_to_lab(row[3]) for row in table])
    chroma, hue = np.hypot(labs[:, 1], labs[:, 2]), np.degrees(np.arctan2(labs[:, 2], labs[:, 1]))
    # Warm, and not louder than skin can be; spread over light and dark.
    skin = [i for i in np.argsort(labs[:, 0]) if -20 < hue[i] < 85 and chroma[i] < 48]
    few = min(12, len(skin))
    sets = {
        "First 12": [int(i) for i in np.linspace(0, len(table) - 1, 12).round()],
        f"Portrait {few}": [int(skin[int(j)]) for j in np.linspace(0, len(skin) - 1, few).round()],
        f"All {len(table)}": list(range(len(table))),
    }
    if len(table) < 24:
        sets = {f"All {len(table)}": list(range(len(table)))}
    less = {"First": 0.8, "Portrait": 0.86, "All": 0.68}
    out = []
    for i, row in enumerate(table):
        held = [
            (name, sum(prices[j] for j in members) * less[name.split()[0]])
            for name, members in sets.items()
            if i in members
        ]
        out.append((*row, f"{prices[i]:.2f}", " + ".join(f"{name}={price:.2f}" for name, price in held)))
    return out


def write(file: str, table: list[tuple[str, ...]], for_sale: bool = True) -> None:
    held = [(*HEADER, "price", "sets"), *sold(table)] if for_sale else [HEADER, *table]
    with (OUT / file).open("w", newline="") as out:
        csv.writer(out, lineterminator="\n").writerows(held)


if __name__ == "__main__":
    OUT.mkdir(parents=True, exist_ok=True)
    write("gangway-36.csv", rows("G", "Gangway 36", COLOURS[:36], "wax"))
    write("long-pier-72.csv", rows("L", "Long Pier 72", COLOURS, "oil"))
    write("small-tray-24.csv", rows("G", "Gangway 36", [c for c in COLOURS[:36] if c[0] in SMALL_TRAY], "wax"), False)
    write("quay-chalk-48.csv", other_rows("pastel", "Q", "Quay Chalk 48", 48, "gum"))
    write("rigging-36.csv", other_rows("pastel", "R", "Rigging 36", 36, "hard gum"))
    write("winch-48.csv", other_rows("oil_pastel", "W", "Winch 48", 48, "oil and wax"))
    oils = other_rows("oil_pastel", "K", "Keel 24", 36, "oil and wax")
    write("keel-24.csv", [row for row in oils if row[0][1:] in SMALL_TRAY])
    write("ebb-24.csv", marker_rows("E", "Ebb 24", True))
    write("breakwater-60.csv", marker_rows("B", "Breakwater 60", False))
    write("lantern-16.csv", finishing_rows("N", "Lantern 16"))
    for code, name, mixture, _ in sorted(COLOURS):
        print(code, name, swatch(mixture), hex_to_lab(swatch(mixture)).round(0))
