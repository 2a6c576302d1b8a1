"""The ways of seeing a lit sitter: those of a reference where they are the same, planes and families of its own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.spaces import SRGB
from core.errors import InputError
from core.light.families import families_of
from core.light.picture import as_it_is, displayed, on_ground
from core.light.shade import Lit
from core.light.view import spreading
from core.look import views
from core.look.views import Pixels, Small

_STEPS, _PUSH = 5, 3
_ROUNDS, _WIDE = 5, 0.03
_GREYS = (250, 236, 178, 74, 128, 40)
"""A grey for each family, light to dark as they are drawn: the map's hatches say the same without any tone."""


@dataclass(frozen=True, slots=True)
class Way:
    """One way of seeing a sitter. see: pixels (size, size, 3)."""

    id: str
    name: str
    see: Callable[[Lit], Pixels]


def _of_picture(see: Callable[[Small], Pixels]) -> Callable[[Lit], Pixels]:
    def seen(lit: Lit) -> Pixels:
        whole = see(Small(as_it_is(lit), SRGB))
        return on_ground(lit, whole.reshape(-1, 3)[lit.view.pixel])

    return seen


def planes(lit: Lit) -> Pixels:
    """Every facet of the model in its own mean colour; borders are smoothed on the model and decided by pixel."""
    model, vertex = lit.view.model, lit.view.vertex
    count = int(model.plane.max()) + 1
    belongs = np.zeros((len(model.vertices), count), np.float32)
    belongs[np.arange(len(belongs)), model.plane] = 1
    spreads = spreading(model.name, _WIDE)
    for _ in range(_ROUNDS):
        belongs = spreads @ belongs
    plane = np.asarray((lit.view.to_pixels @ belongs[vertex]).argmax(axis=1))
    number = np.maximum(np.bincount(plane, minlength=count), 1)
    body = lit.xyz - lit.gloss * 0.6
    means = np.stack([np.bincount(plane, column, count) / number for column in body.T], axis=1)
    return on_ground(lit, displayed(means[plane].astype(np.float32)))


def families(lit: Lit) -> Pixels:
    """The families in six greys."""
    greys: NDArray[np.uint8] = np.array(_GREYS, np.uint8)[families_of(lit)]
    return on_ground(lit, np.repeat(greys[:, None], 3, axis=1))


WAYS: dict[str, Way] = {
    way.id: way
    for way in (
        Way("as_it_is", "As it is", as_it_is),
        Way("values", "Values", _of_picture(lambda small: views.values(small, _STEPS))),
        Way("planes", "Planes", planes),
        Way("families", "Light and shade", families),
        Way("pushed", "Hidden hues", _of_picture(lambda small: views.pushed(small, _PUSH))),
    )
}
"""By id, in the order in which they are offered."""


def get_way(way_id: str) -> Way:
    """The way of seeing with this id. Raises InputError (`bad_view`)."""
    if way_id not in WAYS:
        raise InputError("bad_view", f"There is no view “{way_id[:40]}”.", f"Use {', '.join(WAYS)}.", "way")
    return WAYS[way_id]
