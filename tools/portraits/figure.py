"""A person, put together: skin, eyes, clothes and hair, turned and placed in the room."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from core.light.surface import normals_of
from core.optics.spectra import BANDS_NM
from tools.portraits import clothes
from tools.portraits.light import Light, dye
from tools.portraits.mesh import Body, Source, body
from tools.portraits.noise import clouds, step
from tools.portraits.people import Person
from tools.portraits.render import Strands, Surface
from tools.portraits.skin import PLACES, place_weights
from tools.portraits.strands import Grower

Floats = NDArray[np.float64]

_LOWEST = -4.6
_PIVOT = np.array([0.0, -1.15, -0.18])
_IRIS_DEG, _PUPIL_DEG, _CATCHLIGHT_DEG = 29.0, 10.5, 13.0


@dataclass
class Figure:
    """A person as drawn. surfaces[0] is the skin, whose vertices belong to places by `weights`."""

    surfaces: list[Surface]
    strands: list[Strands]
    weights: Floats


def _head_turned(points: Floats, person: Person, directions: bool = False) -> Floats:
    """Points as the head is turned over the neck, and the body in the room."""
    turn, nod, lean = np.radians(person.head)
    flat = points.reshape(-1, 3)
    share = step(-1.75, -0.95, flat[:, 1]) if not directions else np.ones(len(flat))
    x, y, z = (flat - (0 if directions else _PIVOT)).T
    a, p, l = turn * share, nod * share, lean * share  # noqa: E741
    y, z = y * np.cos(p) - z * np.sin(p), y * np.sin(p) + z * np.cos(p)
    x, y = x * np.cos(l) - y * np.sin(l), x * np.sin(l) + y * np.cos(l)
    x, z = x * np.cos(a) + z * np.sin(a), -x * np.sin(a) + z * np.cos(a)
    moved = np.stack([x, y, z], axis=1) + (0 if directions else _PIVOT)
    yaw = np.radians(person.yaw)
    moved = moved @ np.array([[np.cos(yaw), 0, -np.sin(yaw)], [0, 1, 0], [np.sin(yaw), 0, np.cos(yaw)]])
    return np.asarray((moved + (0 if directions else np.array(person.at))).reshape(points.shape))


def _placed(person: Person, name: str, vertices: Floats, triangles: NDArray[np.int64], albedo: Floats,
            **more: object) -> Surface:  # fmt: skip
    moved = _head_turned(vertices, person)
    return Surface(name, moved, triangles, normals_of(moved, triangles), albedo, **more)  # type: ignore[arg-type]


def _eye(centre: Floats, radius: float, person: Person, light: Light) -> tuple[Surface, Surface]:
    """The ball with iris and pupil, and the cornea before it, which mirrors the key where it can be seen."""
    gaze = np.array(person.gaze) / np.linalg.norm(person.gaze)
    side = np.cross([0, 1, 0], gaze)
    side /= np.linalg.norm(side)
    frame = np.stack([side, np.cross(gaze, side), gaze])
    rings, around = 90, 72
    theta = np.pi * (np.arange(rings) / (rings - 1)) ** 1.4
    phi = 2 * np.pi * np.arange(around) / around
    t, f = np.meshgrid(theta, phi, indexing="ij")
    ball = np.stack([np.sin(t) * np.cos(f), np.sin(t) * np.sin(f), np.cos(t)], axis=-1).reshape(-1, 3)
    i, j = np.meshgrid(np.arange(rings - 1), np.arange(around), indexing="ij")
    a, b = i * around + j, i * around + (j + 1) % around
    c, d = a + around, b + around
    triangles = np.concatenate([np.stack([a, c, b], -1).reshape(-1, 3), np.stack([b, c, d], -1).reshape(-1, 3)])
    degrees = np.degrees(t.ravel())
    iris, pupil = 1 - step(_IRIS_DEG - 1.2, _IRIS_DEG + 1.0, degrees), 1 - step(_PUPIL_DEG - 1, _PUPIL_DEG + 1, degrees)
    rim = step(22.5, _IRIS_DEG, degrees)
    rays = clouds(np.stack([np.cos(f.ravel()) * 6, np.sin(f.ravel()) * 6, degrees * 0.06], axis=1), 3)
    white = 0.36 - 0.06 * np.exp(-(((BANDS_NM - 430) / 60.0) ** 2))
    veins = (white * (1 - 0.45 * np.exp(-(((BANDS_NM - 545) / 60.0) ** 2))))[None]
    far = (0.6 * step(40, 75, degrees))[:, None]
    sclera = white * (1 - far) + veins * far
    colour = person.iris * ((0.55 + 0.9 * rays) * (1 - 0.72 * rim))[:, None]
    albedo = sclera * (1 - iris)[:, None] + (colour * (1 - pupil)[:, None] + 0.004 * pupil[:, None]) * iris[:, None]
    ball_at = centre + radius * ball @ frame
    bulge = radius * (0.13 * np.cos(np.pi / 2 * np.clip(degrees / 36, 0, 1)) ** 1.3)
    shell = centre + ((radius * 1.004 + bulge)[:, None] * ball) @ frame
    cornea = _placed(
        person, "cornea", shell, triangles, albedo * 0, gloss=np.ones(len(shell)), roughness=0.10, clear=True
    )
    # The mirror image of the key lies under the lid as often as not; painters set it into the iris.
    half = light.direction + np.array([0, 0, 1.0])
    half /= np.linalg.norm(half)
    ahead = _head_turned(gaze[None], person, directions=True)[0]
    aside = half - ahead * (half @ ahead)
    aside[1] = np.clip(aside[1], -0.2, 0.2)
    spot = ahead + np.tan(np.radians(_CATCHLIGHT_DEG)) * aside / np.linalg.norm(aside)
    spot /= np.linalg.norm(spot)
    turn, _ = Rotation.align_vectors(half[None], spot[None])
    cornea.normals = turn.apply(cornea.normals)
    return _placed(person, "eye", ball_at, triangles, albedo), cornea


def _worn(what: str, own: Body, person: Person) -> list[Surface]:
    """A piece of clothing."""
    if what == "coat":
        cut = (1.22, 30.0) if "scarf" in person.wears else (0.9, 7.0)
        parts, colour = clothes.coat(own, *cut), person.coat
    else:
        parts, colour = [getattr(clothes, what)(own)], person.knit
        if what == "jersey" and "scarf" in person.wears:
            colour = person.coat * 0.5
    found = [_placed(person, what, one.vertices, one.triangles, colour * one.grain[:, None]) for one in parts]
    if what == "coat":
        horn = dye(0.055, 0.04, 0.03)
        found += [
            _placed(person, "button", one.vertices, one.triangles, horn * one.grain[:, None],
                    gloss=np.full(len(one.vertices), 0.8), roughness=0.28)
            for one in clothes.buttons(own)
        ]  # fmt: skip
    return found


def figure(source: Source, person: Person, light: Light, fine: float = 1.0) -> Figure:
    """A person, with hair and clothes. fine: share of the hairs."""
    own = body(source, person.shape, _LOWEST)
    weights = place_weights(own)
    stubble = _stubble(person, weights)
    surfaces = [_skin(own, person, weights, stubble)]
    for centre in own.eyes:
        surfaces += _eye(centre, own.eye_radius * 0.985, person, light)
    for what in person.wears:
        surfaces += _worn(what, own, person)
    return Figure(surfaces, _strands(own, person, stubble, fine), weights)


def _stubble(person: Person, weights: Floats) -> Floats:
    """How much of a day's beard grows at each vertex, 0–1."""
    place = dict(zip(PLACES, weights.T, strict=True))
    grows = 0.6 * place["jaw"] + place["chin"] + 0.9 * place["mouth surround"]
    grows = grows + 0.6 * place["under the chin"] + 0.3 * place["lip corner"]
    lips = np.clip(3 * (place["upper lip"] + place["lower lip"]), 0, 1)
    return np.asarray(person.stubble * step(0.10, 0.40, grows) * (1 - lips))


def _skin(own: Body, person: Person, weights: Floats, stubble: Floats) -> Surface:
    """Skin with its blotches, freckles and pores; what cloth hides is left out."""
    place = dict(zip(PLACES, weights.T, strict=True))
    lips = place["upper lip"] + place["lower lip"]
    blotches = 1 + 0.10 * (clouds(own.c * 26, 3) - 0.5) + 0.09 * (clouds(own.c * 5, 2) - 0.5)
    albedo = (weights @ person.skin.reflectances()) * blotches[:, None]
    freckles = np.clip((clouds(own.c * 46, 1) - 0.72) * 7, 0, 1) * (own.c[:, 2] > 0.3) * (1 - lips)
    freckles *= person.freckles * np.clip(1.2 - np.abs(own.c[:, 1] + 0.12) * 2.0, 0, 1)
    albedo = albedo * (1 - freckles[:, None] * np.linspace(0.9, 0.25, 31)) * (1 - 0.42 * stubble[:, None])
    gloss = 0.62 + 0.55 * lips + 0.30 * (place["nose tip"] + place["nose bridge"]) + 0.15 * place["forehead"]
    gloss = person.gloss * gloss * (1 - 0.5 * place["neck"]) * (0.8 + 0.4 * clouds(own.c * 40, 2))
    pores = 0.0016 * (clouds(own.c * np.array([61, 47, 53]), 3) - 0.5)
    corners = own.v[own.triangles]
    bare = (corners[:, :, 1].min(axis=1) > -2.3) & (np.abs(corners[:, :, 0]).max(axis=1) < 1.3)
    vertices = own.v + own.normals * pores[:, None]
    return _placed(person, "skin", vertices, own.triangles[bare], albedo, skin=True, gloss=gloss)


def _strands(own: Body, person: Person, stubble: Floats, fine: float) -> list[Strands]:
    """Hair, brows, lashes and stubble, each in four shades."""
    grow = Grower(own, seed=sum(map(ord, person.name)))
    found: list[Strands] = []

    def add(name: str, curves: list[tuple[Floats, Floats]], colour: Floats) -> None:
        for points, radii in curves:
            shades = grow.rng.integers(0, 4, len(points))
            for shade in np.unique(shades):
                mine = shades == shade
                tone = colour * (0.72 + 0.19 * shade)
                found.append(Strands(name, _head_turned(points[mine], person), radii[mine], tone))

    def some(count: float) -> int:
        return max(50, int(count * fine))

    if person.cut == "pulled back":
        add("hair", grow.pulled_back(some(26000)), person.hair)
    elif person.cut == "swept":
        add("hair", grow.swept(some(26000)), person.hair)
    elif person.cut == "coils":
        add("hair", grow.coils(some(16000)), person.hair)
    elif person.cut == "cropped":
        add("hair", grow.cropped(some(22000), 0.35), person.hair)
    add("brow", grow.brows(person.brow_hairs, person.brows), person.hair)
    add("lash", grow.lashes(), person.hair * 0.5 + 0.004)
    if person.stubble:
        add("stubble", grow.stubble(stubble, some(14000 * person.stubble)), person.hair)
    return found
