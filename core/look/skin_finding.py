"""Finding the skin: from a generous idea of skin colours to the skin of these people in this light."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage, sparse
from scipy.sparse.linalg import cg
from skimage.transform import resize

from core.colour.spaces import SRGB, Floats, lab_to_lch, xyz_to_lab
from core.look.faces import Face

WORKING_SIZE = 240
"""Longer side in pixels of the picture that skin is looked for in."""
SMALLEST_SHARE = 0.002
"""Less of the picture than this is not called skin."""

Mask = NDArray[np.bool_]

_BIN = np.array([4.0, 3.0, 3.0])
_LOW = np.array([-2.0, -60.0, -60.0])
_BINS = (27, 46, 46)
_ROUNDS = 4
_FEWEST_SEEDS = 30
_ALIKE = 0.3
_DOUBT = 4.0
_ROUGH = 6.0


def skin_prior(xyz: Floats) -> Floats:
    """How much each colour (…, 3) could be lit or shaded human skin, 0–1, whatever the complexion.

    Generous bounds on CIELAB hue and chroma around what the model of core.skin reaches in warm and
    cool light (derived from it; no published source).
    """
    lightness, chroma, hue = np.moveaxis(lab_to_lch(xyz_to_lab(xyz)), -1, 0)
    hue = (hue + 90.0) % 360.0 - 90.0
    by_hue = _ramp(hue, -15, 15) * _ramp(-hue, -88, -76)
    by_chroma = _ramp(chroma, 4, 8) * _ramp(-chroma, -52, -42)
    by_lightness = _ramp(lightness, 4, 12) * _ramp(-lightness, -99, -95)
    return np.asarray(by_hue * by_chroma * by_lightness)


def _ramp(x: Floats, low: float, high: float) -> Floats:
    return np.asarray(np.clip((x - low) / (high - low), 0, 1))


@dataclass(frozen=True, slots=True, eq=False)
class Skin:
    """owners (h, w): 0 where there is no skin, else 1 + the number of the figure it belongs to.

    sureness (h, w): probability that it is skin, 0–1.
    """

    owners: NDArray[np.uint8]
    sureness: Floats


def find_skin(xyz: Floats, faces: Sequence[Face]) -> Skin:
    """The skin of every face in a picture, XYZ (h, w, 3) in balanced light; by colour alone if there is no face.

    Each face is looked at by itself, from its own middle outwards, since people differ and light does.
    """
    h, w = xyz.shape[:2]
    best, owners = np.full((h, w), 0.5), np.zeros((h, w), np.uint8)
    for number, face in enumerate(faces):
        rows, columns = _around(face, h, w)
        part = xyz[rows, columns]
        here = Face(
            (face.x * w - columns.start) / part.shape[1], (face.y * h - rows.start) / part.shape[0],
            face.width * w / part.shape[1], face.height * h / part.shape[0],
        )  # fmt: skip
        probability = _probability(part, here)
        better = tidy(probability > 0.5) & (probability > best[rows, columns])
        owners[rows, columns][better] = number + 1
        best[rows, columns][better] = probability[better]
    if not faces:
        best = _probability(xyz, None)
        owners = tidy(best > 0.5).astype(np.uint8)
    return Skin(owners, best)


def could_be_skin(xyz: Floats, face: Face) -> bool:
    """Whether the middle of a face in XYZ (h, w, 3) has any colour that skin has in some light."""
    h, w = xyz.shape[:2]
    cx, cy = face.centre
    rows = slice(int((cy - 0.25 * face.height) * h), int((cy + 0.25 * face.height) * h) + 1)
    columns = slice(int((cx - 0.25 * face.width) * w), int((cx + 0.25 * face.width) * w) + 1)
    return float(skin_prior(xyz[rows, columns]).mean()) > _ALIKE


def _around(face: Face, h: int, w: int) -> tuple[slice, slice]:
    cx, cy = face.centre
    left, right = cx - 1.5 * face.width, cx + 1.5 * face.width
    top, bottom = cy - 1.4 * face.height, cy + 2.6 * face.height
    rows = slice(max(0, int(top * h)), min(h, int(bottom * h) + 1))
    return rows, slice(max(0, int(left * w)), min(w, int(right * w) + 1))


def _probability(xyz: Floats, face: Face | None) -> Floats:
    """How probably each pixel of XYZ (h, w, 3) is skin, 0–1.

    Seeds come from the middle of the face, or from the prior if there is none. Colour histograms of
    skin and of everything else, re-estimated from each other, give each pixel a probability, which is
    then smoothed along the picture's edges as a random walker with priors does (Grady 2005). Fine
    texture, as of hair, cloth and wood, speaks against skin.
    """
    scale = WORKING_SIZE / max(xyz.shape[:2])
    size = (max(8, round(xyz.shape[0] * scale)), max(8, round(xyz.shape[1] * scale)), 3)
    whole = np.asarray(xyz.shape[:2])
    xyz = resize(np.asarray(xyz, dtype=float), size, order=1, anti_aliasing=scale < 1)
    lab = xyz_to_lab(xyz)
    seeds = _seeds(lab, xyz, face)
    if seeds.sum() < _FEWEST_SEEDS:
        return np.zeros(whole)
    if face:
        place = _nearness(lab.shape[:2], face)
        prior = np.clip(_like_these(xyz, seeds), 0.02, 0.9)
    else:
        place = np.full(lab.shape[:2], 0.4)
        prior = skin_prior(xyz)
    smooth = _Smoother(lab)
    skin_weight = seeds.astype(float)
    rest_weight = np.where(seeds, 0, np.clip(1 - _DOUBT * place * prior, 0, 1))
    expected = np.clip(place * prior * _smoothness(lab[..., 0]) * 1.6, 0.002, 0.97)
    probability: Floats = np.zeros(lab.shape[:2])
    for _ in range(_ROUNDS):
        probability = smooth(_posterior(lab, skin_weight, rest_weight, expected))
        skin_weight = np.where(probability > 0.6, probability, 0) + 0.5 * seeds
        rest_weight = np.where(probability < 0.4, 1 - probability, 0)
    return np.asarray(resize(probability, whole, order=1))


def _smoothness(lightness: Floats) -> Floats:
    """Near 1 where L* (h, w) has no fine texture, towards 0 where it has much."""
    detail = lightness - ndimage.gaussian_filter(lightness, 1.2)
    texture = np.sqrt(ndimage.gaussian_filter(detail**2, 2.5))
    return np.asarray(1 / (1 + (texture / _ROUGH) ** 3))


def _like_these(xyz: Floats, seeds: Mask) -> Floats:
    """How well each pixel's colour could be that of the seeds, in their light or in a cooler, dimmer one, 0–1.

    In logarithms of the ratios of linear R, G and B a change of light is a shift (Finlayson and Hordley
    2001): shade may move towards blue, and far less towards red or yellow.
    """
    linear = np.clip(xyz @ np.linalg.inv(SRGB.to_xyz), 0.0015, None)
    log = np.log(linear)
    red, yellow, light = log[..., 0] - log[..., 1], log[..., 1] - log[..., 2], log[..., 1]
    middle_red, middle_yellow, middle_light = (float(np.median(c[seeds])) for c in (red, yellow, light))
    shade = np.clip((middle_light - light) / 1.5, 0, 1)
    by_red = (red - middle_red) / np.where(red > middle_red, 0.20 + 0.05 * shade, 0.20 + 0.22 * shade)
    by_yellow = (yellow - middle_yellow) / np.where(yellow > middle_yellow, 0.28 + 0.1 * shade, 0.28 + 0.65 * shade)
    too_light = np.clip(light - middle_light - 1.0, 0, None) / 0.4
    too_dark = np.clip(middle_light - light - 1.9, 0, None) / 0.55
    return np.asarray(np.exp(-0.5 * (by_red**2 + by_yellow**2 + too_light**2 + too_dark**2)))


def tidy(mask: Mask) -> Mask:
    """Without specks and pinholes, and empty if hardly anything is left."""
    size = mask.size
    labels, count = ndimage.label(mask)
    areas = np.bincount(labels.ravel(), minlength=count + 1)
    mask = (areas >= size * SMALLEST_SHARE)[labels] & mask
    holes, count = ndimage.label(~mask)
    areas = np.bincount(holes.ravel(), minlength=count + 1)
    mask = mask | ((areas < size * 0.0006)[holes] & ~mask)
    return np.asarray(mask)


def _seeds(lab: Floats, xyz: Floats, face: Face | None) -> Mask:
    """Pixels that are skin if anything is: the middle colours of the middle of the face."""
    if face is None:
        return skin_prior(xyz) > 0.8
    across, down = _off(lab.shape[:2], face)
    inside = (across / 0.36) ** 2 + (down / 0.42) ** 2 < 1
    if not inside.any():
        return inside
    low, high = np.percentile(lab[inside, 0], [20, 99.5])
    middling = inside & (lab[..., 0] >= low) & (lab[..., 0] <= high)
    return np.asarray(middling & (_like_these(xyz, middling) > _ALIKE))


def _off(shape: tuple[int, int], face: Face) -> tuple[Floats, Floats]:
    """How far each pixel lies from the face's centre, in widths and heights of the face."""
    h, w = shape
    ys, xs = (np.mgrid[0:h, 0:w] + 0.5).astype(float)
    cx, cy = face.centre
    return (xs / w - cx) / face.width, (ys / h - cy) / face.height


def _nearness(shape: tuple[int, int], face: Face) -> Floats:
    """How likely skin is by place alone: high in the face, still possible around and below it."""
    across, down = _off(shape, face)
    head = (across / 0.75) ** 2 + (down / np.where(down < 0, 0.7, 0.95)) ** 2 - 0.5
    neck = (across / 0.7) ** 2 + ((down - 1.0) / 0.7) ** 2 - 0.4
    likely = np.maximum(np.exp(-1.2 * np.clip(head, 0, None)), 0.8 * np.exp(-1.2 * np.clip(neck, 0, None)))
    return np.asarray(0.05 + 0.65 * likely)


def _posterior(lab: Floats, skin: Floats, rest: Floats, expected: Floats) -> Floats:
    """Probability of skin from smoothed colour histograms and what is expected beforehand."""
    cells = np.clip(((lab - _LOW) / _BIN).astype(int), 0, np.array(_BINS) - 1)
    index = np.ravel_multi_index(tuple(np.moveaxis(cells, -1, 0)), _BINS)

    def density(weights: Floats) -> Floats:
        held = np.bincount(index.ravel(), weights=weights.ravel(), minlength=int(np.prod(_BINS)))
        smooth = ndimage.gaussian_filter(held.reshape(_BINS), 1.3)
        return np.asarray((smooth / max(smooth.sum(), 1e-9)).ravel()[index])

    for_skin, for_rest = density(skin) + 1e-7, density(rest) + 1e-7
    odds = for_skin * expected / (for_rest * (1 - expected))
    return np.asarray(odds / (1 + odds))


class _Smoother:
    """Solves min Σ w_ij (x_i − x_j)² + λ Σ (x_i − p_i)² on the picture's grid of pixels."""

    def __init__(self, lab: Floats) -> None:
        h, w = lab.shape[:2]
        index = np.arange(h * w).reshape(h, w)
        pairs = [(index[:, :-1], index[:, 1:]), (index[:-1], index[1:])]
        flat = lab.reshape(-1, 3)
        rows = np.concatenate([a.ravel() for a, _ in pairs])
        columns = np.concatenate([b.ravel() for _, b in pairs])
        apart = np.linalg.norm(flat[rows] - flat[columns], axis=1)
        weight = np.exp(-((apart / 6.0) ** 2)) + 1e-4
        link = sparse.coo_matrix((weight, (rows, columns)), shape=(h * w, h * w))
        link = (link + link.T).tocsr()
        degree = np.asarray(link.sum(axis=1)).ravel()
        self._pull = 0.06
        self._system = (sparse.diags(degree + self._pull) - link).tocsr()
        self._scale = sparse.diags(1 / (degree + self._pull))
        self._shape = (h, w)

    def __call__(self, likely: Floats) -> Floats:
        solution, _ = cg(
            self._system, self._pull * likely.ravel(), x0=likely.ravel(), rtol=1e-3, maxiter=120, M=self._scale
        )
        return np.asarray(solution.reshape(self._shape))
