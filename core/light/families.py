"""Families of light and shade on a lit sitter, and the colour of each place in each of them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.colour.difference import ciede2000
from core.colour.spaces import xyz_to_lab
from core.light.shade import Lit
from core.light.surface import Ints
from core.look.roles import Place, Role

Family = Literal["highlight", "light", "half-tone", "core shadow", "reflected light", "cast shadow"]
FAMILIES: tuple[Family, ...] = get_args(Family)
_ROLES: dict[Family, Role] = {
    "highlight": "highlight", "light": "light", "half-tone": "half-shadow", "core shadow": "shadow",
    "reflected light": "reflected light", "cast shadow": "shadow",
}  # fmt: skip

_SHORT: dict[Family, str] = {
    "highlight": "shine", "light": "light", "half-tone": "half-tone", "core shadow": "shade",
    "reflected light": "bounce", "cast shadow": "cast shade",
}  # fmt: skip
"""As an artist says it; names of spots stand in narrow lists."""

_LIT, _HALF, _TURNED, _AWAY = 0.55, 0.12, 0.10, -0.2
_SHINES, _SHINES_MORE, _SHINES_WHERE = 0.03, 0.30, 0.3
_REFLECTED_ABOVE = 0.55
_DARKEST = 0.02
_FEWEST = 20 / 384**2
"""Of the picture: a place has a colour of its own in a family where that much of it shows."""
_INSIDE, _WIDEST = 0.7, 0.03
"""How much of the room at its middle a mark takes, and how much of the picture at most."""
_APART = 3.0
"""ΔE00 below which two places are one to an artist (common practice)."""
FEWEST_SPOTS, MOST_SPOTS = 12, 18
_NEVER: tuple[str, ...] = ("hairline",)
_TELLING: tuple[tuple[str, ...], ...] = (
    ("lower lip",), ("upper lip",), ("nose tip",), ("ear",), ("under-eye", "upper lid"), ("knuckles", "finger tip"),
    ("palm", "nail"),
)  # fmt: skip
"""Places with blood or a colour of their own: one of each group is proposed if it shows."""


def families_of(lit: Lit) -> NDArray[np.int8]:
    """The family of each pixel (k,), as an index into FAMILIES.

    By the cosine c to the key, the part of it that is seen, what arrives of it and what is mirrored: light from 0.55,
    half-tone from 0.12; what faces the key with less than half of it seen lies in a cast shadow, what turns away (c <
    0.1) in the core; reflected light is what turns well away and gets more from around than most of the shade does;
    a highlight mirrors 3 % of white or more, and 30 % of what the skin itself sends back. The limits are the study's,
    after what is usual in drawing books (common practice).
    """
    body = lit.xyz[:, 1] - lit.gloss[:, 1]
    family = np.full(len(body), FAMILIES.index("light"), dtype=np.int8)
    family[lit.key < _LIT] = FAMILIES.index("half-tone")
    turned = lit.cosine < _TURNED
    family[(lit.key < _HALF) | turned] = FAMILIES.index("core shadow")
    family[(lit.visible < 0.5) & ~turned] = FAMILIES.index("cast shadow")
    shade = family >= FAMILIES.index("core shadow")
    if shade.any():
        bright = lit.around > np.quantile(lit.around[shade], _REFLECTED_ABOVE)
        family[turned & (lit.cosine < _AWAY) & bright] = FAMILIES.index("reflected light")
    shine = lit.gloss[:, 1]
    family[(shine > _SHINES_MORE * body) & (shine > _SHINES) & (lit.key > _SHINES_WHERE)] = FAMILIES.index("highlight")
    return family


@dataclass(frozen=True, slots=True)
class Target:
    """A place in a family: its mean colour in CIELAB, unclipped; share: of all that shows; where it is marked: x, y and
    radius in parts of the picture's side."""

    place: Place
    family: Family
    role: Role
    lab: tuple[float, float, float]
    share: float
    x: float
    y: float
    radius: float

    @property
    def name(self) -> str:
        """Such as `throat cast shade`."""
        return f"{self.place} {'accent' if self.role == 'deep accent' else _SHORT[self.family]}"


def targets(lit: Lit) -> tuple[Target, ...]:
    """Every place in every family that shows enough of it, families in order, the largest place first."""
    family, place = families_of(lit), lit.view.place
    names = lit.view.model.places
    # One number for each place in each family: all are told apart in one go.
    code = family.astype(np.int64) * len(names) + place
    order = np.argsort(code, kind="stable")
    codes, starts = np.unique(code[order], return_index=True)
    found = []
    for number, mine in zip(codes, np.split(order, starts[1:]), strict=True):
        in_family, at = FAMILIES[number // len(names)], names[number % len(names)]
        if at not in _NEVER and _enough(mine, lit):
            found.append(_target(lit, at, in_family, _ROLES[in_family], mine))
    return tuple(sorted(found, key=lambda row: (FAMILIES.index(row.family), -row.share)))


def _enough(mine: Ints, lit: Lit) -> bool:
    return len(mine) >= max(_FEWEST * lit.view.size**2, 4)


def _target(lit: Lit, place: str, family: Family, role: Role, mine: Ints) -> Target:
    """What the pixels of those numbers (n,) are, marked where they lie thickest."""
    size = lit.view.size
    rows, columns = np.divmod(lit.view.pixel[mine], size)
    top, left = rows.min() - 1, columns.min() - 1
    area = np.zeros((rows.max() - top + 2, columns.max() - left + 2), bool)
    area[rows - top, columns - left] = True
    depth = ndimage.distance_transform_edt(area)
    row, column = np.unravel_index(int(depth.argmax()), depth.shape)
    radius = min(max(float(depth.max()) * _INSIDE, 1.0), size * _WIDEST) / size
    lightness, a, b = (float(v) for v in xyz_to_lab(lit.xyz[mine].mean(axis=0, dtype=float)))
    return Target(
        place,  # type: ignore[arg-type]  # a model's places are of PLACES: tested
        family,
        role,
        (lightness, a, b),
        len(mine) / len(lit.xyz),
        (column + left + 0.5) / size,
        (row + top + 0.5) / size,
        radius,
    )


def target_of(lit: Lit, mine: Ints, x: float, y: float, radius: float) -> Target:
    """What the pixels of those numbers (n,) mostly are, marked where it is said."""
    family = FAMILIES[int(np.bincount(families_of(lit)[mine], minlength=len(FAMILIES)).argmax())]
    place = lit.view.model.places[int(np.bincount(lit.view.place[mine]).argmax())]
    return replace(_target(lit, place, family, _ROLES[family], mine), x=x, y=y, radius=radius)


def proposed(lit: Lit, every: Sequence[Target]) -> tuple[Target, ...]:
    """FEWEST_SPOTS to MOST_SPOTS of all targets that say most of a sitter, from light to dark.

    The largest place of each family; one of each group of places with a colour of their own; the darkest 2 % as a deep
    accent; then whatever covers most and differs most from what is there, until nothing does by _APART.
    """
    chosen: list[Target] = []
    far = np.full(len(every), np.inf)

    def take(row: Target) -> None:
        chosen.append(row)
        labs = np.array([other.lab for other in every])
        np.minimum(far, ciede2000(labs, np.array(row.lab)), out=far)

    def take_largest(rows: Iterable[Target]) -> None:
        largest = max((row for row in rows if row not in chosen), key=lambda row: row.share, default=None)
        if largest:
            take(largest)

    for family in FAMILIES:
        take_largest(row for row in every if row.family == family)
    for group in _TELLING:
        take_largest(row for row in every if row.place in group)
    accent = _deep_accent(lit)
    shadows = np.array([row.lab for row in chosen if row.role == "shadow"]).reshape(-1, 3)
    if accent and (ciede2000(shadows, np.array(accent.lab)) >= _APART).all():
        take(accent)
    shares = np.sqrt([row.share for row in every])
    while len(chosen) < min(MOST_SPOTS, len(every)):
        best = int(np.argmax(np.minimum(far, 3 * _APART) * shares))
        if (far[best] < _APART and len(chosen) >= FEWEST_SPOTS) or not far[best]:
            break
        take(every[best])
    return tuple(sorted(chosen, key=lambda row: -row.lab[0]))


def _deep_accent(lit: Lit) -> Target | None:
    """The darkest of what shows, where most of it lies."""
    grey = lit.xyz[:, 1]
    dark = grey <= np.quantile(grey, _DARKEST)
    names = lit.view.model.places
    usual = np.array([name not in _NEVER for name in names])
    counts = np.bincount(lit.view.place[dark], minlength=len(names)) * usual
    mine = np.flatnonzero(dark & (lit.view.place == int(counts.argmax())))
    if not _enough(mine, lit):
        return None
    family = FAMILIES[int(np.bincount(families_of(lit)[mine], minlength=len(FAMILIES)).argmax())]
    return _target(lit, names[int(counts.argmax())], family, "deep accent", mine)
