"""Derive core/look/data/display-p3.icc: the wide profile that pictures of other wide gamuts are shown in.

A matrix profile (ICC.1:2022, version 4.4) with the Display P3 primaries, adapted to D50 by the Bradford
transform, and the sRGB curve as a parametric curve of type 3.
Run: python -m tools.derive_profile
"""

from __future__ import annotations

from pathlib import Path

from core.colour.spaces import DISPLAY_P3
from tools.icc import SRGB_CURVE, rgb_profile

TARGET = Path(__file__).parents[1] / "core/look/data/display-p3.icc"


def build() -> bytes:
    """The profile's bytes."""
    return rgb_profile("Display P3", DISPLAY_P3.to_xyz, SRGB_CURVE)


if __name__ == "__main__":
    TARGET.parent.mkdir(exist_ok=True)
    TARGET.write_bytes(build())
