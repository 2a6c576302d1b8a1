"""Light on skin: what colour each pixel of a sitter has under a scene's light."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from core.colour.spaces import Floats
from core.light.falling import Falling, arriving, falling, power_around, settled_eye, visible
from core.light.freckles import speckled
from core.light.lamps import observer, power
from core.light.model import Floats32
from core.light.scene import Scene
from core.light.view import F0, View, spreading, view
from core.optics.spectra import BANDS_NM
from core.skin.describe import Skins, skins_at
from core.skin.reflectance import spread_cm

_RED = BANDS_NM >= 600.0
"""Where light travels far enough under the skin to be seen beyond a shadow's edge."""
_UNITS_PER_CM, _STEP = 0.1, 0.002
_SLIT_OPEN, _SLIT_WIDE, _SLIT_LEFT = 0.02, 0.10, 0.06
"""What is less open than this is as dark as a slit: where the model ends, in mouth and nostrils."""
_LOBES = ((0.45, 0.8), (0.28, 0.2))
"""Roughness and share of the gloss of skin. Source: two lobes as in d'Eon and Luebke 2007; numbers assumed."""
_WET, _LIPS = 0.35, ("upper lip", "lower lip")
"""How much more of the smoother lobe lips have."""
_WIDENS = 0.35
_LEAST = 0.01
_BLUR: Floats32 = np.array([1] + [0.9] * 3 + [0.7] * 5, np.float32)
"""What is left of each harmonic of the surroundings in gloss that rough."""


@dataclass(frozen=True, slots=True, eq=False)
class Lit:
    """A sitter under a light, by the pixels (k, …) of its view.

    xyz (k, 3): as the settled eye sees them; gloss (k, 3): the part of it that the surface mirrors. cosine (k,):
    between surface and key; visible: the part of the key that nothing hides; key: what arrives of it, 1 where it does
    so squarely; around: what arrives from around, in luminance. speckle (k, 3): what freckles make of it in a picture.
    """

    view: View
    xyz: Floats32
    gloss: Floats32
    cosine: Floats32
    visible: Floats32
    key: Floats32
    around: Floats32
    speckle: Floats32 | None = None


def light(scene: Scene, number: int, size: int) -> Lit:
    """The sitter of that number on size × size pixels; see core.light.scene.check_scene. Raises ModelError."""
    sitter = scene.sitters[number]
    seen = view(sitter.shown, sitter.turn, sitter.tilt, size)
    falls = falling(scene, number, seen)
    around = power_around(scene)
    half_angle = float(np.radians(scene.key.softness))
    steady, once = _body(scene, seen, skins_at(sitter.skin, seen.model.places), falls, around, half_angle)
    strength = np.broadcast_to(falls.strength, falls.cosine.shape)
    told = [steady, once, falls.around.sum(axis=1), falls.cosine, falls.above, strength]
    pixels = seen.to_pixels @ np.column_stack(told).astype(np.float32)
    surround, cosine, above, strength = pixels[:, 6:].T
    seen_lamp = visible(above, half_angle)
    key = arriving(cosine, half_angle) * seen_lamp * strength
    body = pixels[:, :3] + pixels[:, 3:6] * key[:, None]
    eye = settled_eye(scene).astype(np.float32)
    gloss = np.float32(scene.sheen) * (_gloss(scene, seen, falls, key, seen_lamp * strength, around) @ eye.T)
    share = key / max(scene.key.level, 1e-6)
    speckle = speckled(sitter.skin, power(scene.key.lamp), sitter.shown, sitter.turn, sitter.tilt, size)
    return Lit(seen, body @ eye.T + gloss, gloss, cosine, seen_lamp, share, surround, speckle)


def _body(
    scene: Scene, seen: View, skins: Skins, falls: Falling, around: list[Floats], half_angle: float
) -> tuple[Floats32, Floats32]:
    """XYZ that the body of the skin sends back, before the eye settles: (v, 3) that changes slowly from place to place,
    and (v, 3) to be multiplied by what of the key arrives, whose edges may be sharp.

    What reaches it, band by band, times its reflectance at each place. Beyond a shadow's edge red comes up that went in
    beside it; in creases skin lights skin with its own colour, the more so the paler it is: all orders of reflection,
    as between surfaces that see the mean of the sitter wherever they do not see the room.
    """
    model, vertex = seen.model, seen.vertex
    reflectance, of_key, xyz = skins.reflectance, power(scene.key.lamp), observer()
    key = arriving(falls.cosine, half_angle) * visible(falls.above, half_angle) * falls.strength
    openness = model.openness[vertex]
    hidden = 1 - openness
    mean = model.weights[vertex].mean(axis=0) @ reflectance
    on_skin = key.mean() * of_key
    for mine, of in zip(falls.around.T, around, strict=True):
        on_skin = on_skin + mine.mean() * of
    between = mean * on_skin / (1 - mean * float(hidden.mean()))
    parts = [reflectance * of_key * _RED, reflectance * of_key * ~_RED, reflectance * between]
    parts += [reflectance * of for of in around]
    albedo = model.weights[vertex] @ np.concatenate([part @ xyz for part in parts], axis=1).astype(np.float32)
    albedo *= np.clip((openness - _SLIT_OPEN) / _SLIT_WIDE, _SLIT_LEFT, 1)[:, None]
    red, once, rest = albedo[:, :3], albedo[:, 3:6], albedo[:, 6:]
    amounts = np.column_stack([hidden, falls.around])
    steady = red * _spread(scene, seen, skins, key)[:, None]
    for number, amount in enumerate(amounts.T):
        steady += rest[:, 3 * number : 3 * number + 3] * amount[:, None]
    return steady, once


def _spread(scene: Scene, seen: View, skins: Skins, key: Floats32) -> Floats32:
    """What of the key (v,) comes up again as red light."""
    weight = (power(scene.key.lamp) * observer()[:, 1])[_RED]
    far = float(np.average(spread_cm(np.median(skins.held, axis=0))[_RED], weights=weight)) * _UNITS_PER_CM
    width = round(far * scene.bleeding / _STEP) * _STEP
    if not width:
        return key
    spreads = spreading(seen.model.name, width)
    every = np.zeros((len(seen.model.vertices), 2), np.float32)
    every[seen.vertex, 0], every[seen.vertex, 1] = key, 1
    spread = (spreads @ every)[seen.vertex]
    return np.asarray(spread[:, 0] / spread[:, 1])


def _gloss(scene: Scene, seen: View, falls: Falling, key: Floats32, lamp: Floats32, around: list[Floats]) -> Floats32:
    """XYZ (k, 3) that the surface mirrors, before the eye settles. key (k,): what arrives of it; lamp (k,): how
    strong it is where it is seen.

    Of the key by two lobes of GGX (Walter and others 2007) with Smith's shadowing and Schlick's Fresnel, wider for a
    wide lamp; of the rest by the harmonics of what lies in the mirrored look.
    """
    lobes = falls.lobes[:, : seen.mirror.shape[1]] * _BLUR
    mirrored = np.clip(seen.mirror @ lobes.T, 0, None) * (seen.graze * seen.openness**1.5)[:, None]
    xyz = np.array([of @ observer() for of in around], np.float32).reshape(-1, 3)
    gloss = np.asarray(mirrored @ xyz)
    at = np.flatnonzero(key > _LEAST)
    if not len(at):
        return gloss
    alike = len(falls.to_lamp) == 1
    to_lamp = falls.to_lamp if alike else (seen.to_pixels @ falls.to_lamp)[at]
    normal, eye, facing = seen.normal[at], seen.eye[at], seen.facing[at]
    half = to_lamp + eye
    half /= np.linalg.norm(half, axis=1, keepdims=True)
    to_half, to_key = (np.clip((normal * way).sum(axis=1), 0, 1) for way in (half, to_lamp))
    fresnel = F0 + (1 - F0) * (1 - np.clip((half * eye).sum(axis=1), 0, 1)) ** 5
    lips = np.isin(seen.place[at], [i for i, place in enumerate(seen.model.places) if place in _LIPS])
    wide = np.float32(np.radians(scene.key.softness) * _WIDENS)
    total = np.zeros(len(at), np.float32)
    for number, (rough, share) in enumerate(_LOBES):
        alpha = (rough**2 + wide) ** 2
        shadowed = np.float32((rough + 1) ** 2 / 8)
        bump = (to_half**2 * (alpha - 1) + 1) ** 2
        masks = (to_key * (1 - shadowed) + shadowed) * (facing * (1 - shadowed) + shadowed)
        total += (share + number * _WET * lips) * alpha * to_key / (4 * bump * masks)
    shine = total * fresnel * lamp[at]
    shine *= np.clip((seen.openness[at] - _SLIT_OPEN) / _SLIT_WIDE, _SLIT_LEFT, 1)
    gloss[at] += shine[:, None] * (power(scene.key.lamp) @ observer()).astype(np.float32)
    return gloss
