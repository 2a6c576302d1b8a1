"""How far what is foreseen of stacks may be off, by what else the sticks may be."""

from __future__ import annotations

from dataclasses import replace
from zlib import crc32

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.optics.media import get_medium
from core.optics.medium import Box
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Stick
from core.optics.touch import packed

_AT_LEAST = 1.0
"""ΔE00 by which even stacks of well-known sticks are off (assumption)."""
_UNTRIED = 0.2
"""Spread of the logarithm of all that is a stick's own, of one that nobody has tried in a tray of others that were
(assumption)."""

_MORE = {"marker": 2.0}
"""How much more stacks may be off than the draws say, which leave what sticks share as it was found: that of markers is
least known. Measured."""


def others_of(box: Box) -> tuple[Box, ...]:
    """The box with its sticks as they may be as well, in all the ways that were drawn; none if nothing was learnt."""
    count = max((stick.fit.count for stick in box.sticks), default=0)
    every = [tuple(_as_other(stick, number) for stick in box.sticks) for number in range(count)]
    return tuple(get_medium(sticks[0].medium).prepare(sticks, box.support) for sticks in every)


def _as_other(stick: Stick, number: int) -> Stick:
    if stick.fit.others:
        return replace(stick, fit=stick.fit.as_other(number))
    # In pairs to both sides, as those that were drawn.
    rng = np.random.default_rng([crc32(stick.code.encode()), number // 2])
    moved = rng.normal(0, _UNTRIED, len(stick.fit.factors())) * (-1) ** number
    drawn = np.array(stick.fit.factors()) * np.exp(moved)
    return replace(stick, fit=replace(stick.fit, others=packed([drawn.tolist()])).as_other(0))


class Doubts:
    """What is not known of a tray laid out."""

    def __init__(self, box: Box) -> None:
        self._box, self._others = box, others_of(box)

    def __bool__(self) -> bool:
        return bool(self._others)

    def of(self, paths: NDArray[np.intp]) -> Floats:
        """ΔE00 (g,) by which stacks (g, depth) are off in the mean, as indices of the box's actions."""
        seen = _labs(self._box, paths)
        off = np.mean([ciede2000(seen, _labs(other, paths)) for other in self._others], axis=0)
        more = _MORE.get(self._box.sticks[0].medium, 1.0)
        return np.asarray(np.hypot(more * off, _AT_LEAST))


def _labs(box: Box, paths: NDArray[np.intp]) -> Floats:
    blank, bare = box.blank()
    roots, deposits = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
    for column in paths.T:
        roots, deposits = box.advance(roots, deposits, column)
    return reflectance_to_lab(box.seen(roots))
