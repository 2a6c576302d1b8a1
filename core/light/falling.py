"""What falls on a sitter: the key with its shadows, and the light from around."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from core.colour.spaces import SRGB, Floats, hex_to_xyz
from core.light.directions import AZIMUTHS, HARMONICS, even_directions, harmonics
from core.light.lamps import observer, power, settled, usually_settled, white_of
from core.light.model import Floats32, StudyModel
from core.light.scene import Around, Scene
from core.light.surface import Ints
from core.light.view import View
from core.optics.spectra import upsample

UNIT_CM = 10.0
APART = 4.5
"""How far from each other sitters are, in units of 100 mm."""
WHITE = 0.9
"""How light a white card is shown that faces the light."""
_NEAREST = 0.5
_SHARPEST = 0.03
_OPEN = 0.02
"""Below this the sine of a horizon is none: what the files are rounded by."""
ONLY_OPEN = 0.6
"""Radians that stand for a lamp nothing can hide: beyond half of the widest."""
_DIRECTIONS = even_directions(1000)
_BASIS = harmonics(_DIRECTIONS)


@dataclass(frozen=True, slots=True, eq=False)
class Falling:
    """On the vertices (v, …) that a view shows.

    Of the key: cosine (v,) to it; above (v,): by how many radians it stands above the horizon, ONLY_OPEN where there is
    none; to_lamp (v, 3) or (1, 3): unit vectors to it in the picture's frame; strength (v,) or (1,): its level there.
    around (v, l): what arrives of each light from around; lobes (l, 16): their radiance in the model's frame.
    """

    cosine: Floats32
    above: Floats32
    to_lamp: Floats32
    strength: Floats32
    around: Floats32
    lobes: Floats32


def falling(scene: Scene, number: int, seen: View) -> Falling:
    """What falls on the sitter of that number, seen so."""
    model, vertex = seen.model, seen.vertex
    to_lamp, strength = _lamp_from(scene, number, seen)
    cosine = _dot(model.normals[vertex], to_lamp @ seen.rotation)
    above = _above(model, vertex, to_lamp @ seen.rotation, cosine)
    lobes = np.array([one.level * _harmonics_of(one, seen) for one in scene.around], np.float32)
    lobes = lobes.reshape(-1, HARMONICS)
    around = np.clip(model.transfer[vertex] @ lobes.T, 0, None)
    return Falling(cosine, above, to_lamp, strength, around, lobes)


def _dot(rows: Floats32, to_lamp: Floats32) -> Floats32:
    return np.asarray(rows @ to_lamp[0] if len(to_lamp) == 1 else (rows * to_lamp).sum(axis=1))


def _lamp_from(scene: Scene, number: int, seen: View) -> tuple[Floats32, Floats32]:
    """Unit vectors (v, 3) or (1, 3) to the key in the picture's frame, and its strength there.

    A lamp inside the picture falls off with the square of the distance. Sitters stand in a row.
    """
    key = scene.key
    if not key.distance_cm:
        return key.direction[None].astype(np.float32), np.array([key.level], np.float32)
    far = key.distance_cm / UNIT_CM
    lamp = key.direction * far - [(number - (len(scene.sitters) - 1) / 2) * APART, 0.0, 0.0]
    way = lamp - seen.model.vertices[seen.vertex] @ seen.rotation.T
    distance = np.maximum(np.linalg.norm(way, axis=1), _NEAREST)
    strength = key.level * (far / distance) ** 2
    return (way / distance[:, None]).astype(np.float32), np.asarray(strength, np.float32)


def arriving(cosine: Floats32, half_angle: float) -> Floats32:
    """What arrives (…,) of a lamp so wide in radians, were nothing in the way: a little also where its middle is below
    the surface."""
    wide = max(half_angle, _SHARPEST)
    soft = (cosine + wide) ** 2 / (4 * wide)
    return np.where(cosine > wide, cosine, np.where(cosine < -wide, 0, soft)).astype(np.float32)


def visible(above: Floats32, half_angle: float) -> Floats32:
    """The part (…,) of a lamp so wide in radians that stands above the horizon."""
    share = np.clip(above / (2 * max(half_angle, _SHARPEST)) + 0.5, 0, 1)
    return np.asarray(share * share * (3 - 2 * share))


def _above(model: StudyModel, vertex: Ints, to_lamp: Floats32, cosine: Floats32) -> Floats32:
    """By how many radians a lamp stands between each vertex' horizon and ceiling and beside the head (v,).

    to_lamp: in the model's frame. Source of the horizons: Max 1988, here told in 24 directions around each point.
    """
    floor, ceiling = _looked_up(
        (model.horizon, model.ceiling), vertex, _dot(model.aside[vertex], to_lamp), _dot(model.around[vertex], to_lamp)
    )
    height = np.arcsin(np.clip(cosine, -1, 1))
    above = np.where(floor < _OPEN, ONLY_OPEN, height - np.arcsin(np.clip(floor, 0, 1)))
    below = np.where(ceiling > 1 - _OPEN, ONLY_OPEN, np.arcsin(np.clip(ceiling, 0, 1)) - height)
    clear = np.minimum(above, below)
    hung = np.flatnonzero(model.hung[vertex])
    if len(hung):
        mine = vertex[hung]
        lamp = to_lamp if len(to_lamp) == 1 else to_lamp[hung]
        (wide,) = _looked_up(
            (model.over,), mine, _dot(model.over_aside[mine], lamp), _dot(model.over_around[mine], lamp)
        )
        off = np.arccos(np.clip(_dot(model.axis[mine], lamp), -1, 1))
        clear[hung] = np.minimum(clear[hung], off - wide)
    return np.asarray(clear, np.float32)


def _looked_up(tables: tuple[Floats32, ...], vertex: Ints, aside: Floats32, around: Floats32) -> list[Floats32]:
    """What tables (n, 24) say of vertices (v,) in the direction that lies so far aside and around, each (v,)."""
    turn = np.arctan2(aside, around) * np.float32(AZIMUTHS / (2 * np.pi)) % AZIMUTHS
    first = np.floor(turn).astype(np.int64)
    share, low = turn - first, vertex * AZIMUTHS
    one, other = low + first % AZIMUTHS, low + (first + 1) % AZIMUTHS
    return [table.ravel()[one] * (1 - share) + table.ravel()[other] * share for table in tables]


def _harmonics_of(one: Around, seen: View) -> Floats:
    """The radiance of a light from around at level 1 as spherical harmonics (16,) in the model's frame."""
    radiance = one.radiance(_DIRECTIONS @ seen.rotation.T)
    return np.asarray((radiance[:, None] * _BASIS).mean(axis=0) * 4 * np.pi)


def power_around(scene: Scene) -> list[Floats]:
    """Relative power (31,) of each light from around where its level is 1; a cloth sends back what falls on it."""
    bare = [one for one in scene.around if one.kind != "bounce"]
    on_cloth = scene.key.level * power(scene.key.lamp) + sum(one.level * power(one.lamp) for one in bare)
    total = scene.key.level + sum(one.level for one in bare)
    return [
        upsample(hex_to_xyz(one.cloth)) * on_cloth / total if one.kind == "bounce" else power(one.lamp)
        for one in scene.around
    ]


def settled_eye(scene: Scene) -> Floats:
    """The matrix (3, 3) from XYZ under the scene's light to XYZ as the eye that has settled on it sees it, exposed so
    that the brightest of a white card's red, green and blue is WHITE where it faces the light.

    The eye settles on the lamps without their gels, as on the white of the room (core.light.lamps.settled).
    """
    key, around = scene.key, scene.around
    facing = np.stack([key.direction, *(one.axis for one in around)])
    on_cards = np.stack(
        [key.level * np.clip(facing @ key.direction, 0, None), *(one.level * _on_card(one, facing) for one in around)],
        axis=1,
    )
    card = on_cards[on_cards.sum(axis=1).argmax()]
    powers = [power(key.lamp), *power_around(scene)]
    whites = [white_of(key.lamp), *(white_of(one.lamp) for one in around)]
    bare = np.array([amount * (one.kind != "bounce") for amount, one in zip(card[1:], around, strict=True)])
    room = card[0] * whites[0] + sum(amount * white for amount, white in zip(bare, whites[1:], strict=True))
    degree = scene.settled if scene.settled >= 0 else usually_settled(key.lamp)
    adapt = settled(room if room[1] > 0 else whites[0], degree)
    xyz = sum(amount * of for amount, of in zip(card, powers, strict=True)) @ observer()
    rgb = adapt @ xyz @ np.linalg.inv(SRGB.to_xyz)
    return np.asarray(adapt * (WHITE * 2.0**scene.exposure / max(rgb.max(), 1e-9)))


def _on_card(one: Around, facing: Floats) -> Floats:
    """Irradiance over π (c,) at level 1 of cards that face these ways (c, 3)."""
    return np.asarray(4 * (one.radiance(_DIRECTIONS)[:, None] * np.clip(_DIRECTIONS @ facing.T, 0, None)).mean(axis=0))
