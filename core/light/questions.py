"""Questions about an imagined light that take a moment: plain values in and out, so that another process can answer."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace

import numpy as np
from PIL import Image

from core.colour.spaces import lab_to_hex
from core.errors import InputError
from core.light.jobs import Job, jobs
from core.light.scene import Scene, check_scene
from core.light.shade import light
from core.light.sheet import Told, drawn, lit_of, told
from core.light.ways import get_way
from core.look.views import Pixels
from core.optics.spectra import reflectance_to_lab
from core.skin.describe import DEEPEST, PALEST, Description, skins_at
from core.skin.reflectance import skin_reflectance

_DRAGGED = 384
"""Up to this size a picture is wanted at once, and packed in a way that is quick."""
_QUALITY = 92
_TOLD_FROM = 384
_RAMP = 12
_RAMPS = {
    "depth": (PALEST, DEEPEST), "undertone": (5.0, 95.0), "strength": (5.0, 95.0), "flush": (0.0, 1.0),
    "sun": (0.0, 1.0), "age": (0.0, 1.0), "beard": (0.0, 1.0),
}  # fmt: skip
_SHOWN_AT = {"flush": "cheek", "sun": "forehead", "age": "cheek", "beard": "jaw"}


def picture_of(scene: Scene, number: int, size: int, way: str) -> bytes:
    """A sitter seen in a way (core.light.ways), as JPEG while it is small, else as PNG. Raises InputError (`no_sitter`,
    `bad_view`, and what `check_scene` raises), ModelError."""
    _check_sitter(scene, number)
    return _packed(get_way(way).see(light(scene, number, size)), size <= _DRAGGED)


def sheet_of(scene: Scene) -> bytes:
    """All sitters on one sheet, as PNG. Raises as core.light.sheet.lit_of."""
    return _packed(drawn(scene), False)


def _packed(pixels: Pixels, quickly: bool) -> bytes:
    out = io.BytesIO()
    image = Image.fromarray(pixels)
    if quickly:
        image.save(out, "JPEG", quality=_QUALITY, subsampling=0)
    else:
        image.save(out, "PNG", compress_level=3)
    return out.getvalue()


@dataclass(frozen=True, slots=True)
class Explained:
    """What is told of a sitter, its jobs, and the colours that each slider of its complexion runs through."""

    told: Told
    jobs: tuple[Job, ...]
    ramps: dict[str, tuple[str, ...]]


def explained(scene: Scene, number: int, steps: int) -> Explained:
    """All of it for a sitter, from a picture large enough to tell its places apart. Raises InputError (`no_sitter`, and
    what core.light.scene.check_scene and core.light.jobs.jobs raise), ModelError."""
    _check_sitter(scene, number)
    lit = light(scene, number, _TOLD_FROM)
    return Explained(told(scene, number, lit), jobs(lit, steps), ramps_of(scene.sitters[number].skin))


def proposals(scene: Scene) -> tuple[Told, ...]:
    """What is proposed for every sitter, from the sheet itself. Raises as core.light.sheet.lit_of."""
    return tuple(told(scene, number, lit) for number, lit in enumerate(lit_of(scene)))


def _check_sitter(scene: Scene, number: int) -> None:
    check_scene(scene)
    if number >= len(scene.sitters):
        raise InputError("no_sitter", "There is nobody in that place.", "Choose another figure.", "number")


def ramps_of(skin: Description) -> dict[str, tuple[str, ...]]:
    """The hex colours that each slider of a complexion runs through, as it shows at the place where it shows most."""
    found = {}
    for name, (low, high) in _RAMPS.items():
        steps = [replace(skin, **{name: float(at)}) for at in np.linspace(low, high, _RAMP)]
        if name in _SHOWN_AT:
            held = np.array([skins_at(one, (_SHOWN_AT[name],)).held[0] for one in steps])
            labs = reflectance_to_lab(skin_reflectance(held))
        else:
            labs = np.array([one.lab for one in steps])
        found[name] = tuple(lab_to_hex(lab) for lab in labs)
    return found
