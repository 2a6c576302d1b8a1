"""Writing small ICC profiles (ICC.1:2022): matrix profiles for RGB, a power for grey, tables for CMYK."""

from __future__ import annotations

import struct

import colour
import numpy as np

from core.colour.spaces import D65_WHITE

D50 = np.array([0.9642, 1.0, 0.8249])


def _fixed(*numbers: float) -> bytes:
    return b"".join(struct.pack(">i", round(n * 65536)) for n in numbers)


def _text(text: str) -> bytes:
    body = text.encode("utf-16-be")
    return b"mluc" + bytes(4) + struct.pack(">II2s2sII", 1, 12, b"en", b"US", len(body), 28) + body


def _curve(kind: int, *numbers: float) -> bytes:
    return b"para" + bytes(4) + struct.pack(">HH", kind, 0) + _fixed(*numbers)


SRGB_CURVE = _curve(3, 2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045)


def gamma_curve(gamma: float) -> bytes:
    """A plain power."""
    return _curve(0, gamma)


def rgb_profile(name: str, to_xyz: np.ndarray, curve: bytes) -> bytes:
    """A display profile. to_xyz (3, 3) acts on row vectors of linear light and gives XYZ relative to D65."""
    adapt = colour.adaptation.matrix_chromatic_adaptation_VonKries(D65_WHITE, D50, transform="Bradford")
    tags = {
        b"desc": _text(name),
        b"cprt": _text("No rights reserved"),
        b"wtpt": b"XYZ " + bytes(4) + _fixed(*D50),
    }
    for tag, row in zip((b"rXYZ", b"gXYZ", b"bXYZ"), to_xyz @ adapt.T, strict=True):
        tags[tag] = b"XYZ " + bytes(4) + _fixed(*row)
    tags |= dict.fromkeys((b"rTRC", b"gTRC", b"bTRC"), curve)
    tags[b"chad"] = b"sf32" + bytes(4) + _fixed(*adapt.flatten())
    return _profile(b"mntr", b"RGB ", b"XYZ ", tags)


def grey_profile(name: str, gamma: float) -> bytes:
    """A grey profile with a plain power."""
    tags = {
        b"desc": _text(name),
        b"cprt": _text("No rights reserved"),
        b"wtpt": b"XYZ " + bytes(4) + _fixed(*D50),
        b"kTRC": gamma_curve(gamma),
    }
    return _profile(b"mntr", b"GRAY", b"XYZ ", tags)


def cmyk_profile(name: str, labs: np.ndarray) -> bytes:
    """A printer profile. labs (n, n, n, n, 3): CIELAB under D50 of evenly spaced amounts of C, M, Y, K."""
    grid = labs.shape[0]
    straight = struct.pack(">2H", 0, 65535)
    codes = np.stack([labs[..., 0] * 652.8, *((labs[..., i] + 128) * 256 for i in (1, 2))], axis=-1)
    table = b"mft2" + bytes(4) + struct.pack(">4B", 4, 3, grid, 0) + _fixed(1, 0, 0, 0, 1, 0, 0, 0, 1)
    table += struct.pack(">2H", 2, 2) + 4 * straight
    table += np.clip(np.rint(codes), 0, 65535).astype(">u2").tobytes() + 3 * straight
    tags = {
        b"desc": _text(name),
        b"cprt": _text("No rights reserved"),
        b"wtpt": b"XYZ " + bytes(4) + _fixed(*D50),
        b"A2B0": table,
        b"A2B1": table,
    }
    return _profile(b"prtr", b"CMYK", b"Lab ", tags)


def _profile(kind: bytes, space: bytes, connection: bytes, tags: dict[bytes, bytes]) -> bytes:
    table, body, start = b"", b"", 128 + 4 + 12 * len(tags)
    for name, data in tags.items():
        table += struct.pack(">4sII", name, start + len(body), len(data))
        body += data + bytes(-len(data) % 4)
    header = struct.pack(">I4sI4s4s4s", start + len(body), bytes(4), 0x04400000, kind, space, connection)
    header += struct.pack(">6H", 2026, 1, 1, 0, 0, 0) + b"acsp" + bytes(28) + _fixed(*D50) + bytes(48)
    return header + struct.pack(">I", len(tags)) + table + body
