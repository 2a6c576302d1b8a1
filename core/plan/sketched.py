"""What a plan would make of a face, told from its places alone: for plans of which there are no maps."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from core.colour.spaces import lab_to_xyz, xyz_to_lab, xyz_to_pixels
from core.errors import InputError
from core.look.study import Study
from core.look.views import Pixels, faded, light_of

_ALIKE, _NEAR = 3.0, 0.4
"""How different in CIELAB, and how far as a part of the skin's extent, a place is that counts 0.6 of one that is just
there (a Gaussian's standard deviation): of those tried, what comes nearest to the picture by maps."""
_AROUND = 0.04
"""How much of its extent is shown around the skin."""
_AT_ONCE = 8192


def sketched(
    study: Study, figure: int, where: NDArray[np.float64], wanted: NDArray[np.float64], gives: NDArray[np.float64],
    longest: int,
) -> Pixels:  # fmt: skip
    """sRGB pixels of the figure's skin and what is around it, at most so many high and wide: every pixel is as far off
    the reference as places are that are like it and near it, what is nobody's skin is faded.

    where: (n, 2), x and y of the places in parts of the picture; wanted, gives: (n, 3) CIELAB there. Raises InputError
    (`no_skin`, `no_spots`).
    """
    if len(where) == 0:
        raise InputError("no_spots", "No spot of this figure has a colour.", "Set one on its skin first.", "gives")
    mask = study.coloured == figure + 1
    if not mask.any():
        raise InputError("no_skin", "No skin of this figure is found.", "Paint its skin in.", "figure")
    h, w = mask.shape
    lab = xyz_to_lab(light_of(study.small))
    rows, columns = np.nonzero(mask)
    extent = float(max(int(np.ptp(rows)), int(np.ptp(columns)), 1))
    at = np.stack([columns, rows], axis=1) / extent
    spots = where * (w, h) / extent
    off = gives - wanted
    drawn = lab[rows, columns].astype(float)
    for some in (slice(i, i + _AT_ONCE) for i in range(0, len(rows), _AT_ONCE)):
        unlike = np.square(drawn[some, None] - wanted).sum(axis=2) / _ALIKE**2
        far = np.square(at[some, None] - spots).sum(axis=2) / _NEAR**2
        apart = (unlike + far) / 2
        # The nearest counts 1, so that something always counts.
        weight = np.exp(apart.min(axis=1, keepdims=True) - apart)
        drawn[some] += weight @ off / weight.sum(axis=1, keepdims=True)
    pixels = faded(study.small).copy()
    pixels[mask] = xyz_to_pixels(lab_to_xyz(drawn))
    around = int(_AROUND * extent)
    box = pixels[
        max(0, rows.min() - around) : rows.max() + around + 1,
        max(0, columns.min() - around) : columns.max() + around + 1,
    ]
    picture = Image.fromarray(box)
    picture.thumbnail((longest, longest))
    return np.asarray(picture)
