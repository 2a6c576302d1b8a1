"""Layers as steps of work: what is ticked at once, and in which order it may be done."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from core.look.roles import SHADOW_ROLES, Place

Order = Literal["by layer", "one figure after the other", "by feature", "one area finished"]
ORDERS: tuple[Order, ...] = get_args(Order)

FEATURES: Mapping[str, tuple[Place, ...]] = {
    "forehead": ("forehead", "hairline", "temple"),
    "eyes": (
        "brow", "brow hair", "eye socket", "crease", "upper lid", "lash line", "eye white", "iris", "pupil",
        "catchlight", "tear duct", "under-eye",
    ),
    "nose": ("nose bridge", "nose tip", "nose side", "nostril"),
    "cheeks and ears": ("cheek", "cheekbone", "ear"),
    "mouth": ("philtrum", "upper lip", "lower lip", "lip corner", "mouth surround", "teeth"),
    "chin and jaw": ("jaw", "chin", "under the chin"),
    "wrinkles and freckles": ("wrinkle", "freckle"),
    "neck": ("neck", "throat", "collar bone"),
    "body": ("shoulder", "chest", "arm", "inner arm", "elbow", "knee"),
    "hair": ("hair light", "hair shade"),
    "hands": ("wrist", "hand", "palm", "knuckles", "finger", "finger tip", "nail"),
}  # fmt: skip
"""From the top down, as a face is gone over."""
_FEATURE_OF = {place: feature for feature, places in FEATURES.items() for place in places}
_ELSEWHERE = "elsewhere"


@dataclass(frozen=True, slots=True)
class Spot:
    """A place of a figure. figure: its number; id: its own."""

    id: str
    figure: int
    name: str
    place: str
    role: str

    @property
    def feature(self) -> str:
        return _FEATURE_OF.get(self.place, _ELSEWHERE)  # type: ignore[call-overload, no-any-return]


@dataclass(frozen=True, slots=True)
class Part:
    """What is ticked at once: the spots of a layer in one feature of one figure."""

    figure: int
    feature: str
    spots: tuple[Spot, ...]


@dataclass(frozen=True, slots=True)
class Step:
    """A layer, or a part of it. layer: its number among all layers; parts: from the top of the face down."""

    layer: int
    parts: tuple[Part, ...]


def tick_of(layer: str, spot: str) -> str:
    """The id by which a layer is ticked at a spot: the same whatever the order of work is."""
    return hashlib.sha256(f"{layer}/{spot}".encode()).hexdigest()[:16]


def steps_of(laid: Sequence[Sequence[Spot]], order: Order) -> list[Step]:
    """The steps of work. laid: for every layer in working order, the spots on which it lies."""
    by: dict[Order, Callable[[Spot], tuple[object, ...]]] = {
        "by layer": lambda spot: (),
        "one figure after the other": lambda spot: (spot.figure,),
        "by feature": lambda spot: (spot.figure, _rank(spot.feature)),
        "one area finished": lambda spot: (spot.figure, _area(spot.role)),
    }
    group = by[order]
    groups = sorted({group(spot) for spots in laid for spot in spots})
    found = [
        Step(i, _parts([spot for spot in laid[i] if group(spot) == its])) for its in groups for i in range(len(laid))
    ]
    return [step for step in found if step.parts]


def _parts(spots: Sequence[Spot]) -> tuple[Part, ...]:
    keys = sorted({(spot.figure, _rank(spot.feature)) for spot in spots})
    held = [(key, tuple(spot for spot in spots if (spot.figure, _rank(spot.feature)) == key)) for key in keys]
    return tuple(Part(figure, its[0].feature, its) for (figure, _), its in held)


def _area(role: str) -> int:
    """The lights, what lies between, the shade: an area is finished before the next is begun."""
    return 2 if role in SHADOW_ROLES else int(role == "middle")


def _rank(feature: str) -> int:
    return [*FEATURES, _ELSEWHERE].index(feature)
