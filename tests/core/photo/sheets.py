"""Sheets of swatches that are known: for photographs of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.spaces import lab_to_xyz, xyz_to_lab
from core.photo.swatches import WHITE_PAPER, Box, grid

FRAME = Box(0.04, 0.05, 0.96, 0.95)


def sheet(
    labs: Sequence[Sequence[float]], rows: int, columns: int, seed: int = 0
) -> tuple[NDArray[np.float64], list[Box], NDArray[np.float64]]:
    """XYZ (h, w, 3) of white paper with swatches whose tooth shows, where they lie, and their CIELAB (n, 3)."""
    rng = np.random.default_rng(seed)
    h, w = 700, 980
    xyz = np.tile(lab_to_xyz(np.array(WHITE_PAPER)), (h, w, 1))
    boxes = grid(rows, columns, FRAME, 0.25)[: len(labs)]
    true = []
    for lab, box in zip(labs, boxes, strict=True):
        down, across = slice(int(box.top * h), int(box.bottom * h)), slice(int(box.left * w), int(box.right * w))
        tooth = ndimage.gaussian_filter(rng.normal(size=xyz[down, across].shape[:2]), 1.0)
        cover = np.clip(0.97 + 0.03 * tooth / tooth.std(), 0, 1)[..., None]
        xyz[down, across] = lab_to_xyz(np.array(lab)) * cover + xyz[down, across] * (1 - cover)
        true.append(xyz_to_lab(xyz[down, across].mean(axis=(0, 1))))
    return xyz, boxes, np.array(true)
