"""One fit of all measured boxes of a tray, paper and hand: what is shared first, then what is each stick's own."""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass, replace
from typing import Any, TypeVar, cast

import numpy as np
from scipy.special import chdtri

from core.colour.spaces import Floats
from core.errors import InputError
from core.optics.media import facts_of, get_medium
from core.optics.medium import Pass
from core.optics.stick import Stick
from core.optics.support import Support
from core.optics.touch import packed
from core.trial.space import Space, Stacks

T = TypeVar("T")

HAND = 0.15
"""Spread of the logarithm of what a practised hand lays in one pass (assumption)."""
READING = 1.0
"""Error of a measured box, in CIEDE2000 (assumption)."""
_MODEL = {"marker": 0.5, "oil_pastel": 0.6}
_MODEL_USUAL = 1.0
"""How far the best fit of this model still is from paper, in CIEDE2000 (assumption, until boxes show it)."""
MAX_BOXES = 2000
ROUNDS = 10
_SPREADS_AGAIN = (3, 6)
"""After which rounds the usual spreads are estimated anew from this tray."""
_SPREADS_FROM = 24
"""How many boxes tell how much sticks differ; fewer make plans worse by it. Measured."""
_SPREADS_WITHIN = 2.5
_COVERS_TOO = 0.35
"""How much a heavier hand's coverage grows, in odds, with what it lays."""
_STEPS_WITHIN = 2.0
_BELIEF, _FEW_WIDER = 5.0, {"pencil": 0.7, "marker": 1.15, "pastel": 1.2, "oil_pastel": 1.4}
"""How much wider bands are before boxes have told how wide they must be, and how many boxes' worth of belief there is
in that. Measured."""
_UNTRIED_WIDER = {"pencil": 0.9, "marker": 1.15, "pastel": 1.2, "oil_pastel": 1.4}
"""How much wider bands are than the usual spreads say as long as there is no box: so that they fit by how much untried
sticks are off (see core.optics.media.Facts)."""
_CHOSEN_WIDER = {"pencil": (1.3, 1.3), "marker": (1.0, 1.5), "pastel": (1.55, 0.9), "oil_pastel": (1.15, 0.9)}
"""How much farther off a stack is that was chosen for what is foreseen of it than one that lies on a card: by what is
not known of its sticks, and by what the best fit leaves. Measured."""
_ALONE_WIDER = {"pencil": 0.65, "marker": 1.2, "pastel": 0.75, "oil_pastel": 1.6}
"""How much wider bands of stacks are where single sticks alone were tried. Measured."""
_MOST_OFF = 2.5
"""How much farther off than untried stacks in the mean the worst of them may be (assumption)."""
_STACKS_TELL = 6
"""How many boxes of several sticks must be there before what is shared is believed of stacks. Measured."""
_OTHERS, _OTHERS_SEED = 16, 3
"""How many trays besides the likeliest say what it may be as well."""
_WIDER = np.linspace(1.0, 4.0, 31)
_PART = 0.8


@dataclass(frozen=True, slots=True)
class MeasuredBox:
    """Passes as they were really laid, the CIELAB that was measured, and the reading's own error (CIEDE2000)."""

    passes: tuple[Pass, ...]
    lab: tuple[float, float, float]
    doubt: float = READING


@dataclass(frozen=True, slots=True, eq=False)
class Learnt:
    """What boxes have shown. point (size,) and covariance (size, size): see `Space`. wider: by how much bands are
    wider than the fit itself says. off: how far each box is from the fit, in units of what it may be (n,); held_out:
    CIEDE2000 between each box and what is foreseen of it from all others (n,)."""

    space: Space
    point: Floats
    covariance: Floats
    wider: float
    off: Floats
    held_out: Floats

    @property
    def sticks(self) -> tuple[Stick, ...]:
        """As given, with what was learnt of them."""
        return self.space.sticks_at(self.point)

    def doubted(self, stacks: Sequence[Sequence[Pass]]) -> tuple[Stick, ...]:
        """The sticks, with how far what is foreseen of them is off: in those of the stacks that hold them, or alone; no
        farther than before anything was tried. And with what they may be as well, see `drawn`."""
        usual = get_medium(self.space.medium).pressures
        alone = [(Pass(stick.code, usual[len(usual) // 2]),) for stick in self.sticks]
        bands, most = self.bands([*alone, *stacks], 0.5), facts_of(self.space.medium).untried
        found = []
        others = [self.space.sticks_at(point) for point in self.drawn(_OTHERS)]
        for i, stick in enumerate(self.sticks):
            may_be = packed([other[i].fit.factors() for other in others])
            held = [j for j, stack in enumerate(stacks, len(alone)) if any(p.stick == stick.code for p in stack)]
            doubt = round(min(float(bands[held or [i]].mean()), most), 2)
            found.append(replace(stick, fit=replace(stick.fit, doubt=doubt, others=may_be)))
        return tuple(found)

    def drawn(self, count: int) -> list[Floats]:
        """So many points that are about as likely, for what is shared as it is: drawn, in pairs to both sides, from
        what is not known of the sticks then (antithetic sampling, Hammersley & Morton 1956)."""
        shared = len(self.space.shared)
        precision = np.linalg.inv((self.covariance + self.covariance.T) / 2)[shared:, shared:]
        spread = spread_of(np.linalg.inv(precision))
        moves = np.pad(_in_pairs(spread, count), ((0, 0), (shared, 0)))
        return [self.point + move for move in moves]

    def hands(self, count: int) -> list[Support]:
        """The paper with so many hands that are about as likely: drawn, as `drawn`, from what is not known of what the
        sticks share."""
        shared = len(self.space.shared)
        moves = _in_pairs(spread_of(self.covariance[:shared, :shared]), count)
        return [self.space.support_at(self.point[:shared] + move) for move in moves]

    @property
    def support(self) -> Support:
        return self.space.support_at(self.point)

    def labs(self, stacks: Sequence[Sequence[Pass]]) -> Floats:
        """CIELAB (g, 3) that these stacks will have."""
        return self.space.labs(self.space.stacks(stacks), self.point)

    def bands(self, stacks: Sequence[Sequence[Pass]], part: float = 0.8) -> Floats:
        """CIEDE2000 (g,) within which this part of such stacks will be of what is predicted, laid by a steady hand."""
        seen, slopes = self.space.slopes(self.space.stacks(stacks), self.point)
        turned = slopes * as_differences(seen)[:, :, None]
        return self.bands_of(turned @ self.covariance @ turned.transpose(0, 2, 1), self.untried(turned, part), part)

    def bands_of(self, spread: Floats, untried: Floats, part: float = 0.8) -> Floats:
        """As `bands`, of covariances (g, 3, 3) in steps of about one CIEDE2000: no wider than `untried` (g,)."""
        sticks, model = _CHOSEN_WIDER[self.space.medium]
        chosen = sticks**2 * spread + model**2 * model_error(self.space.medium)
        return np.asarray(np.minimum(self.wider * within(chosen, part), untried))

    def untried(self, turned: Floats, part: float = 0.8) -> Floats:
        """The bands (g,) without any box. turned: slopes (g, 3, size) in steps of about one CIEDE2000."""
        usual = turned * self.space.spreads()
        spread = usual @ usual.transpose(0, 2, 1) + model_error(self.space.medium)
        # Where a stack just fills the tooth, slopes have no bounds; what a stack may be off by has.
        most = _MOST_OFF * facts_of(self.space.medium).untried
        return np.asarray(np.minimum(_UNTRIED_WIDER[self.space.medium] * within(spread, part), most))


def spread_of(covariance: Floats) -> Floats:
    """A square root (n, n) of a covariance: times n independent normal numbers it gives such that vary by it."""
    values, axes = np.linalg.eigh((covariance + covariance.T) / 2)
    return np.asarray(axes * np.sqrt(np.maximum(values, 0.0)))


def _in_pairs(spread: Floats, count: int) -> Floats:
    """(count, n): what varies by a square root (n, n) of a covariance, each draw followed by its opposite."""
    drawn = np.random.default_rng(_OTHERS_SEED).standard_normal((count // 2, len(spread))) @ spread.T
    return np.asarray(np.stack([drawn, -drawn], axis=1).reshape(-1, len(spread)))


def within(spread: Floats, part: float) -> Floats:
    """Radius (g,) of the ball around 0 that holds a part of Gaussian errors with covariances (g, 3, 3).

    The distribution of the squared length by a scaled χ² with its mean and variance. Source: Satterthwaite 1946.
    """
    trace = np.trace(spread, axis1=1, axis2=2)
    squared = np.einsum("gij,gji->g", spread, spread)
    return np.asarray(np.sqrt(squared / trace * chdtri(trace**2 / squared, 1 - part)))


def as_differences(labs: Floats) -> Floats:
    """Factors (g, 3) that turn small steps in L*, a*, b* at these colours into steps of about one CIEDE2000 each."""
    lightness, chroma = labs[:, 0], np.hypot(labs[:, 1], labs[:, 2])
    square = (lightness - 50) ** 2
    return np.asarray(
        1 / np.stack([1 + 0.015 * square / np.sqrt(20 + square), 1 + 0.045 * chroma, 1 + 0.03 * chroma], 1)
    )


def model_error(medium: str) -> Floats:
    """Covariance (3, 3) of what the best fit of this model still leaves, in steps of about one CIEDE2000."""
    return np.asarray(_MODEL.get(medium, _MODEL_USUAL) ** 2 / 3 * np.eye(3))


def hand_moves(space: Space, stacks: Stacks, slopes: Floats) -> Floats:
    """Covariance (g, 3, 3) of CIELAB by a hand that is heavier in one pass and lighter in another.

    slopes: (g, 3, size), see `Space.slopes`.
    """
    moved = np.zeros((len(slopes), 3, 3))
    strokes = stacks.strokes(len(space.sticks))
    covers = any(knob.field == "coverage" for knob in space.own)
    for stick in range(len(space.sticks)):
        its = slopes[:, :, space.own_knob(stick, "strength")]
        if covers:
            its = its + _COVERS_TOO * slopes[:, :, space.own_knob(stick, "coverage")]
        # Passes vary on their own: of several, each has its part.
        share = HAND**2 / np.maximum(strokes[:, stick], 1)
        moved += share[:, None, None] * its[:, :, None] * its[:, None, :]
    return moved


def learn(
    sticks: Sequence[Stick],
    support: Support,
    medium: str,
    boxes: Sequence[MeasuredBox],
    shared: bool = True,
) -> Learnt:
    """The maximum a posteriori of everything that may differ, by Gauss–Newton with damping, and its covariance.

    Gaussian priors on logarithms; errors of reading, of the model and of the hand; boxes that depart from all others
    count less. How much sticks differ is estimated anew on the way (empirical Bayes, within bounds). Boxes that do not
    teach are left out. shared: whether the paper and the hand may be otherwise than assumed, too. Raises InputError:
    `too_many_boxes`, or for passes that cannot be made.
    """
    return finished(learning(sticks, support, medium, boxes, shared))


def finished(steps: Generator[None, None, T]) -> T:
    """What work in steps gives in the end."""
    while True:
        try:
            next(steps)
        except StopIteration as end:
            return cast(T, end.value)


def learning(
    sticks: Sequence[Stick],
    support: Support,
    medium: str,
    boxes: Sequence[MeasuredBox],
    shared: bool = True,
) -> Generator[None, None, Learnt]:
    """As `learn`, a little with each of at most ROUNDS steps."""
    if len(boxes) > MAX_BOXES:
        raise InputError(
            "too_many_boxes", f"{len(boxes)} boxes are too many.", f"Use at most {MAX_BOXES} at a time.", "boxes"
        )
    space = Space(sticks, support, medium, shared)
    teaching = [box for box in boxes if space.teaches(box.passes)]
    stacks = space.stacks([box.passes for box in teaching])
    return (yield from _Fit(space, stacks, teaching).run())


class _Fit:
    def __init__(self, space: Space, stacks: Stacks, boxes: Sequence[MeasuredBox]) -> None:
        self.space, self.stacks = space, stacks
        self.measured = np.array([box.lab for box in boxes]).reshape(-1, 3)
        self.unit = as_differences(self.measured)
        self.reading = np.array([box.doubt for box in boxes]).reshape(-1)
        self.spreads, self.point = space.spreads(), np.zeros(space.size)

    def run(self) -> Generator[None, None, Learnt]:
        if not len(self.measured):
            usual = _FEW_WIDER[self.space.medium]
            return Learnt(self.space, self.point, np.diag(self.spreads**2), usual, np.zeros(0), np.zeros(0))
        damping = 1e-2
        for number in range(ROUNDS):
            seen, slopes = self.space.slopes(self.stacks, self.point)
            weights, _ = self._weights(seen, slopes)
            pull, stiff = self._normal(seen, slopes, weights)
            before = self._cost(seen, weights, self.point)
            after = before
            for _ in range(6):
                step = np.linalg.solve(stiff + damping * np.diag(np.diag(stiff)), pull)
                tried = self.point + np.clip(step, -_STEPS_WITHIN * self.spreads, _STEPS_WITHIN * self.spreads)
                after = self._cost(self.space.labs(self.stacks, tried), weights, tried)
                if after < before:
                    self.point, damping = tried, max(damping / 5, 1e-6)
                    break
                damping *= 6
            else:
                break
            if number in _SPREADS_AGAIN and len(self.measured) >= _SPREADS_FROM:
                self._spread_anew(np.linalg.inv(stiff))
            yield
            if number > max(_SPREADS_AGAIN) and before - after < 1e-3 * before:
                break
        seen, slopes = self.space.slopes(self.stacks, self.point)
        weights, off = self._weights(seen, slopes)
        _, stiff = self._normal(seen, slopes, weights)
        covariance = np.linalg.inv(stiff)
        wider, held_out = self._wider(seen, slopes, covariance)
        if np.count_nonzero(self._mixed()) < _STACKS_TELL:
            covariance, wider = self._sticks_alone(covariance), _ALONE_WIDER[self.space.medium]
        return Learnt(self.space, self.point, covariance, wider, off, held_out)

    def _mixed(self) -> Any:
        """Which boxes hold more than one stick (g,)."""
        return (self.stacks.strokes(len(self.space.sticks)) > 0).sum(axis=1) > 1

    def _sticks_alone(self, covariance: Floats) -> Floats:
        """Single sticks tell the sticks apart, and nothing of how layers lie on each other: what is shared has taken up
        what they have in common, and is not carried to stacks. Returns the covariance without it."""
        shared = slice(len(self.space.shared))
        self.point[shared] = 0.0
        covariance = covariance.copy()
        covariance[shared] = covariance[:, shared] = 0.0
        covariance[shared, shared] = np.diag(self.spreads[shared] ** 2)
        return covariance

    def _errors(self, slopes: Floats) -> Floats:
        """Covariances (g, 3, 3) of what may lie between a box and the fit."""
        own = self.reading**2 / 3
        hand = hand_moves(self.space, self.stacks, slopes) * self.unit[:, :, None] * self.unit[:, None, :]
        return np.asarray(own[:, None, None] * np.eye(3) + hand + model_error(self.space.medium))

    def _weights(self, seen: Floats, slopes: Floats) -> tuple[Floats, Floats]:
        """Weights (g, 3, 3) and how far each box is (g,). A slipped box must not bend the tray: Huber's."""
        weights = np.linalg.inv(self._errors(slopes))
        left = (self.measured - seen) * self.unit
        off = np.sqrt(np.einsum("gi,gij,gj->g", left, weights, left) / 3)
        usual = np.sqrt(chdtri(3, 1 - 0.95) / 3)
        return weights / np.maximum(1.0, off / usual)[:, None, None], off

    def _normal(self, seen: Floats, slopes: Floats, weights: Floats) -> tuple[Floats, Floats]:
        """Gradient and curvature, the priors' too."""
        turned = slopes * self.unit[:, :, None]
        weighed = (weights @ turned).reshape(-1, self.space.size)
        left = ((self.measured - seen) * self.unit).reshape(-1)
        stiff = turned.reshape(-1, self.space.size).T @ weighed + np.diag(1 / self.spreads**2)
        return weighed.T @ left - self.point / self.spreads**2, stiff

    def _cost(self, seen: Floats, weights: Floats, point: Floats) -> float:
        left = (self.measured - seen) * self.unit
        return float(np.einsum("gi,gij,gj->", left, weights, left) + np.sum((point / self.spreads) ** 2))

    def _spread_anew(self, covariance: Floats) -> None:
        """How much sticks of this tray differ, of each kind: their values and how unsure those are."""
        own = self.space.own_of(self.point)
        unsure = self.space.own_of(np.diag(covariance))
        usual = self.space.own_of(self.space.spreads())[0]
        found = np.sqrt((own**2 + unsure).mean(axis=0))
        bounded = np.clip(found, usual / _SPREADS_WITHIN, usual * _SPREADS_WITHIN)
        self.spreads[len(self.space.shared) :] = np.tile(bounded, len(self.space.sticks))

    def _wider(self, seen: Floats, slopes: Floats, covariance: Floats) -> tuple[float, Floats]:
        """How much wider bands must be than the fit itself says, so that boxes left out of it, one at a time, lie in
        them as often as they should; with few boxes it is the less believed. And how far those are off (g,).

        What is left over when a box is left out follows from its leverage. Source: Cook & Weisberg 1982.
        """
        left = (self.measured - seen) * self.unit
        turned = slopes * self.unit[:, :, None]
        known = turned @ covariance @ turned.transpose(0, 2, 1)
        weights, _ = self._weights(seen, slopes)
        # Of a box that counts less, what it may be off by counts as so much more.
        counted = np.linalg.inv(weights)
        without = np.linalg.inv(counted - known)
        foreseen = np.linalg.norm(np.einsum("gij,gj->gi", counted @ without, left), axis=1)
        model = model_error(self.space.medium)
        doubted = known + known @ without @ known + model
        laid_and_read = self._errors(slopes) - model
        # Plans are stacks, and those are harder to foresee than sticks alone.
        mixed = self._mixed()
        judged = mixed if mixed.any() else np.ones(len(left), dtype=bool)
        for wider in _WIDER:
            inside = foreseen < within(laid_and_read + wider**2 * doubted, _PART)
            if inside[judged].mean() >= _PART:
                break
        n, usual = int(judged.sum()), _FEW_WIDER[self.space.medium]
        return float((_BELIEF * usual + n * wider) / (_BELIEF + n)), foreseen
