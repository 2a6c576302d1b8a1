"""Questions about trial cards that take a while: plain values in and out, so that another process can answer them."""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from core.colour.spaces import Floats
from core.errors import InputError
from core.look.questions import Source, decoded
from core.optics.kit import Kit
from core.optics.media import facts_of
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.optics.support import Support
from core.optics.touch import Touch
from core.photo.squared import Corner
from core.plan.questions import Lab, Owned
from core.plan.trying import asked_of
from core.trial.calibration import Errors, calibrating
from core.trial.card import Card, make_card
from core.trial.joint import ROUNDS, Learnt, MeasuredBox, finished, learn
from core.trial.reading import FINE, CardRead, read_card
from core.trial.swatched import as_swatched
from core.trial.teaching import Stack


@dataclass(frozen=True, slots=True)
class Tried:
    """Sticks of one medium on a paper, as their lists say, and all boxes that were measured of them."""

    sticks: tuple[Stick, ...]
    support: Support
    medium: str
    boxes: tuple[MeasuredBox, ...] = ()

    def known(self) -> Learnt:
        """What the boxes teach. Raises what `core.trial.joint.learn` raises."""
        return learn(tuple(map(as_swatched, self.sticks)), self.support, self.medium, self.boxes)


@dataclass(frozen=True, slots=True)
class Foreseen:
    """Of each box of a card: its CIELAB as it will be, and ΔE00 within which 80 of 100 lie (None: nobody knows)."""

    labs: tuple[Lab, ...]
    bands: tuple[float | None, ...]

    def arrays(self) -> tuple[Floats, Floats]:
        """(n, 3) and (n,)."""
        return np.array(self.labs), np.array([np.inf if band is None else band for band in self.bands])


def foreseen(card: Card, known: Learnt) -> Foreseen:
    """What is to be expected of a card's boxes; those of sticks that are not there any more look like bare paper."""
    kit, taught = Kit(known.sticks, known.support, known.space.medium), known.space.teaches
    labs = []
    held = {stick.code for stick in known.sticks}
    for cell in card.cells:
        there = all(p.stick in held or p.technique in ("smudge", "lift") for p in cell.passes)
        lightness, a, b = colours_after(kit, cell.passes if there else ())[-1]
        labs.append((float(lightness), float(a), float(b)))
    sure = [i for i, cell in enumerate(card.cells) if taught(cell.passes)]
    found = dict(zip(sure, known.bands([card.cells[i].passes for i in sure]).tolist(), strict=True)) if sure else {}
    return Foreseen(tuple(labs), tuple(found.get(i) for i in range(len(card.cells))))


def made_card(
    owned: Owned,
    tried: Tried,
    names: Sequence[str],
    seen: Sequence[Lab],
    kind: str,
    size: str,
    number: int,
    count: int,
    own: Sequence[tuple[str, Stack]] = (),
) -> tuple[Card, Foreseen]:
    """A card for a piece with these spots, and with these stacks of its own if it is planned; what is foreseen of it.

    Raises what `asked_of` and `make_card` raise.
    """
    labs, known = np.array(seen, dtype=float).reshape(-1, 3), tried.known()
    card = make_card(kind, size, number, asked_of(owned.laid_out(), names, labs, count, known, own))
    return card, foreseen(card, known)


@dataclass(frozen=True, slots=True)
class Calibrated:
    """What boxes have shown, to be kept: the sticks with their fits, the paper as it shows, how it is laid on. doubt:
    ΔE00 by which what is foreseen of stacks like theirs is off in the mean; errors, disagree, left_out, words: see
    core.trial.calibration."""

    sticks: tuple[Stick, ...]
    lab: Lab
    touch: Touch
    doubt: float
    errors: Errors | None
    disagree: tuple[int, ...]
    left_out: tuple[int, ...]
    words: tuple[str, ...]


def calibrated(tried: Tried) -> Calibrated:
    """One fit of all boxes. Raises what `calibrate` raises."""
    return finished(_calibrating(tried))


def _calibrating(tried: Tried, numbers: Sequence[int] = ()) -> Generator[None, None, Calibrated]:
    sticks = tuple(map(as_swatched, tried.sticks))
    found = yield from calibrating(sticks, tried.support, tried.medium, tried.boxes, numbers)
    learnt, teaches = found.learnt, found.learnt.space.teaches
    stacks = [box.passes for box in tried.boxes if teaches(box.passes)]
    doubt = float(learnt.bands(stacks, 0.5).mean()) if stacks else facts_of(tried.medium).untried
    return Calibrated(
        sticks=learnt.doubted(stacks),
        lab=learnt.support.lab,
        touch=learnt.support.touch(tried.medium),
        doubt=round(min(doubt, facts_of(tried.medium).untried), 2),
        errors=found.errors,
        disagree=found.disagree,
        left_out=found.left_out,
        words=found.words,
    )


@dataclass(frozen=True, slots=True)
class Taught:
    """A card read back; foreseen: of all its boxes, before it; what all boxes show then, or why that was refused."""

    read: CardRead
    foreseen: Foreseen
    calibrated: Calibrated | None
    refused: str = ""


@dataclass(frozen=True, slots=True)
class Filled:
    """The photograph of a filled card, and all that was tried before it. page, corners, chart: see `read_card`."""

    source: Source
    card: Card
    tried: Tried
    page: int | None = None
    corners: tuple[Corner, ...] | None = None
    chart: tuple[Corner, ...] | None = None


TEACHING_STEPS = 1 + ROUNDS
"""How often `teach_on` does something at most."""


def teach_on(filled: Filled) -> None:
    """A little more of what `taught_by` needs: the card read first, then one round of the fit after the other. Raises
    what it raises."""
    _teaching(filled).go_on()


def taught_by(filled: Filled) -> Taught:
    """A filled card, and what it teaches with all boxes before it. Raises what `read_card` raises, and OSError."""
    work = _teaching(filled)
    while work.found is None:
        work.go_on()
    _teaching.cache_clear()
    return work.found


class _Teaching:
    """The work on one photograph, which is gone on with as often as wanted. found: what it has come to."""

    def __init__(self, filled: Filled) -> None:
        self._work = _taught(filled)
        self.found: Taught | None = None

    def go_on(self) -> None:
        """One step more, if there is one."""
        if self.found is not None:
            return
        try:
            next(self._work)
        except StopIteration as end:
            self.found = end.value
        except Exception:
            # What went wrong is over: asked for again, it is begun anew.
            _teaching.cache_clear()
            raise


@lru_cache(maxsize=2)
def _teaching(filled: Filled) -> _Teaching:
    return _Teaching(filled)


def _taught(filled: Filled) -> Generator[None, None, Taught]:
    card, tried = filled.card, filled.tried
    before = foreseen(card, tried.known())
    picture, paper = decoded(filled.source), tried.support.lab
    read = read_card(picture, card, *before.arrays(), paper, filled.page, filled.corners, filled.chart)
    yield
    held = {stick.code for stick in tried.sticks}
    rows = [
        row
        for row in read.boxes
        if row.verdict == FINE and all(pass_.stick in held for pass_ in card.cells[row.cell].passes)
    ]
    boxes = [MeasuredBox(card.cells[row.cell].passes, row.lab, row.doubt) for row in rows]
    numbers = [row.cell + 1 for row in rows]
    try:
        found = yield from _calibrating(replace(tried, boxes=(*tried.boxes, *boxes)), numbers)
    except InputError as error:
        return Taught(read, before, None, f"{error.message} {error.hint}")
    return Taught(read, before, found)
