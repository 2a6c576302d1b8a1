"""The light roles and the places of face and figure, as words. The same in files, code and on screen."""

from __future__ import annotations

ROLES = ("highlight", "light", "middle", "half-shadow", "shadow", "deep accent", "reflected light")
"""From the lightest to the darkest, reflected light last."""

SHADOW_ROLES = ("half-shadow", "shadow", "deep accent", "reflected light")

PLACES = (
    "forehead", "temple", "brow", "eye socket", "upper lid", "eye white", "iris", "tear duct", "nose bridge",
    "nose tip", "nose side", "nostril", "cheek", "cheekbone", "ear", "upper lip", "lower lip", "lip corner",
    "mouth surround", "teeth", "jaw", "chin", "under the chin", "neck", "throat", "hairline", "shoulder", "chest",
    "elbow", "hand", "knuckles", "finger tip", "knee", "other",
)  # fmt: skip
