"""The hand's fade at the edges of an area: wide where the picture is even, held where it has edges of its own."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.spaces import Floats

_EDGE_LAB2 = 6.0
"""Variance of CIELAB from which an edge of the picture holds the fade."""
_LEAST = 1e-6


class Guide:
    """A guided filter by a picture's colours, within a mask.

    What is filtered is locally an affine function of the picture, fitted by least squares over a Gaussian window.
    Source: He, Sun, Tang 2013, "Guided Image Filtering", IEEE Trans. Pattern Analysis and Machine Intelligence 35(6).
    """

    def __init__(self, lab: Floats, mask: NDArray[np.bool_], radius_px: float) -> None:
        """lab (h, w, 3): CIELAB; mask (h, w); radius_px: about twice the window's standard deviation."""
        self._mask, self._sigma = mask, radius_px / 2
        self._lab = np.where(mask, np.moveaxis(np.asarray(lab, dtype=np.float32), 2, 0), 0)
        self._weight = np.maximum(self._blurred(mask.astype(np.float32)), _LEAST)
        self._mean = self._even(self._lab)
        spread = np.empty((*mask.shape, 3, 3), dtype=np.float32)
        for i in range(3):
            for j in range(i, 3):
                both = self._blurred(self._lab[i] * self._lab[j]) / self._weight - self._mean[i] * self._mean[j]
                spread[..., i, j] = spread[..., j, i] = both
        self._inverse = np.linalg.inv(spread + _EDGE_LAB2 * np.eye(3, dtype=np.float32))

    def filtered(self, fields: Floats) -> NDArray[np.float32]:
        """Fields (k, h, w), that are 0 outside the mask, filtered; 0 outside it."""
        out = np.empty(fields.shape, dtype=np.float32)
        for number, field in enumerate(np.asarray(fields, dtype=np.float32)):
            if not field.any():
                out[number] = 0
                continue
            mean = self._blurred(field) / self._weight
            moved = np.stack([self._blurred(part * field) / self._weight for part in self._lab]) - self._mean * mean
            slope = np.einsum("hwij,jhw->ihw", self._inverse, moved)
            offset = mean - (slope * self._mean).sum(axis=0)
            slope, offset = self._even(np.where(self._mask, slope, 0)), self._even(np.where(self._mask, offset, 0))
            out[number] = np.where(self._mask, (slope * self._lab).sum(axis=0) + offset, 0)
        return out

    def _blurred(self, layer: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.asarray(ndimage.gaussian_filter(layer, self._sigma))

    def _even(self, layers: NDArray[np.float32]) -> NDArray[np.float32]:
        """(…, h, w), each the mean of the mask around every pixel."""
        if layers.ndim == 2:
            return np.asarray(self._blurred(layers) / self._weight, dtype=np.float32)
        return np.stack([self._blurred(layer) / self._weight for layer in layers])
