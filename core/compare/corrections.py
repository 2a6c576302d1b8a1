"""What to do about a drawing, from what lies there: a few layers more, in the order of what they bring."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import SRGB, Floats, lab_to_xyz
from core.compare.possible import Possible
from core.compare.words import left_to_do, title_of
from core.layers.doses import NONE, Dose, scale_of
from core.layers.forward import Places, State
from core.layers.frame import Flags
from core.layers.hands import hands_for
from core.layers.natural import Areas, Spot, areas_of
from core.layers.plan import Layer
from core.layers.school import Wishes, frame_for
from core.method.manner import manner
from core.optics.media import get_medium
from core.optics.medium import Hand, Pass
from core.optics.spectra import reflectance_to_xyz, upsample
from core.plan.laying import Laying
from core.plan.setup import LaidOutTray
from core.recipe.rules import LEAST_TOOTH

MOST = 5
_HANDS = (0.86, 1.0, 1.16)
"""Factors on film of the hands that each choice is judged under."""
_PLACE, _SCATTER, _NEW_STICK = 0.12, 0.5, 0.8
"""What a correction costs, in ΔE00: over each place, where it departs from an area that is easily found, and for a
stick that is not lying out yet."""
_LEAST_PLACE, _LEAST_MEAN = 0.8, 0.12
"""ΔE00 by which it must bring one place nearer at least, and by which all of the figure in the mean."""
_TRIED = 8
_HEAVY_TIMES = 1
_ROUNDS, _DARKEST, _LIGHTEST = 4, 0.003, 0.995
_FROM_XYZ = np.linalg.inv(SRGB.to_xyz)
_LEFT = 6.0
"""ΔE00 by which a place must be off for it to be said that nothing helps."""
_NOTHING_BRINGS = 0.5
"""ΔE00 by which some dose of some stick must bring a place nearer before something can be done for it."""


@dataclass(frozen=True, slots=True)
class There:
    """A place as it lies: spot; figure: its number; lab: CIELAB as it probably is; moved by `believed`."""

    spot: Spot
    figure: int
    lab: tuple[float, float, float]
    aim: tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Correction:
    """One layer more. levels (m,): its dose at each place, None where it does not lie. title: what it does, in words;
    area: where; how: how hard and how often, in words; steps: of value, mean over its places. before, after: mean ΔE00
    of its figure, with those before it; moved (m, 3): CIELAB by which it moves each place."""

    figure: int
    stick: str
    most: Dose
    levels: tuple[Dose | None, ...]
    title: str
    area: str
    how: str
    steps: float
    before: float
    after: float
    moved: tuple[tuple[float, float, float], ...]


@dataclass(frozen=True, slots=True)
class NothingFor:
    """Places (indices) that are off and that no stick brings nearer: why, and what is left to do; caution: what to
    beware of in that."""

    places: tuple[int, ...]
    why: str
    text: str
    caution: str = ""


@dataclass(frozen=True, slots=True)
class Advice:
    """corrections: the one that brings most first. nothing: where none helps. room: how many more layers the paper
    takes, in the mean of the places."""

    corrections: tuple[Correction, ...]
    nothing: tuple[NothingFor, ...]
    room: int


class _Ground:
    """The places of a drawing as they lie, in the terms of one medium."""

    def __init__(self, laid_out: LaidOutTray, laid: Sequence[Layer], there: Sequence[There], off: Floats) -> None:
        self.medium = medium = laid_out.setup.medium
        self.box, self.scale = laid_out.box.coarse(), scale_of(medium)
        aims = np.array([place.aim for place in there], dtype=float)
        hands = hands_for(len(there), 0)
        self.places = Places(self.box, self.scale, aims, hands)
        lying = Laying(laid_out).lying(laid, Places(laid_out.box, self.scale, aims, hands))
        self.worked, self.coats = lying.worked, lying.coats
        seen = lying.places.box.seen(lying.state.roots)
        labs = np.array([place.lab for place in there], dtype=float) + off
        turned = looking_like(np.asarray(seen, dtype=float), labs)
        on_top = lying.places.box.sticks[0].medium
        if on_top == medium:
            self.state = State(*self.box.looking(turned, lying.state.roots, lying.state.filled))
        else:
            _, tooth = lying.places.box.left(lying.state.roots, lying.state.filled)
            self.state = State(*self.box.over(turned, tooth))
            self.coats = {}

    def tooth(self) -> Floats:
        """(m,)."""
        return np.asarray(self.box.tooth_left_at(self.state.filled))

    def after(self, sticks: NDArray[np.intp], doses: NDArray[np.intp]) -> Floats:
        """CIELAB (len(sticks), len(doses), hands, m, 3) after each dose of each stick at every place."""
        m, k, d, h = len(self.state.filled), len(sticks), len(doses), len(_HANDS)
        count = k * d * h
        stick = np.repeat(sticks, d * h * m)
        which = np.tile(np.repeat(doses, h * m), k)
        film = np.tile(np.repeat(_HANDS, m), k * d)
        before = np.concatenate(
            [np.tile(self.coats.get(int(one), np.zeros(m, dtype=np.intp)), d * h) for one in sticks]
        )
        hand = Hand(film, np.ones_like(film))
        roots, _ = self.box.strokes(
            np.tile(self.state.roots, (count, 1)), np.tile(self.state.filled, count), stick,
            self.scale.pressure[which], self.scale.times[which], hand=hand, before=before,
        )  # fmt: skip
        return self.places.labs(State(roots, np.zeros(count * m))).astype(float).reshape(k, d, h, m, 3)

    def lay(self, stick: int, doses: NDArray[np.intp]) -> None:
        """One layer more lies there from now on."""
        before = self.coats.get(stick, np.zeros(len(doses), dtype=np.intp))
        self.state = self.places.lay(self.state, 0, stick, doses, "lay", before)
        self.coats[stick] = before + self.scale.times[doses]

    def labs(self) -> Floats:
        return self.places.labs(self.state).astype(float)


def looking_like(reflectance: Floats, labs: Floats) -> Floats:
    """Reflectances (m, 31) of these colours (m, 3) that depart from those given as smoothly as can be."""
    out = np.clip(reflectance, _DARKEST, _LIGHTEST)
    wanted = upsample(_displayed(lab_to_xyz(labs)))
    for _ in range(_ROUNDS):
        out = np.clip(out * wanted / upsample(_displayed(reflectance_to_xyz(out))), _DARKEST, _LIGHTEST)
    return np.asarray(out)


def _displayed(xyz: Floats) -> Floats:
    """XYZ (m, 3) of the nearest colours that a screen can show, which surfaces can have, too."""
    return np.asarray(np.clip(xyz @ _FROM_XYZ, _DARKEST, _LIGHTEST) @ SRGB.to_xyz)


def advised(
    trays: Sequence[Possible],
    laid: Sequence[Layer],
    there: Sequence[There],
    at_hand: Collection[str] = (),
    most: int = MOST,
) -> Advice:
    """Up to so many layers more that bring a drawing nearer. trays: the tray as it probably is, and as it may be as
    well (see core.compare.possible): what is chosen serves all of them. laid: what was laid, with its dose at each of
    the places, in order; there: the places as they lie; at_hand: codes of sticks that are lying out."""
    grounds = [_Ground(tray.laid_out, laid, there, tray.off) for tray in trays]
    search = _Search(trays[0].laid_out, grounds, there, frozenset(trays[0].laid_out.index(at_hand)))
    found: list[Correction] = []
    while len(found) < most and (better := search.best()) is not None:
        found.append(better)
    return Advice(tuple(found), tuple(search.nothing()), search.room())


class _Search:
    def __init__(
        self, laid_out: LaidOutTray, grounds: Sequence[_Ground], there: Sequence[There], at_hand: frozenset[int]
    ) -> None:
        self.laid_out, self.grounds, self.there, self.at_hand = laid_out, grounds, there, set(at_hand)
        self.ground = ground = grounds[0]
        self.aims = np.array([place.aim for place in there], dtype=float)
        setup = laid_out.setup
        roles = [place.spot.role for place in there]
        frame = frame_for(ground.box, laid_out.method, roles, self.aims, Wishes(setup.black, setup.reserve))
        self.may_lie = frame.may_lie
        usable = sorted({action.stick for action in ground.box.actions})
        self.sticks = np.array([s for s in usable if not ground.box.sticks[s].colourless], dtype=np.intp)
        # What is laid last is pressed hard once at most.
        fits = [dose.pressure != "heavy" or dose.repeats <= _HEAVY_TIMES for dose in ground.scale.doses]
        self.doses = 1 + np.flatnonzero(fits)
        self.figures = np.array([place.figure for place in there])
        self.areas = {int(f): areas_of([place.spot for place in there if place.figure == f]) for f in set(self.figures)}
        self._gained: Floats = np.zeros(len(there))

    def _open(self) -> Flags:
        """(m,): where something more holds."""
        return np.asarray((self.ground.tooth() >= LEAST_TOOTH) & ~self.ground.worked)

    def _off(self) -> Floats:
        """CIEDE2000 (m,) of the places, in the mean of what the tray may be."""
        return np.asarray(np.mean([ciede2000(ground.labs(), self.aims) for ground in self.grounds], axis=0))

    def best(self) -> Correction | None:
        """The layer that brings most, laid from now on; None where none brings enough."""
        labs = self.ground.labs()
        now = self._off()
        costs = _PLACE + np.mean(
            [ciede2000(g.after(self.sticks, self.doses), self.aims).mean(axis=2) for g in self.grounds], axis=0
        )  # (k, d, m)
        gains = now - costs
        allowed = self.may_lie[:, self.sticks].T & self._open()
        gains = np.where(allowed[:, None], gains, -np.inf)
        self._gained = gains.max(axis=(0, 1)) + _PLACE
        tried: list[tuple[float, int, int, NDArray[np.intp]]] = []
        for figure, areas in self.areas.items():
            mine = np.flatnonzero(self.figures == figure)
            rough = np.maximum(gains[:, :, mine], 0).sum(axis=2).max(axis=1)
            for k in np.argsort(-rough)[:_TRIED]:
                gain, doses = _in_an_area(gains[k][:, mine], areas, self.doses)
                gain -= _NEW_STICK if int(self.sticks[k]) not in self.at_hand else 0.0
                tried.append((gain, figure, int(k), doses))
        gain, figure, k, doses = max(tried, key=lambda row: row[0])
        mine = np.flatnonzero(self.figures == figure)
        laid = np.flatnonzero(doses != NONE)
        if not len(laid) or gain < _LEAST_MEAN * len(mine):
            return None
        if (
            now[mine][laid].mean() - costs[k, np.searchsorted(self.doses, doses[laid]), mine[laid]].mean() + _PLACE
            < _LEAST_PLACE
        ):
            return None
        every = np.zeros(len(self.there), dtype=np.intp)
        every[mine] = doses
        stick = int(self.sticks[k])
        for ground in self.grounds:
            ground.lay(stick, every)
        self.at_hand.add(stick)
        return self._correction(figure, stick, every, labs, now)

    def _correction(self, figure: int, stick: int, doses: NDArray[np.intp], before: Floats, was: Floats) -> Correction:
        scale, mine = self.ground.scale, self.figures == figure
        on = doses != NONE
        areas, after = self.areas[figure], self.ground.labs()
        levels = tuple(scale.doses[dose - 1] if dose else None for dose in doses)
        most = max((level for level in levels if level), key=lambda level: scale.index(level))
        area = areas.called(on[mine])
        moved = after - before
        its = [place.spot for place, here in zip(self.there, on, strict=True) if here]
        steps = float((lab_to_value(after[on]) - lab_to_value(before[on])).mean())
        now, then = (round(float(off[mine].mean()), 2) for off in (was, self._off()))
        return Correction(
            figure,
            self.ground.box.sticks[stick].code,
            most,
            levels,
            title_of(before[on], after[on], steps, its),
            area,
            manner(Pass(self.ground.box.sticks[stick].code, most.pressure, most.repeats), self.ground.medium),
            round(steps, 2),
            now,
            then,
            tuple((float(row[0]), float(row[1]), float(row[2])) for row in moved.round(2)),
        )

    def room(self) -> int:
        """How many usual layers more the paper takes, in the mean."""
        tooth = float(self.ground.tooth()[~self.ground.worked].mean()) if (~self.ground.worked).any() else 0.0
        a_layer = 1.0 / max(1.0, layers_it_takes(self.laid_out))
        return int(max(0.0, tooth - LEAST_TOOTH) / a_layer)

    def nothing(self) -> list[NothingFor]:
        """Where nothing helps, and why."""
        off = ciede2000(self.ground.labs(), self.aims)
        stuck = (off > _LEFT) & (self._gained < _NOTHING_BRINGS)
        found = []
        full, worked = self.ground.tooth() < LEAST_TOOTH, self.ground.worked
        lighter = self.aims[:, 0] > self.ground.labs()[:, 0]
        medium = get_medium(self.laid_out.setup.medium)
        for which, why in (
            (stuck & worked, "burnished"),
            (stuck & full & ~worked, "full"),
            (stuck & ~full & ~worked & lighter, "lighter"),
            (stuck & ~full & ~worked & ~lighter, "no_stick"),
        ):
            if which.any():
                found.append(NothingFor(tuple(int(i) for i in np.flatnonzero(which)), why, *left_to_do(why, medium.id)))
        return found


def layers_it_takes(laid_out: LaidOutTray) -> float:
    """How many usual layers the bare paper takes: by how much tooth one of them takes up."""
    box, scale = laid_out.box, scale_of(laid_out.setup.medium)
    roots, bare = box.blank()
    dose = scale.tried[0]
    one = np.ones(1, dtype=np.intp)
    _, filled = box.strokes(roots, np.array([float(bare)]), 0 * one, scale.pressure[[dose]], scale.times[[dose]])
    taken = float(box.tooth_left_at(np.array([float(bare)]))[0] - box.tooth_left_at(filled)[0])
    return 1.0 / max(taken, 0.02)


_NUMBERS = ("Nothing", "One thing", "Two things", "Three things", "Four things", "Five things")


def in_words(advice: Advice) -> tuple[str, str]:
    """How many things there are to do, and what to begin with and how much room there is."""
    count = len(advice.corrections)
    if not count:
        return "Stop here", "No layer more brings it nearer by what could be seen."
    first = "Darks first. " if advice.corrections[0].steps < 0 else "What brings most comes first. "
    room = advice.room
    takes = (
        "hardly any more layer" if room < 1 else "one more layer" if room == 1 else f"some {min(room, 9)} more layers"
    )
    return f"{_NUMBERS[count]}, then stop", f"{first}After them the paper takes {takes}."


def _in_an_area(gains: Floats, areas: Areas, doses: NDArray[np.intp]) -> tuple[float, NDArray[np.intp]]:
    """The best doses (m,) of one stick, by what each of these brings (d, m): one, and perhaps a lighter one, over
    an area that is easily found or a little more or less."""
    d, m = gains.shape
    masks = areas.masks.astype(float)
    best: tuple[float, NDArray[np.intp]] = (-np.inf, np.zeros(m, dtype=np.intp))
    for most in range(d):
        for less in range(most + 1):
            pair = gains[[less, most]]
            on = pair.max(axis=0)
            dose = doses[np.where(pair[1] >= pair[0], most, less)]
            inside = np.maximum(np.maximum(on, -_SCATTER), -1e3)
            outside = np.maximum(np.maximum(0.0, on - _SCATTER), -1e3)
            by_area = masks @ (inside - outside) + outside.sum()
            number = int(np.argmax(by_area))
            if by_area[number] > best[0] + 1e-9:
                lies = np.where(masks[number] > 0, on >= -_SCATTER, on > _SCATTER)
                best = float(by_area[number]), np.where(lies, dose, NONE)
    return best
