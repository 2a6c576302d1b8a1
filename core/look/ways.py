"""The ways of seeing a reference, as a registry: what each is called, how strong it can be, how it is made."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from core.colour.spaces import lab_to_xyz, xyz_to_lab
from core.errors import InputError
from core.look import views
from core.look.balance import Balance
from core.look.study import Study
from core.look.views import Pixels, Small


@dataclass(frozen=True, slots=True)
class Scene:
    """What is seen. study: gives what the reference shows of its figures, and is asked only where that is needed."""

    small: Small
    study: Callable[[], Study]
    balance: Balance | None = None

    def owners(self) -> NDArray[np.uint8]:
        """Whose skin each pixel (h, w) of the small picture is: 0 for nobody's, else 1 + the figure's number."""
        return views.enlarged(self.study().owners, self.small)


@dataclass(frozen=True, slots=True)
class Way:
    """One way of seeing. amounts: lowest and highest of what its slider sets, None without one; usual: to begin with.

    says: what the amount is one of. see: sRGB pixels (h, w, 3) of a scene, with an amount, and with borders if wanted.
    """

    id: str
    name: str
    see: Callable[[Scene, int, bool], Pixels]
    amounts: tuple[int, int] | None = None
    usual: int = 0
    says: str = ""


def _temperature(scene: Scene, _: int, __: bool) -> Pixels:
    """Warm and cool against the figure's own average; against the whole picture's where several are in it."""
    shown = scene.study()
    skins = [(shown.of(i), figure.average) for i, figure in enumerate(shown.figures) if figure.average]
    rest = xyz_to_lab(views.light_of(shown.small).mean(axis=(0, 1), dtype=float))
    areas: list[tuple[NDArray[np.bool_] | None, ArrayLike]] = [(None, skins[0][1] if len(skins) == 1 else rest)]
    for mask, average in skins if len(skins) > 1 else []:
        areas.append((views.enlarged(mask.astype(np.uint8), scene.small).astype(bool), average))
    if scene.balance is not None:
        balance = scene.balance
        areas = [(area, xyz_to_lab(balance.apply(lab_to_xyz(average)))) for area, average in areas]
    return views.warm_and_cool(scene.small, areas, scene.balance)


def _families(scene: Scene, _: int, __: bool) -> Pixels:
    light = views.enlarged(scene.study().light.astype(np.uint8), scene.small) > 0
    return views.families(scene.small, scene.owners(), light, scene.balance)


WAYS: dict[str, Way] = {
    way.id: way
    for way in (
        Way("as_it_is", "As it is", lambda scene, _, __: views.as_it_is(scene.small, scene.balance)),
        Way(
            "values",
            "Values",
            lambda scene, steps, borders: views.values(scene.small, steps, borders),
            (views.FEWEST_STEPS, views.MOST_STEPS),
            5,
            "values",
        ),
        Way(
            "squint",
            "Squint",
            lambda scene, amount, _: views.squint(scene.small, amount, scene.balance),
            (1, len(views.SQUINTS)),
            3,
            "squint",
        ),
        Way("temperature", "Warm and cool", _temperature),
        Way(
            "pushed",
            "Hidden hues",
            lambda scene, amount, _: views.pushed(scene.small, amount, scene.balance),
            (1, len(views.PUSHES)),
            3,
            "push",
        ),
        Way("families", "Light and shadow", _families),
        Way("skin", "Skin", lambda scene, _, __: views.skin_alone(scene.small, scene.owners() > 0, scene.balance)),
    )
}
"""By id, in the order in which they are offered."""


def get_way(way_id: str) -> Way:
    """The way of seeing with this id. Raises InputError (`bad_view`)."""
    if way_id not in WAYS:
        raise InputError("bad_view", f"There is no view “{way_id[:40]}”.", f"Use {', '.join(WAYS)}.", "kind")
    return WAYS[way_id]
