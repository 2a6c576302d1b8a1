"""Areas that a hand finds without a map: by light, by value, by place; and what an area is called."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats
from core.layers.frame import Flags

BLOOD_PLACES = (
    "cheek", "cheekbone", "nose tip", "ear", "knuckles", "elbow", "knee", "finger tip", "shoulder", "tear duct",
)  # fmt: skip
LIPS = ("upper lip", "lower lip", "lip corner")
COOL_PLACES = ("jaw", "mouth surround", "chin", "under-eye", "eye socket", "temple", "inner arm", "philtrum")
"""Common practice, no published source: where blood lies near the surface, and where skin is cooler."""
_FROM_LIGHT = ("highlight", "light", "middle", "half-shadow", "shadow", "deep accent")
_DARKER = {
    "light": "all but the highlights",
    "middle": "everything from the middle tones down",
    "half-shadow": "half-tone and darker",
    "shadow": "the shadows",
    "deep accent": "the deepest accents",
}
_LIGHTER = {
    "highlight": "the highlights",
    "light": "the lights",
    "middle": "the lights and the middle tones",
    "half-shadow": "all but the shadows",
    "shadow": "all but the deepest accents",
}
_ONE = {"middle": "the middle tones", "half-shadow": "the half-tones", "shadow": "the shadows, not the deepest accents"}
_MOST_APART = 3
_BY_VALUE = 0.9
"""A border by value is read off the ladder, not seen on the face."""


@dataclass(frozen=True, slots=True)
class Spot:
    """A place of the figure, as far as areas go."""

    name: str
    place: str
    role: str
    lab: tuple[float, float, float]


@dataclass(frozen=True, slots=True, eq=False)
class Areas:
    """masks (v, m): which places each natural area holds; words: what each is called, the plainest first. awkward (v,):
    how many places more or less of a plainer area are as easy to say."""

    spots: tuple[Spot, ...]
    masks: Flags
    words: tuple[str, ...]
    awkward: Floats

    def nearest(self, laid: Flags) -> int:
        """The number of the natural area by which this one (m,) is said most easily."""
        return int(np.argmin(np.abs(self.masks.astype(int) - laid).sum(axis=1) + self.awkward))

    def called(self, laid: Flags) -> str:
        """An area (m,) in words: a natural one and what departs from it, or its places one by one."""
        if not laid.any():
            return "nowhere"
        number = self.nearest(laid)
        mask = self.masks[number]
        more, less = (_listed(self.spots, which) for which in (laid & ~mask, mask & ~laid))
        if len(more) + len(less) > _MOST_APART or len(more) + len(less) >= np.count_nonzero(laid):
            return _joined(_listed(self.spots, laid))
        said = self.words[number]
        if more:
            said += f" and {_joined(more)}"
        return said + (f", but not {_joined(less)}" if less else "")


def areas_of(spots: Sequence[Spot]) -> Areas:
    """The natural areas of these places."""
    found: dict[bytes, tuple[NDArray[np.bool_], str, float]] = {}

    def add(mask: NDArray[np.bool_], words: str, awkward: float = 0.0) -> None:
        if mask.any():
            found.setdefault(mask.tobytes(), (mask, words, awkward))

    m = len(spots)
    add(np.ones(m, dtype=bool), "all the skin")
    depth = np.array([_FROM_LIGHT.index(s.role) if s.role in _FROM_LIGHT else 3 for s in spots], dtype=int)
    for i, role in enumerate(_FROM_LIGHT):
        if role in _DARKER:
            add(depth >= i, _DARKER[role])
        if role in _LIGHTER:
            add(depth <= i, _LIGHTER[role])
    for role, words in _ONE.items():
        add(depth == _FROM_LIGHT.index(role), words)
    for i in range(1, 5):
        for j in range(i + 1, 5):
            add((depth >= i) & (depth <= j), f"from {_plural(_FROM_LIGHT[i])} to {_plural(_FROM_LIGHT[j])}")
    _by_place(spots, depth, add)
    _by_value(spots, add)
    rows = found.values()
    masks, awkward = np.array([mask for mask, _, _ in rows]), np.array([weight for _, _, weight in rows])
    return Areas(tuple(spots), masks, tuple(said for _, said, _ in rows), awkward)


def _by_place(spots: Sequence[Spot], depth: NDArray[np.int_], add: _Add) -> None:
    for places, words in ((BLOOD_PLACES, "the blood places"), (LIPS, "the lips"), (COOL_PLACES, "the cool places")):
        here = np.array([spot.place in places for spot in spots], dtype=bool)
        add(here, words)
        add(here & (depth <= 2), f"{words} in the light")
        add(here & (depth > 2), f"{words} in the shade")
    for place in dict.fromkeys(spot.place for spot in spots):
        if place != "other":
            add(np.array([spot.place == place for spot in spots], dtype=bool), _the(place))
    for i, spot in enumerate(spots):
        add(np.arange(len(spots)) == i, spot.name or _the(spot.place))


def _by_value(spots: Sequence[Spot], add: _Add) -> None:
    labs: Floats = np.array([spot.lab for spot in spots], dtype=float).reshape(-1, 3)
    order = np.argsort(labs[:, 0], kind="stable")
    value = lab_to_value(labs[order])
    for i in range(len(spots) + 1):
        for j in range(i + 1, len(spots) + 1):
            mask = np.zeros(len(spots), dtype=bool)
            mask[order[i:j]] = True
            low = (value[i - 1] + value[i]) / 2 if i else 0.0
            high = (value[j - 1] + value[j]) / 2 if j < len(spots) else 10.0
            if not i:
                add(mask, f"everything darker than value {high:.1f}", _BY_VALUE)
            elif j == len(spots):
                add(mask, f"everything lighter than value {low:.1f}", _BY_VALUE)
            else:
                add(mask, f"values {low:.1f} to {high:.1f}", 2 * _BY_VALUE)


class _Add(Protocol):
    """What takes an area and its words."""

    def __call__(self, mask: NDArray[np.bool_], words: str, awkward: float = 0.0) -> None: ...


def _the(place: str) -> str:
    return place if place.startswith("under ") else f"the {place}"


def _plural(role: str) -> str:
    return {"light": "the lights", "middle": "the middle tones", "half-shadow": "the half-tones"}.get(
        role, f"the {role}s"
    )


def _listed(spots: Sequence[Spot], which: Flags) -> list[str]:
    return [spot.name or _the(spot.place) for spot, held in zip(spots, which, strict=True) if held]


def _joined(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}" if words else ""
