"""Derive core/look/data/display-p3.icc: the wide profile that pictures of other wide gamuts are converted to.

A matrix profile (ICC.1:2022, version 4.4) with the Display P3 primaries, adapted to D50 by the Bradford
transform, and the sRGB curve as a parametric curve of type 3.
Run: python -m tools.derive_profile
"""

from __future__ import annotations

import struct
from pathlib import Path

import colour
import numpy as np

from core.colour.spaces import D65_WHITE, DISPLAY_P3

TARGET = Path(__file__).parents[1] / "core/look/data/display-p3.icc"
D50 = np.array([0.9642, 1.0, 0.8249])


def _fixed(*numbers: float) -> bytes:
    return b"".join(struct.pack(">i", round(n * 65536)) for n in numbers)


def _text(text: str) -> bytes:
    body = text.encode("utf-16-be")
    return b"mluc" + bytes(4) + struct.pack(">II2s2sII", 1, 12, b"en", b"US", len(body), 28) + body


def build() -> bytes:
    """The profile's bytes."""
    adapt = colour.adaptation.matrix_chromatic_adaptation_VonKries(D65_WHITE, D50, transform="Bradford")
    colorants = DISPLAY_P3.to_xyz @ adapt.T
    curve = b"para" + bytes(4) + struct.pack(">HH", 3, 0) + _fixed(2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045)
    tags = {
        b"desc": _text("Display P3"),
        b"cprt": _text("No rights reserved"),
        b"wtpt": b"XYZ " + bytes(4) + _fixed(*D50),
    }
    tags |= {
        name: b"XYZ " + bytes(4) + _fixed(*row)
        for name, row in zip((b"rXYZ", b"gXYZ", b"bXYZ"), colorants, strict=True)
    }
    tags |= dict.fromkeys((b"rTRC", b"gTRC", b"bTRC"), curve)
    tags[b"chad"] = b"sf32" + bytes(4) + _fixed(*adapt.flatten())

    table, body, start = b"", b"", 128 + 4 + 12 * len(tags)
    for name, data in tags.items():
        table += struct.pack(">4sII", name, start + len(body), len(data))
        body += data + bytes(-len(data) % 4)
    size = start + len(body)
    header = struct.pack(">I4sI4s4s4s", size, bytes(4), 0x04400000, b"mntr", b"RGB ", b"XYZ ")
    header += struct.pack(">6H", 2026, 1, 1, 0, 0, 0) + b"acsp" + bytes(28) + _fixed(*D50) + bytes(48)
    return header + struct.pack(">I", len(tags)) + table + body


if __name__ == "__main__":
    TARGET.parent.mkdir(exist_ok=True)
    TARGET.write_bytes(build())
