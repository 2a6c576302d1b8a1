"""The drawing foreseen: the reference's skin in nothing but the recipes' colours."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from core.colour.spaces import Floats, lab_to_xyz, xyz_to_lab
from core.look.families import Mask
from core.look.views import Pixels, Small, as_it_is, faded, recoloured

_VALUE_L, _COLOUR_C = 8.0, 2.0
"""How far a recipe counts from its own target: in lightness, and in a and b (assumption)."""
_GRAIN_L = 5.0
_PARTS = 4096


@dataclass(frozen=True, slots=True, eq=False)
class Palette:
    """What one figure's recipes turn colours into: targets (m, 3) and results (m, 3), CIELAB."""

    targets: Floats
    results: Floats


def foreseen(colours: Floats, palette: Palette, keep_order: bool = True) -> Floats:
    """CIELAB (n, 3) of the recipe mixtures that colours (n, 3) call for.

    First the value: between the recipes' targets in order of lightness, lightness is interpolated; beyond the
    lightest and the darkest it stays theirs. Then the hue: a and b are the mean of the recipes' results, each
    weighing by how near its target is in value and in colour. keep_order: what is lighter stays lighter.
    """
    wanted = np.asarray(colours, dtype=float)
    lightness = _values(wanted[:, 0], palette, keep_order)
    ab = np.empty((len(wanted), 2))
    for start in range(0, len(wanted), _PARTS):
        part = wanted[start : start + _PARTS]
        off = ((part[:, None, :1] - palette.targets[:, :1]) / _VALUE_L) ** 2
        off = off[..., 0] + (((part[:, None, 1:] - palette.targets[:, 1:]) / _COLOUR_C) ** 2).sum(axis=-1)
        weights = np.exp(-0.5 * (off - off.min(axis=1, keepdims=True)))
        ab[start : start + _PARTS] = weights @ palette.results[:, 1:] / weights.sum(axis=1, keepdims=True)
    return np.column_stack([lightness, ab])


def _values(lightness: Floats, palette: Palette, keep_order: bool) -> Floats:
    """Lightness after lightness before: recipes for nearly the same value count as one knot."""
    order = np.argsort(palette.targets[:, 0], kind="stable")
    before, after = palette.targets[order, 0], palette.results[order, 0]
    knots = np.unique(np.round(before))
    kernel = np.exp(-0.5 * ((knots[:, None] - before) / 1.5) ** 2)
    smooth = kernel @ after / kernel.sum(axis=1)
    if keep_order:
        smooth = np.maximum.accumulate(smooth)
    return np.asarray(np.interp(lightness, knots, smooth))


def forecast(
    small: Small,
    owners: NDArray[np.uint8],
    palettes: Sequence[Palette | None],
    muted: bool = True,
    tooth: NDArray[np.uint8] | None = None,
    roughness: float = 0.0,
    keep_order: bool = True,
) -> Pixels:
    """sRGB pixels (h, w, 3). owners (h, w): 0 for no skin, else 1 + the figure's number, as in Study.

    palettes: by figure; None leaves that skin as it is. muted: everything else faded, else as it is.
    tooth: heights of the paper (h, w, 0–255), laid over the skin with a depth of `roughness`, 0–1.
    """
    base = faded(small) if muted else as_it_is(small)
    out = Image.fromarray(base)
    for number, palette in enumerate(palettes, start=1):
        mine: Mask = owners == number
        if not mine.any():
            continue
        if palette is None or not len(palette.targets):
            seen = as_it_is(small)
        else:
            seen = recoloured(small, _through(palette, keep_order))
        if tooth is not None and roughness > 0:
            seen = _grained(seen, tooth, roughness)
        out.paste(Image.fromarray(seen), mask=Image.fromarray(mine.astype(np.uint8) * 255))
    return np.asarray(out)


def _through(palette: Palette, keep_order: bool) -> Callable[[Floats], Floats]:
    return lambda xyz: lab_to_xyz(foreseen(xyz_to_lab(xyz), palette, keep_order))


def _grained(seen: Pixels, tooth: NDArray[np.uint8], roughness: float) -> Pixels:
    """Lighter in the valleys, darker on the peaks, by the same in the mean."""
    h, w = seen.shape[:2]
    tile = np.tile(tooth, (-(-h // tooth.shape[0]), -(-w // tooth.shape[1])))[:h, :w].astype(np.float32)
    lift = (0.5 - tile / 255) * (2.55 * 2 * _GRAIN_L * roughness)
    return np.clip(seen + np.rint(lift)[..., None], 0, 255).astype(np.uint8)
