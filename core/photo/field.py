"""The lamp told from the paper: what a bare sheet would look like in a photograph, everywhere."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from core.errors import InputError
from core.photo.squared import Flat

_ORDER, _ROUNDS = 3, 6
_BRIGHT, _BLOCKS = 0.72, 8
"""What part of the brightest around it paper has at least, to begin with; in how many blocks across that is told."""
_COLOURED = 0.12
"""How far the shares of red and blue of paper may lie from what is usual in a photograph."""
_FAR = 2.5
"""How many times the usual departure from the field is no paper any more."""
_LEAST = 0.06
"""How much of the sheet must be paper."""
_STEP = 5
"""Of how many pixels one is looked at, along and across."""


def paper_field(flat: Flat, covered: NDArray[np.bool_] | None = None) -> NDArray[np.float32]:
    """Linear sRGB (h, w, 3) that bare paper would have: a polynomial of third order through the logarithms of what is
    paper, refitted without what departs from it. covered (h, w): where no paper can be.

    Raises InputError (`no_paper`) where too little of it is seen.
    """
    h, w = flat.burnt.shape
    rgb = np.maximum(flat.rgb[::_STEP, ::_STEP].astype(float), 1e-4)
    paper = ~flat.burnt[::_STEP, ::_STEP]
    if covered is not None:
        paper &= ~covered[::_STEP, ::_STEP]
    bright = rgb.sum(axis=2)
    paper &= bright > _BRIGHT * _brightest(np.where(paper, bright, 0.0))
    if paper.mean() < _LEAST:
        raise _no_paper()
    logs = np.log(rgb)
    hue = logs[..., [0, 2]] - logs[..., [1]]
    paper &= (np.abs(hue - np.median(hue[paper], axis=0)) < _COLOURED * 2).all(axis=2)
    terms = _terms(*_grid(h, w, _STEP))
    for _ in range(_ROUNDS):
        if paper.mean() < _LEAST:
            raise _no_paper()
        fit, *_ = np.linalg.lstsq(terms[paper], logs[paper], rcond=None)
        off = logs - terms @ fit
        usual = 1.4826 * np.median(np.abs(off[paper]), axis=0) + 0.004
        paper = (np.abs(off) < _FAR * usual).all(axis=2) & ~flat.burnt[::_STEP, ::_STEP]
        if covered is not None:
            paper &= ~covered[::_STEP, ::_STEP]
    return np.exp(_everywhere(fit, h, w)).astype(np.float32)


def _brightest(bright: NDArray[np.float64]) -> NDArray[np.float64]:
    """What is bright around every pixel: the 90th percentile of its block and those beside it."""
    h, w = bright.shape
    rows, columns = np.arange(h) * _BLOCKS // h, np.arange(w) * _BLOCKS // w
    found = np.zeros((_BLOCKS, _BLOCKS))
    for row in range(_BLOCKS):
        for column in range(_BLOCKS):
            near = bright[np.abs(rows - row) <= 1][:, np.abs(columns - column) <= 1]
            found[row, column] = np.percentile(near, 90) if near.size else 0.0
    return np.asarray(found[rows][:, columns])


def _grid(h: int, w: int, step: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    y, x = np.mgrid[0:h:step, 0:w:step]
    return 2 * x / w - 1, 2 * y / h - 1


_POWERS = [(i, j) for i in range(_ORDER + 1) for j in range(_ORDER + 1 - i)]
"""Of x and of y, in every term."""


def _terms(x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.stack([x**i * y**j for i, j in _POWERS], axis=-1)


def _everywhere(fit: NDArray[np.float64], h: int, w: int) -> NDArray[np.float64]:
    """The polynomial (h, w, 3) at every pixel: a product of powers of y and of x."""
    factors = np.zeros((_ORDER + 1, _ORDER + 1, 3))
    for (i, j), row in zip(_POWERS, fit, strict=True):
        factors[j, i] = row
    across = np.vander(2 * np.arange(w) / w - 1, _ORDER + 1, increasing=True)
    down = np.vander(2 * np.arange(h) / h - 1, _ORDER + 1, increasing=True)
    return np.asarray(np.einsum("hj,jic,wi->hwc", down, factors, across, optimize=True))


def _no_paper() -> InputError:
    return InputError(
        "no_paper",
        "Hardly any bare paper is seen in this photograph.",
        "Leave paper free around and between the swatches, and set the corners on it.",
        "photo",
    )
