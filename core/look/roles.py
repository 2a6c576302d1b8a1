"""The light roles and the places of face and figure, as words. The same in files, code and on screen."""

from __future__ import annotations

from typing import Literal, get_args

Role = Literal["highlight", "light", "middle", "half-shadow", "shadow", "deep accent", "reflected light"]
ROLES: tuple[Role, ...] = get_args(Role)
"""From the lightest to the darkest, reflected light last."""

SHADOW_ROLES: tuple[Role, ...] = ("half-shadow", "shadow", "deep accent", "reflected light")

Place = Literal[
    "forehead", "hairline", "temple", "brow", "brow hair", "eye socket", "crease", "upper lid", "lash line",
    "eye white", "iris", "pupil", "catchlight", "tear duct", "under-eye", "nose bridge", "nose tip", "nose side",
    "nostril", "cheek", "cheekbone", "ear", "philtrum", "upper lip", "lower lip", "lip corner", "mouth surround",
    "teeth", "jaw", "chin", "under the chin", "neck", "throat", "collar bone", "shoulder", "chest", "arm", "inner arm",
    "elbow", "wrist", "hand", "palm", "knuckles", "finger", "finger tip", "nail", "knee", "wrinkle", "freckle",
    "hair light", "hair shade", "other",
]  # fmt: skip
PLACES: tuple[Place, ...] = get_args(Place)
