"""Finding the skin: from a generous idea of skin colours to the skin of these people in this light."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy import ndimage, sparse
from scipy.sparse.linalg import cg

from core.colour.spaces import SRGB, Floats, lab_to_lch, xyz_to_lab
from core.look.faces import NOT_SKIN, FaceMap

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
_TRUST, _AT_MOST = 0.2, 100.0
"""How far colour counts against the mesh inside a face, where shade and coloured light are known by place: the power
that its odds are taken to, and the odds that it can give at most."""


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


def find_skin(xyz: Floats, faces: Sequence[FaceMap]) -> Skin:
    """The skin of every face in a picture, XYZ (h, w, 3) in balanced light; by colour alone if there is no face.

    Each face is looked at by itself, from its own cheeks and forehead outwards, since people differ and light does.
    faces: on this very picture.
    """
    h, w = xyz.shape[:2]
    best, owners = np.full((h, w), 0.5), np.zeros((h, w), np.uint8)
    for number, face in enumerate(faces):
        rows, columns = _around(face, h, w)
        probability = _probability(xyz[rows, columns], face.moved(-columns.start, -rows.start))
        better = tidy(probability > 0.5) & (probability > best[rows, columns])
        owners[rows, columns][better] = number + 1
        best[rows, columns][better] = probability[better]
    if not faces:
        best = _probability(xyz, None)
        owners = tidy(best > 0.5).astype(np.uint8)
    return Skin(owners, best)


def _around(face: FaceMap, h: int, w: int) -> tuple[slice, slice]:
    """Rows and columns in which a face's skin is looked for: head, neck, shoulders and raised hands."""
    (cx, cy), side = face.middle, face.side
    rows = slice(max(0, int(cy - 1.3 * side)), min(h, int(cy + 2.4 * side) + 1))
    return rows, slice(max(0, int(cx - 1.6 * side)), min(w, int(cx + 1.6 * side) + 1))


def _probability(xyz: Floats, face: FaceMap | None) -> Floats:
    """How probably each pixel of XYZ (h, w, 3) is skin, 0–1.

    Seeds come from the cheeks, the forehead and the chin, or from the prior if there is no face. Colour histograms of
    skin and of everything else, re-estimated from each other, give each pixel a probability, which is
    then smoothed along the picture's edges as a random walker with priors does (Grady 2005). Fine
    texture, as of hair, cloth and wood, speaks against skin. Eyes, brows and lips are none.
    """
    scale = min(1.0, WORKING_SIZE / max(xyz.shape[:2]))
    size = (max(8, round(xyz.shape[0] * scale)), max(8, round(xyz.shape[1] * scale)), 3)
    whole = np.asarray(xyz.shape[:2])
    if size[:2] != xyz.shape[:2]:
        xyz = np.stack([_resized(xyz[..., i], size[:2]) for i in range(3)], axis=-1)
    lab = xyz_to_lab(xyz)
    shape = lab.shape[:2]
    if face:
        face = face.scaled(shape[1] / whole[1], shape[0] / whole[0])
        sown = face.sown(shape)
        seeds = _middling(lab, xyz, sown)
        known, never = face.inside(shape), face.mask(NOT_SKIN, shape)
    else:
        seeds = skin_prior(xyz) > 0.8
        known = never = np.zeros(shape, bool)
    if seeds.sum() < _FEWEST_SEEDS:
        return np.zeros(whole)
    if face:
        place = np.where(known, 0.9, _nearness(shape, face))
        alike = np.clip(_like_these(xyz, seeds), 0.02, 0.9)
        alike = alike * np.where(known, 1.0, _no_hair(xyz, seeds, shape, face))
        prior = np.maximum(alike, np.where(known, 0.65, 0.3 * _in_its_shade(xyz, seeds, shape, face)))
    else:
        place = np.full(shape, 0.4)
        prior = skin_prior(xyz)
    smooth = _Smoother(lab)
    trust = np.where(known, _TRUST, 1.0)
    skin_weight = seeds.astype(float)
    rest_weight = np.where(seeds | known, 0, np.clip(1 - _DOUBT * place * prior, 0, 1))
    even = _smoothness(lab[..., 0])
    if face:
        even = np.where(known, np.maximum(even, np.clip(1.1 - face.side / 150, 0.15, 0.8)), even)
    expected = np.clip(place * prior * even * 1.6, 0.002, 0.97)
    probability: Floats = np.zeros(shape)
    for number in range(_ROUNDS):
        likely = _posterior(lab, skin_weight, rest_weight, expected, trust)
        probability = smooth(likely) if number == _ROUNDS - 1 else ndimage.gaussian_filter(likely, 1.5)
        skin_weight = np.where((probability > 0.6) & ~never, probability, 0) + 0.5 * seeds
        rest_weight = np.where(probability < 0.4, 1 - probability, 0)
    probability[never] = 0
    if face:
        probability[~_belongs(probability > 0.5, known)] = 0
    return _resized(probability, (int(whole[0]), int(whole[1])))


def _resized(quantity: Floats, shape: tuple[int, int]) -> Floats:
    """A quantity (h, w) at another size: means where it is made smaller, interpolated linearly where larger."""
    image = Image.fromarray(np.asarray(quantity, dtype=np.float32))
    method = Image.Resampling.BOX if shape[0] < quantity.shape[0] else Image.Resampling.BILINEAR
    return np.asarray(image.resize((shape[1], shape[0]), method), dtype=float)


def _belongs(skin: Mask, known: Mask) -> Mask:
    """The parts of the skin that hang together with the face, and others that could be hands: no larger than it, and
    not lying along the picture's edge."""
    labels, count = ndimage.label(skin)
    if not count:
        return skin
    areas = np.bincount(labels.ravel(), minlength=count + 1)
    of_face = np.bincount(labels[known], minlength=count + 1)
    rim = np.zeros(skin.shape, bool)
    rim[[0, -1]] = rim[:, [0, -1]] = True
    at_rim = np.bincount(labels[rim], minlength=count + 1)
    face = max(1, int(known.sum()))
    keep = (of_face > 0.02 * face) | ((areas < face) & (at_rim < 0.5 * np.sqrt(areas)))
    keep[0] = False
    return np.asarray(keep[labels])


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
    too_dark = np.clip(middle_light - light - 2.6, 0, None) / 0.6
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


def _middling(lab: Floats, xyz: Floats, sown: Mask) -> Mask:
    """The pixels of an area that have its middle colours: what is skin if anything is."""
    if not sown.any():
        return sown
    low, high = np.percentile(lab[sown, 0], [15, 99.5])
    middling = sown & (lab[..., 0] >= low) & (lab[..., 0] <= high)
    return np.asarray(middling & (_like_these(xyz, middling) > _ALIKE))


def _nearness(shape: tuple[int, int], face: FaceMap) -> Floats:
    """How likely skin is by place alone: on the face up to the hair and on the neck; beside them hangs hair; shoulders,
    arms and hands are possible everywhere else."""
    across, down = face.off(shape)
    behind = across + 0.25 * face.turned
    head = np.exp(-3.0 * np.clip((across / 0.5) ** 2 + (down / np.where(down < 0, 0.64, 0.6)) ** 2 - 1, 0, None))
    neck = np.exp(-3.0 * np.clip((behind / 0.42) ** 2 + ((down - 0.55) / 0.42) ** 2 - 1, 0, None))
    beside = np.clip((np.abs(across) - 0.42) / 0.1, 0, 1) * (down < 0.75)
    elsewhere = 0.16 - 0.13 * np.maximum(beside, down < -0.5)
    ear = 0.5 * face.mask(("ear",), shape)
    return np.asarray(np.maximum.reduce([elsewhere, 0.75 * np.maximum(head, neck), ear]))


def _no_hair(xyz: Floats, seeds: Mask, shape: tuple[int, int], face: FaceMap) -> Floats:
    """Near 0 above the face and beside it where it is much darker than the face, as hair and caps are; else 1."""
    across, down = face.off(shape)
    light = np.log(np.clip(xyz[..., 1], 0.001, None))
    lighter = np.clip((light - float(np.median(light[seeds])) + 1.1) / 0.5, 0.02, 1)
    above = np.clip((-0.36 - down) / 0.08, 0, 1)
    beside = np.clip((np.abs(across) - 0.44) / 0.06, 0, 1) * (down < 0.1)
    return np.asarray(1 - np.maximum(above, 0.7 * beside) * (1 - lighter))


def _in_its_shade(xyz: Floats, seeds: Mask, shape: tuple[int, int], face: FaceMap) -> Mask:
    """Where the head's own shadow may lie: beside and below the face, darker than most of it."""
    across, down = face.off(shape)
    beside = (np.abs(across + 0.25 * face.turned) < 0.45) & (down > -0.1) & (down < 0.95)
    return np.asarray(beside & (xyz[..., 1] < 0.6 * np.median(xyz[..., 1][seeds])))


def _posterior(lab: Floats, skin: Floats, rest: Floats, expected: Floats, trust: Floats | float = 1.0) -> Floats:
    """Probability of skin from smoothed colour histograms and what is expected beforehand."""
    cells = np.clip(((lab - _LOW) / _BIN).astype(int), 0, np.array(_BINS) - 1)
    index = np.ravel_multi_index(tuple(np.moveaxis(cells, -1, 0)), _BINS)

    def density(weights: Floats) -> Floats:
        held = np.bincount(index.ravel(), weights=weights.ravel(), minlength=int(np.prod(_BINS)))
        smooth = ndimage.gaussian_filter(held.reshape(_BINS), 1.3)
        return np.asarray((smooth / max(smooth.sum(), 1e-9)).ravel()[index])

    for_skin, for_rest = density(skin) + 1e-7, density(rest) + 1e-7
    ratio = for_skin / for_rest
    ratio = np.where(np.asarray(trust) < 1, np.clip(ratio, 1 / _AT_MOST, _AT_MOST), ratio)
    odds = ratio**trust * expected / (1 - expected)
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
