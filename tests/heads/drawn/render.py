"""Draw the crew, and write beside each picture the true colour of every sampled place.

Run: python -m tests.heads.drawn.render [NAME …]   (all by default; about a minute each)
Writes tests/heads/large/NAME.jpg, NAME.json, and the two double portraits.
"""

from __future__ import annotations

import json
import sys
from dataclasses import dataclass
from pathlib import Path

import colour
import numpy as np
from PIL import Image, ImageFilter

from core.colour.spaces import D65_WHITE, SRGB, srgb_encode, xyz_to_lab
from core.optics.spectra import BANDS_NM
from core.skin.reflectance import Complexion, skin_reflectance
from tests.heads.drawn.people import CREW, DECK_LAMP, GREY_MORNING, PLACES, Light, Sitter
from tests.heads.drawn.solids import CLOTH, EYE, HAIR, SKIN, Points, scene, skin_solid

WIDTH, HEIGHT, OVERSAMPLED = 960, 1200, 1.5
HEAD_UNITS_HIGH, CENTRE_Y = 3.55, -0.36
RADIUS = 0.009
FLUSHES = np.linspace(0.6, 5.0, 23)
WRAP = np.array([0.16, 0.035, 0.015])
"""Light that seeps past the terminator under the skin, for R, G and B."""
OUT = Path(__file__).parents[1] / "large"
PAIRS = {"night-watch": ("mairen", "odelo"), "morning-relief": ("tavi", "senna-rue")}


@dataclass(frozen=True, slots=True)
class Lamps:
    """Linear sRGB of a white under key and fill, as the adapted eye sees it, and of skin (flushes, 3) under both."""

    key: np.ndarray
    fill: np.ndarray
    skin_key: np.ndarray
    skin_fill: np.ndarray


def _illuminant(kelvin: float) -> np.ndarray:
    shape = colour.SpectralShape(400, 700, 10)
    if kelvin >= 4000:
        xy = colour.temperature.CCT_to_xy_CIE_D(kelvin)
        spd = colour.sd_CIE_illuminant_D_series(xy)
    else:
        spd = colour.sd_blackbody(kelvin)
    return np.asarray(spd.align(shape).values)


def lamps(light: Light, skin: Complexion) -> Lamps:
    """Spectral products of light and skin, adapted by CAT16."""
    observer = (
        colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(colour.SpectralShape(400, 700, 10)).values
    )
    key, fill, settled = (
        spd / (spd @ observer[:, 1])
        for spd in map(_illuminant, (light.key_kelvin, light.fill_kelvin, light.adapted_kelvin))
    )
    adapt = colour.adaptation.matrix_chromatic_adaptation_VonKries(settled @ observer, D65_WHITE, transform="CAT16")
    to_rgb = np.linalg.inv(SRGB.to_xyz)

    def seen(spd: np.ndarray, reflectance: np.ndarray) -> np.ndarray:
        return np.asarray((reflectance * spd) @ observer @ adapt.T @ to_rgb)

    flushed = np.array([skin_reflectance(Complexion(skin.melanin, skin.blood * f, skin.carotene)) for f in FLUSHES])
    white = np.ones_like(BANDS_NM)
    return Lamps(seen(key, white), seen(fill, white), seen(key, flushed), seen(fill, flushed))


def _turn(turn_deg: float) -> np.ndarray:
    c, s = np.cos(np.radians(turn_deg)), np.sin(np.radians(turn_deg))
    return np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]], dtype=np.float32)


def _march(
    origin: Points, direction: Points, sitter: Sitter, steps: int, far: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Distance to the first solid (inf if none), its kind, and the closest relative miss (for soft shadows)."""
    n = len(origin)
    travelled, kind, miss = np.zeros(n, np.float32), np.zeros(n, np.int8), np.ones(n, np.float32)
    hit, active = np.zeros(n, bool), np.arange(n)
    for _ in range(steps):
        distance, what = scene(origin[active] + travelled[active, None] * direction[active], sitter.build)
        miss[active] = np.minimum(miss[active], 9 * distance / np.maximum(travelled[active], 0.05))
        near = distance < 0.0012
        hit[active[near]], kind[active[near]] = True, what[near]
        travelled[active] += np.where(near, 0, np.clip(distance, 0.004, None) * 0.85)
        active = active[~near & (travelled[active] < far)]
        if not len(active):
            break
    return np.where(hit, travelled, np.inf), kind, np.clip(miss, 0, 1)


def _normals(p: Points, sitter: Sitter) -> Points:
    total = np.zeros_like(p)
    for corner in np.float32([(1, -1, -1), (-1, -1, 1), (-1, 1, -1), (1, 1, 1)]):
        total += corner * scene(p + corner * 0.0025, sitter.build)[0][:, None]
    return np.asarray(total / np.maximum(np.linalg.norm(total, axis=1, keepdims=True), 1e-9))


def _bump(p: Points, centre: tuple[float, float, float], radius: float) -> np.ndarray:
    m = np.column_stack([np.abs(p[:, 0]), p[:, 1], p[:, 2]])
    return np.asarray(np.exp(-(((m - np.float32(centre)) / radius) ** 2).sum(axis=1)))


def flush(p: Points, sitter: Sitter) -> tuple[np.ndarray, np.ndarray]:
    """How much more blood than usual shows at points of the skin, and how much of it is lip (0–1)."""
    w = sitter.build.width
    more = 1 + 1.0 * _bump(p, (0.42 * w, -0.16, 0.58), 0.24) + 1.1 * _bump(p, (0, -0.24, 1.05), 0.16)
    more += 1.2 * _bump(p, (0.80 * w, 0, -0.1), 0.22) + 0.35 * _bump(p, (0, -0.92, 0.6), 0.2)
    more -= 0.25 * _bump(p, (0, 0.55, 0.7), 0.3) + 0.2 * _bump(p, (0.3, -0.6, 0.6), 0.2)
    x, y = np.abs(p[:, 0]), p[:, 1]
    thick = sitter.build.lips
    outline = 0.24 - 0.35 * np.abs(y + 0.53) - np.where(y > -0.53, 0.5 * np.abs(y + 0.53), 0)
    upper = -0.53 + (0.092 - 0.02 * np.exp(-((x / 0.03) ** 2))) * thick * np.sqrt(np.clip(1 - (x / 0.24) ** 2, 0, 1))
    lower = -0.53 - 0.120 * thick * np.sqrt(np.clip(1 - (x / 0.20) ** 2, 0, 1))
    edge = np.minimum(np.minimum(upper - y, y - lower), outline - x)
    lip = np.clip(edge / 0.02 + 0.5, 0, 1) * (p[:, 2] > 0.6)
    return np.asarray(more), np.asarray(lip)


def shade(sitter: Sitter, width: int, height: int) -> tuple[np.ndarray, np.ndarray]:
    """Linear sRGB (h, w, 3), and the share of key light on skin (h, w), −1 elsewhere."""
    ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
    scale = HEAD_UNITS_HIGH / height
    x = (xs + 0.5 - width / 2) * scale
    y = CENTRE_Y - (ys + 0.5 - height / 2) * scale
    world = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, 3.0)]).astype(np.float32)
    turn = _turn(sitter.turn_deg)
    origin, forward = world @ turn, np.broadcast_to(np.float32([0, 0, -1]) @ turn, world.shape)
    travelled, kind, _ = _march(origin, forward, sitter, 90, 5.0)
    hit = np.isfinite(travelled)
    light = sitter.light
    sky = np.linspace(0, 1, height)[:, None, None]
    picture = (
        np.broadcast_to((1 - sky) * light.sky_top + sky * np.array(light.sky_bottom), (height, width, 3))
        .reshape(-1, 3)
        .copy()
    )

    p = origin[hit] + travelled[hit, None] * forward[hit]
    what, normal = kind[hit], _normals(p, sitter)
    to_key = np.float32(light.key_direction)
    to_key = (to_key / np.linalg.norm(to_key)) @ turn
    toward = np.broadcast_to(to_key, p.shape)
    _, _, clear = _march(p + normal * 0.03, toward, sitter, 34, 2.6)
    clear = _softened(clear, hit, (height, width))
    open_sky = np.clip(
        1 - sum((0.14 * i - scene(p + normal * 0.14 * i, sitter.build)[0]) * 0.85 / 2**i for i in (1, 2, 3)), 0.12, 1
    )

    cos = normal @ to_key
    facing = (np.clip((cos[:, None] + WRAP) / (1 + WRAP), 0, 1) * clear[:, None] ** np.array([0.75, 1.0, 1.05])).astype(
        float
    )
    around = (open_sky * (0.62 + 0.38 * normal @ (np.float32([0.1, 0.75, 0.35]) @ turn)))[:, None]
    lamp = lamps(light, sitter.skin)
    bounce = 0.05 * lamp.key * np.clip(-normal[:, 1:2], 0, 1) * light.key

    more, lip = flush(p, sitter)
    level = np.clip(np.where(lip > 0, more + 3.2 * lip, more), FLUSHES[0], FLUSHES[-1])
    under_key = np.column_stack([np.interp(level, FLUSHES, lamp.skin_key[:, c]) for c in range(3)])
    under_fill = np.column_stack([np.interp(level, FLUSHES, lamp.skin_fill[:, c]) for c in range(3)])
    dark_lip = (1 - 0.22 * lip)[:, None]
    under_key, under_fill = under_key * dark_lip, under_fill * dark_lip
    for number, albedo in ((HAIR, sitter.hair), (CLOTH, sitter.cloth)):
        at = what == number
        under_key[at], under_fill[at] = np.array(albedo) * lamp.key, np.array(albedo) * lamp.fill
    _paint_eyes(sitter, p, what, under_key, under_fill, lamp)
    _paint_brows(sitter, p, what, under_key, under_fill, lamp)

    half = to_key + (np.float32([0, 0, 1]) @ turn)
    half = half / np.linalg.norm(half)
    gloss = np.clip(normal @ half, 0, 1)
    shine = 0.055 * gloss**28 + np.where(lip > 0.5, 0.05 * gloss**60, 0) + np.where(what == EYE, 0.9 * gloss**300, 0)
    shine = np.where(what == CLOTH, 0, np.where(what == HAIR, 0.03 * gloss**14, shine))
    colour_ = under_key * facing * light.key + under_fill * around * light.fill + under_key * bounce
    colour_ += (shine * clear)[:, None] * lamp.key * light.key
    picture[hit] = colour_
    key_share = np.full(width * height, -1.0)
    key_share[hit] = np.where((what == SKIN), facing[:, 1], -1.0)
    return picture.reshape(height, width, 3), key_share.reshape(height, width)


def _softened(clear: np.ndarray, hit: np.ndarray, shape: tuple[int, int]) -> np.ndarray:
    """The shadow's edge without the rings that a marched ray leaves."""
    whole = np.ones(hit.shape, np.float32)
    whole[hit] = clear
    grey = Image.fromarray((whole * 255).astype(np.uint8).reshape(shape))
    soft = grey.filter(ImageFilter.BoxBlur(3)).filter(ImageFilter.BoxBlur(3))
    return np.asarray(soft).ravel()[hit] / np.float32(255)


def _paint_eyes(sitter: Sitter, p: Points, what: np.ndarray, key: np.ndarray, fill: np.ndarray, lamp: Lamps) -> None:
    at = what == EYE
    q = p[at]
    centre = np.column_stack([np.sign(q[:, 0]) * 0.28 * sitter.build.width, np.full(len(q), 0.10)])
    off = np.linalg.norm(q[:, :2] - centre, axis=1)
    albedo = np.where(
        off[:, None] < 0.075, np.array(sitter.iris) * (0.6 + 6 * np.clip(0.07 - off, 0, 1))[:, None], [0.55, 0.50, 0.47]
    )
    albedo = np.where(off[:, None] < 0.030, 0.008, albedo) * np.clip(0.45 + 5 * (0.16 - (q[:, 1:2] - 0.0)), 0.35, 1)
    key[at], fill[at] = albedo * lamp.key, albedo * lamp.fill


def _paint_brows(sitter: Sitter, p: Points, what: np.ndarray, key: np.ndarray, fill: np.ndarray, lamp: Lamps) -> None:
    x, y = np.abs(p[:, 0]), p[:, 1]
    line = 0.325 + 0.09 * np.sin(np.clip((x - 0.10) / 0.40, 0, 1) * np.pi * 0.75)
    brow = np.exp(-(((y - line) / 0.030) ** 2)) * np.clip((x - 0.09) / 0.03, 0, 1) * np.clip((0.46 - x) / 0.08, 0, 1)
    lash = np.exp(-(((y - (0.155 - 1.5 * (x - 0.28) ** 2)) / 0.010) ** 2)) * (np.abs(x - 0.28) < 0.135)
    strands = 0.92 + 0.08 * np.sin(220 * x + 130 * y)
    cover = np.where((what == SKIN) & (p[:, 2] > 0.4), np.clip(0.8 * brow * strands + 0.7 * lash, 0, 0.9), 0)[:, None]
    hair = np.array(sitter.hair) * 0.8
    key[:] = key * (1 - cover) + cover * hair * lamp.key
    fill[:] = fill * (1 - cover) + cover * hair * lamp.fill


def _role(lab: np.ndarray, share: float, lightest: float) -> str:
    if share < 0.10:
        return "deep accent" if lab[0] < 0.30 * lightest else "shadow"
    if share < 0.38:
        return "half-shadow"
    if share < 0.72:
        return "middle"
    return "highlight" if lab[0] > 0.94 * lightest else "light"


def true_spots(sitter: Sitter, linear: np.ndarray, share: np.ndarray) -> list[dict[str, object]]:
    """Position, role and exact CIELAB of every place, read from the picture before it is encoded."""
    height, width = linear.shape[:2]
    radius = RADIUS * max(height, width)
    lit_side = -np.sign(sitter.light.key_direction[0])
    rows = []
    for name, (place, x, y) in PLACES.items():
        depth = np.linspace(1.3, 0, 600, dtype=np.float32)
        ray = np.column_stack([np.full(600, x * lit_side), np.full(600, y), depth]).astype(np.float32)
        surface = ray[int(np.argmax(skin_solid(ray, sitter.build) < 0))]
        at = surface @ _turn(sitter.turn_deg).T
        px = at[0] * height / HEAD_UNITS_HIGH + width / 2
        py = (CENTRE_Y - at[1]) * height / HEAD_UNITS_HIGH + height / 2
        yy, xx = np.mgrid[0:height, 0:width]
        disc = (xx + 0.5 - px) ** 2 + (yy + 0.5 - py) ** 2 <= radius**2
        lab = xyz_to_lab(linear[disc].mean(axis=0) @ SRGB.to_xyz)
        rows.append(
            {"name": name, "place": place, "x": px / width, "y": py / height, "lab": lab, "share": share[disc].mean()}
        )
    lightest = max(float(row["lab"][0]) for row in rows)  # type: ignore[index]  # lab is an array
    return [
        {
            "name": row["name"], "figure": sitter.name, "place": row["place"],
            "role": _role(row["lab"], float(row["share"]), lightest),  # type: ignore[arg-type]  # as above
            "x": round(float(row["x"]), 4), "y": round(float(row["y"]), 4), "radius": RADIUS,  # type: ignore[arg-type]
            "true_lab": [round(float(v), 2) for v in row["lab"]],  # type: ignore[attr-defined]
        }
        for row in rows
    ]  # fmt: skip


def draw(name: str) -> None:
    """Render one sitter into tests/heads/large."""
    sitter = CREW[name]
    big, share = shade(sitter, int(WIDTH * OVERSAMPLED), int(HEIGHT * OVERSAMPLED))
    linear = np.stack([_shrunk(np.clip(big[..., c], 0, 1)) for c in range(3)], axis=-1)
    spots = true_spots(sitter, linear, _shrunk(share))
    pixels = np.rint(srgb_encode(linear) * 255).astype(np.uint8)
    Image.fromarray(pixels).save(OUT / f"{name}.jpg", quality=95, subsampling=0)
    (OUT / f"{name}.json").write_text(json.dumps({"spots": spots}, indent=1) + "\n")


def _shrunk(channel: np.ndarray) -> np.ndarray:
    return np.asarray(Image.fromarray(channel.astype(np.float32)).resize((WIDTH, HEIGHT), Image.Resampling.BOX))


def pair(name: str, left: str, right: str) -> None:
    """Two sitters side by side in one picture."""
    canvas = Image.new("RGB", (2 * WIDTH, HEIGHT))
    spots = []
    for number, sitter in enumerate((left, right)):
        canvas.paste(Image.open(OUT / f"{sitter}.jpg"), (number * WIDTH, 0))
        for spot in json.loads((OUT / f"{sitter}.json").read_text())["spots"]:
            radius = spot["radius"] * HEIGHT / (2 * WIDTH)
            spots.append(spot | {"x": round((spot["x"] + number) / 2, 4), "radius": round(radius, 5)})
    canvas.save(OUT / f"{name}.jpg", quality=95, subsampling=0)
    (OUT / f"{name}.json").write_text(json.dumps({"spots": spots}, indent=1) + "\n")


if __name__ == "__main__":
    assert {sitter.light for sitter in CREW.values()} <= {DECK_LAMP, GREY_MORNING}
    for chosen in sys.argv[1:] or CREW:
        draw(chosen)
    for title, (one, other) in PAIRS.items():
        if all((OUT / f"{who}.jpg").exists() for who in (one, other)):
            pair(title, one, other)
