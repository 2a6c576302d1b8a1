"""Sheets of swatches that are known: for photographs of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pypdfium2
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.spaces import SRGB, lab_to_xyz, srgb_decode, xyz_to_lab
from core.photo.squared import Box
from core.photo.swatch_sheet import SwatchSheet
from core.photo.swatches import WHITE_PAPER, grid

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
        true.append(_lay(xyz, (down, across), lab, rng))
    return xyz, boxes, np.array(true)


def filled_page(
    pdf: bytes,
    page: SwatchSheet,
    number: int,
    labs: Sequence[Sequence[float]],
    seed: int = 0,
    paper: Sequence[float] = WHITE_PAPER,
    shows: float = 0.03,
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """A page as it is printed, with swatches on its first places: XYZ (h, w, 3), and their CIELAB (n, 3). shows: how
    much paper does."""
    printed = pypdfium2.PdfDocument(pdf)[number].render(scale=100 / 72).to_pil().convert("RGB")
    xyz = srgb_decode(np.asarray(printed) / 255) @ SRGB.to_xyz
    xyz *= lab_to_xyz(np.array(paper)) / xyz.max(axis=(0, 1))
    per_mm, rng = xyz.shape[1] / page.width, np.random.default_rng(seed)
    true = []
    for lab, place in zip(labs, page.places, strict=False):
        left, right = (int((part * page.printed.wide + page.margin) * per_mm) for part in (place.left, place.right))
        top, bottom = (int((part * page.printed.high + page.margin) * per_mm) for part in (place.top, place.bottom))
        true.append(_lay(xyz, (slice(top, bottom), slice(left, right)), lab, rng, shows))
    return xyz, np.array(true)


def _lay(
    xyz: NDArray[np.float64],
    where: tuple[slice, slice],
    lab: Sequence[float],
    rng: np.random.Generator,
    shows: float = 0.03,
) -> NDArray[np.float64]:
    """A swatch whose tooth shows, and its CIELAB."""
    tooth = ndimage.gaussian_filter(rng.normal(size=xyz[where].shape[:2]), 1.0)
    cover = np.clip(1 - shows + shows * tooth / tooth.std(), 0, 1)[..., None]
    xyz[where] = lab_to_xyz(np.array(lab)) * cover + xyz[where] * (1 - cover)
    return np.asarray(xyz_to_lab(xyz[where].mean(axis=(0, 1))))
