"""Which stick stands in for another: by what it does in use, over what lies under skin, not by its swatch alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats
from core.colour.turned import compared
from core.colour.words import closeness
from core.errors import InputError
from core.optics.media import get_medium
from core.optics.medium import Box
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Stick
from core.optics.support import Support

_LAYING: dict[str, tuple[tuple[float, int], ...]] = {
    # How hard, and how often: a breath, a usual layer, closed.
    "marker": ((1.0, 1), (1.0, 2)),
}
_DRY: tuple[tuple[float, int], ...] = ((0.25, 1), (0.6, 2), (1.0, 2))
_SKINS = np.array([[80.0, 12.0, 18.0], [62.0, 17.0, 24.0], [40.0, 16.0, 20.0]])
"""CIELAB of skin as it lies under a last layer: light, middle, deep (within the measured envelope of docs/skin.md)."""


@dataclass(frozen=True, slots=True)
class StandIn:
    """A stick that would stand in. off: mean ΔE00 in use; worst: where it is farthest off; value: Munsell steps by
    which it is lighter; words: how it differs."""

    stick: Stick
    off: float
    worst: float
    value: float
    words: str


def under_skin(sticks: Sequence[Stick]) -> tuple[Stick, ...]:
    """Of these sticks those that come nearest to skins as they lie under a last layer; each once."""
    if not sticks:
        return ()
    off = ciede2000(_SKINS[:, None], np.array([stick.lab for stick in sticks])[None])
    return tuple(sticks[i] for i in dict.fromkeys(map(int, off.argmin(axis=1))))


def looks(sticks: Sequence[Stick], support: Support, under: Sequence[Stick]) -> Floats:
    """CIELAB (n, k, 3) of sticks of one medium in use: laid thinly, as usual and closed on bare paper, thinly and as
    usual over each of the sticks `under`. Raises InputError (`no_swatch`, `two_media`)."""
    media = {stick.medium for stick in (*sticks, *under)}
    if len(media) != 1:
        raise InputError("two_media", "Sticks of two media do not stand in for each other.", "Ask for one.", "code")
    medium = media.pop()
    laying = _LAYING.get(medium, _DRY)
    box = get_medium(medium).prepare((*sticks, *under), support)
    n = len(sticks)
    bare, deposit = box.blank()
    grounds = [(bare, np.full(1, float(deposit)))]
    grounds += [_laid(box, bare, np.full(1, float(deposit)), np.array([n + i]), laying[0]) for i in range(len(under))]
    colours = []
    for number, (roots, filled) in enumerate(grounds):
        for how in laying if number == 0 else laying[:2]:
            after, _ = _laid(box, np.repeat(roots, n, axis=0), np.repeat(filled, n), np.arange(n), how)
            colours.append(reflectance_to_lab(box.seen(after)))
    return np.stack(colours, axis=1)


def _laid(box: Box, roots: Any, filled: Floats, sticks: NDArray[np.intp], how: tuple[float, int]) -> tuple[Any, Floats]:
    pressure, times = how
    return box.strokes(
        roots, filled, sticks, np.full(len(sticks), pressure), np.full(len(sticks), times, dtype=np.intp)
    )


def stand_ins(
    wanted: Stick, candidates: Sequence[Stick], support: Support, under: Sequence[Stick], most: int = 3
) -> list[StandIn]:
    """The candidates of its medium that come nearest to a stick in use, the best first."""
    fitting = [stick for stick in candidates if stick.medium == wanted.medium]
    if not fitting:
        return []
    held = looks((wanted, *fitting), support, [stick for stick in under if stick.medium == wanted.medium])
    off = ciede2000(held[1:], held[:1])
    mean = off.mean(axis=1)
    found = []
    for i in np.argsort(mean, kind="stable")[:most]:
        apart = float(lab_to_value(held[i + 1, 1]) - lab_to_value(held[0, 1]))
        words = compared(held[0, 1], held[i + 1, 1])
        said = closeness(float(mean[i])) + (f": {words}" if words else "")
        found.append(StandIn(fitting[i], float(mean[i]), float(off[i].max()), apart, said))
    return found
