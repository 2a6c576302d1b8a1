"""Where the light comes from, and whether its colour differs from that of the light around."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.spaces import SRGB, Floats
from core.look.faces import FaceMap
from core.look.families import Mask, brightness, light_direction

_ROUNDS = 8
_BEND = 1.3
"""Residuals beyond this many standard deviations count less (Huber 1964)."""
_LEAST_FIT = 0.25
_LEAST_STRENGTH = 0.12
"""Below these parts of the variance explained, and of the light that comes from one side, a direction is a guess."""
_TELLS = 0.12
"""The least difference in ln(red / blue) between light and shade that is worth a word."""


@dataclass(frozen=True, slots=True)
class LightReading:
    """from_deg: where the light comes from in the picture, 0 right, 90 above. sure: whether that can be relied on.

    strength: how much brighter skin is that faces the light on the picture than skin square to it, as a part. warmth:
    ln of the red-to-blue ratio in the light against that in the shade; None where there is no shade.
    """

    from_deg: float
    sure: bool
    strength: float
    warmth: float | None

    @property
    def words(self) -> str:
        """What is seen, in words."""
        if self.warmth is None or abs(self.warmth) < _TELLS:
            return "Light and shade have much the same colour."
        return "A warm key, cooler shade." if self.warmth > 0 else "A cool key, warmer shade."


def read_light(xyz: Floats, people: Sequence[tuple[Mask, FaceMap | None]], light: Mask) -> LightReading | None:
    """The light on the people of a picture, XYZ (h, w, 3); None where nobody's skin was found.

    people: the skin of each and, where it was found, the face, on this very picture. light: the light family.
    """
    turned, total, fits, strengths = 0j, 0.0, [], []
    for skin, face in people:
        if not skin.any():
            continue
        by_mesh = _by_mesh(xyz, skin, face) if face is not None and len(face.points) else None
        weight = float(np.sqrt(skin.sum()))
        if by_mesh:
            direction, fit, strength = by_mesh
            weight *= max(strength, 0.02) * max(fit, 0.05)
            fits.append(fit)
            strengths.append(strength)
        else:
            guessed = light_direction(xyz, skin)
            if guessed is None:
                continue
            direction, weight = guessed, weight * 0.002
        turned += weight * np.exp(1j * np.radians(direction))
        total += weight
    if not total:
        return None
    from_deg = float(np.degrees(np.angle(turned)) % 360)
    fit, strength = (float(np.max(v)) if v else 0.0 for v in (fits, strengths))
    agreed = abs(turned) / total
    below = 200 < from_deg < 340
    sure = fit >= _LEAST_FIT and strength >= _LEAST_STRENGTH and agreed > 0.8 and not below
    return LightReading(round(from_deg, 1), bool(sure), round(strength, 2), _warmth(xyz, people, light))


def _by_mesh(xyz: Floats, skin: Mask, face: FaceMap) -> tuple[float, float, float] | None:
    """Direction in degrees, part of the variance explained, and strength of the light on one face.

    Robust least squares of the red light at points of plain skin on their normals, as of a matt surface (Lambert):
    red = a + b · n. Red, because blood darkens it least: see core.look.families.brightness.
    """
    points, normals = face.points, face.normals
    h, w = skin.shape
    columns, rows = points[:, 0].astype(int), points[:, 1].astype(int)
    inside = (columns >= 0) & (columns < w) & (rows >= 0) & (rows < h)
    inside[inside] = skin[rows[inside], columns[inside]]
    if inside.sum() < 40:
        return None
    level = np.exp(brightness(xyz, skin)[rows[inside], columns[inside]])
    level = level / np.median(level)
    system = np.column_stack([np.ones(len(level)), normals[inside]])
    weight = np.ones(len(level))
    answer = np.zeros(4)
    for _ in range(_ROUNDS):
        root = np.sqrt(weight)[:, None]
        ridge = np.diag([0.0, 0.0, 0.0, 0.05]) * len(level)
        answer = np.linalg.solve((system * root).T @ (system * root) + ridge, (system * root).T @ (level * root[:, 0]))
        rest = level - system @ answer
        scale = max(1.4826 * float(np.median(np.abs(rest))), 1e-6)
        weight = np.minimum(1.0, _BEND * scale / np.maximum(np.abs(rest), 1e-9))
    rest = level - system @ answer
    fit = 1 - float(np.average(rest**2, weights=weight)) / max(
        float(np.average((level - np.average(level, weights=weight)) ** 2, weights=weight)), 1e-9
    )
    right, down = float(answer[1]), float(answer[2])
    return math.degrees(math.atan2(-down, right)) % 360, fit, math.hypot(right, down)


_TO_LINEAR = np.linalg.inv(SRGB.to_xyz)


def _warmth(xyz: Floats, people: Sequence[tuple[Mask, FaceMap | None]], light: Mask) -> float | None:
    """How much redder against blue the light family is than the shadow family, over all skin."""
    skin = np.logical_or.reduce([mask for mask, _ in people])
    lit, shade = skin & light, skin & ~light
    if lit.sum() < 50 or shade.sum() < 50:
        return None
    ratios = []
    for family in (lit, shade):
        red, _, blue = np.clip(np.median(xyz[family], axis=0) @ _TO_LINEAR, 0.002, None)
        ratios.append(math.log(red / blue))
    return round(ratios[0] - ratios[1], 3)
