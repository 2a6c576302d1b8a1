"""Derive core/look/data/display-p3.icc, the wide profile that pictures of other wide gamuts are shown in, and srgb.icc
beside it, which pictures that leave Caltin carry.

Matrix profiles (ICC.1:2022, version 4.4) with the primaries of Display P3 and sRGB, adapted to D50 by the Bradford
transform, and the sRGB curve as a parametric curve of type 3.
Run: python -m tools.derive_profile
"""

from __future__ import annotations

from pathlib import Path

from core.colour.spaces import DISPLAY_P3, SRGB, RgbSpace
from tools.icc import SRGB_CURVE, rgb_profile

TARGET = Path(__file__).parents[1] / "core/look/data"
PROFILES: dict[str, tuple[str, RgbSpace]] = {"display-p3": ("Display P3", DISPLAY_P3), "srgb": ("sRGB", SRGB)}
"""By the name of the file: what the profile calls itself, and its space."""


def build(file: str) -> bytes:
    """A profile's bytes."""
    name, space = PROFILES[file]
    return rgb_profile(name, space.to_xyz, SRGB_CURVE)


if __name__ == "__main__":
    for file in PROFILES:
        (TARGET / f"{file}.icc").write_bytes(build(file))
