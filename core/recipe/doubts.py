"""How far what is foreseen of stacks may be off, by what else the sticks may be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.spaces import Floats
from core.optics.media import facts_of, get_medium
from core.optics.medium import Box
from core.optics.spectra import reflectance_to_lab

_AT_LEAST = 1.0
"""ΔE00 by which even stacks of well-known sticks are off (assumption)."""


def others_of(box: Box) -> tuple[Box, ...]:
    """The box with its sticks as they may be as well, in all the ways that were drawn; none if nothing was learnt."""
    count = max((len(stick.fit.others) for stick in box.sticks), default=0)
    every = [tuple(replace(s, fit=s.fit.as_other(number)) for s in box.sticks) for number in range(count)]
    return tuple(get_medium(sticks[0].medium).prepare(sticks, box.support) for sticks in every)


class Doubts:
    """What is not known of a tray laid out."""

    def __init__(self, box: Box) -> None:
        self._box, self._others = box, others_of(box)
        self._untried = np.array([not box.sticks[action.stick].fit.others for action in box.actions], dtype=bool)

    def __bool__(self) -> bool:
        return bool(self._others)

    def of(self, paths: NDArray[np.intp]) -> Floats:
        """ΔE00 (g,) by which stacks (g, depth) are off in the mean, as indices of the box's actions; those with a stick
        of which nothing was learnt by no less than untried ones."""
        seen = _labs(self._box, paths)
        known = np.hypot(np.mean([ciede2000(seen, _labs(other, paths)) for other in self._others], axis=0), _AT_LEAST)
        untried = self._untried[paths].any(axis=1)
        return np.asarray(np.where(untried, np.maximum(known, facts_of(self._box.sticks[0].medium).untried), known))


def _labs(box: Box, paths: NDArray[np.intp]) -> Floats:
    blank, bare = box.blank()
    roots, deposits = np.repeat(blank, len(paths), axis=0), np.full(len(paths), bare)
    for column in paths.T:
        roots, deposits = box.advance(roots, deposits, column)
    return reflectance_to_lab(box.seen(roots))
