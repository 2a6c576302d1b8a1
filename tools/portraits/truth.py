"""What is true of a picture, from the run that drew it: whose skin, which place, which light, what colour."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import binary_erosion

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, xyz_to_lab
from core.skin.reflectance import layers
from tools.portraits.figure import Figure
from tools.portraits.light import lamp
from tools.portraits.maps import FAMILIES, PER_FIGURE
from tools.portraits.people import Plate
from tools.portraits.render import Picture, Studio
from tools.portraits.skin import PLACES

Floats = NDArray[np.float64]
Map = NDArray[np.uint8]

_FEWEST = 60
_CERTAIN = 0.5
_DAYLIGHT_KELVIN = 6504


@dataclass
class Truth:
    """places and families (h, w): see maps; lab (h, w, 3): of every pixel, before the
    picture is rounded and compressed; people: what is said of each figure by name."""

    places: Map
    families: Map
    lab: Floats
    people: dict[str, Any]


def truth(plate: Plate, figures: list[Figure], studio: Studio, picture: Picture, shown: Floats) -> Truth:
    """All of it. shown (h, w, 3): the picture in linear sRGB as it was encoded."""
    places, facing = _places(plate, figures, studio, picture)
    families = _families(plate, picture, facing, places > 0)
    lab = xyz_to_lab(shown @ SRGB.to_xyz)
    daylight = _in_daylight(studio)
    people = {}
    for number, sitter in enumerate(plate.sitters):
        own = {name: places == 1 + PER_FIGURE * number + i for i, name in enumerate(PLACES)}
        face = own["forehead"] | own["cheek"]
        gloss = layers().surface
        seen = (gloss + (1 - gloss) * daylight[face].mean(axis=0)) @ SRGB.to_xyz
        drawn, wanted = xyz_to_lab(seen), np.array(sitter.skin.lab)
        people[sitter.title] = {
            "complexion": {"wanted": _said(wanted), "drawn": _said(drawn),
                           "apart": round(float(ciede2000(wanted, drawn)), 2)},
            "places": {name: found for name, mask in own.items() if (found := _by_family(mask, families, shown))},
        }  # fmt: skip
    return Truth(places, families, lab, people)


def _said(lab: Floats) -> list[float]:
    return [round(float(v), 2) for v in lab]


def _by_family(mask: NDArray[np.bool_], families: Map, linear: Floats) -> dict[str, Any]:
    found = {}
    for number, family in enumerate(FAMILIES, start=1):
        pixels = linear[mask & (families == number)]
        if len(pixels) >= _FEWEST:
            found[family] = {"lab": _said(xyz_to_lab(pixels.mean(axis=0) @ SRGB.to_xyz)), "pixels": len(pixels)}
    return found


def _places(plate: Plate, figures: list[Figure], studio: Studio, picture: Picture) -> tuple[Map, Floats]:
    """The map of places, and how squarely each pixel of skin faces the key (−1 to 1)."""
    places = np.zeros(picture.key.shape, dtype=np.uint8)
    facing = np.zeros(picture.key.shape)
    skins = [i for i, surface in enumerate(studio.surfaces) if surface.skin]
    # Stubble belongs to the skin it grows on.
    longer = [strands for strands in studio.strands if strands.name != "stubble"]
    who, prim, _ = Studio(studio.surfaces, longer, studio.light, studio.camera).seen(lamp(_DAYLIGHT_KELVIN))
    for number, (index, figure) in enumerate(zip(skins, figures, strict=True)):
        # A pixel at an edge is partly something else.
        mine = binary_erosion(who == index, iterations=2) & (picture.alpha > 0.99)
        surface = studio.surfaces[index]
        corners = surface.triangles[prim[mine]]
        weights = figure.weights[corners].mean(axis=1)
        most = weights.argmax(axis=1)
        named = np.where(weights.max(axis=1) >= _CERTAIN, most, PER_FIGURE - 2)
        places[mine] = 1 + PER_FIGURE * number + named
        facing[mine] = surface.normals[corners].mean(axis=1) @ plate.light.direction
    return places, facing


def _families(plate: Plate, picture: Picture, facing: Floats, skin: NDArray[np.bool_]) -> Map:
    """Which part of the light each pixel of skin belongs to."""
    luminance = SRGB.to_xyz[:, 1]
    gloss, all_ = picture.gloss @ luminance, picture.image @ luminance
    shade = picture.key < 0.12
    open_sky = picture.sky > np.percentile(picture.sky[skin & shade], 55) if (skin & shade).any() else shade
    families = np.select(
        [
            (gloss > 0.30 * (all_ - gloss)) & (gloss > 0.03 * plate.light.exposure),
            picture.key >= 0.55,
            ~shade,
            (facing < -0.2) & open_sky,
            facing >= 0.10,
        ],
        [1, 2, 3, 6, 5],
        default=4,
    )
    return np.where(skin, families, 0).astype(np.uint8)


def _in_daylight(studio: Studio) -> Floats:
    """Body colours (h, w, 3) in linear sRGB that the renderer was given, in daylight, to an eye settled on it."""
    plain = replace(studio.light, settled=0.0)
    _, _, colours = Studio(studio.surfaces, [], plain, studio.camera).seen(lamp(_DAYLIGHT_KELVIN))
    return colours
