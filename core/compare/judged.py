"""A drawing judged in the order in which its artist judges: darks and lights, order and neighbours, hue, edges,
places."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats, lab_to_lch
from core.colour.temperature import temperature
from core.look.roles import SHADOW_ROLES

_DARKS, _LIGHTS = ("shadow", "deep accent"), ("highlight", "light")
_FELT_V, _SURELY = 0.35, 1.4
"""Steps of value that are worth a word, and by how many times its own error a single reading must be off to be named
(measured: see docs/true.md)."""
_MIDDLES_DEG, _MIDDLES_C = 4.0, 4.0
_ORDER_V, _ERROR_V = 0.3, 0.25
"""By how much two values must differ in the picture for their order to count, and how far the difference of two
readings on one sheet is off (measured)."""
_NEIGHBOURS, _BESIDE, _RELATION_V = 2, 0.16, 0.7
_MOST_A_STAGE = 3
_SHARPER, _SOFTER = 1.4, 0.65
_HUE_FELT = 3.0
"""ΔE*ab along hue of which half must be outweighed for lightness to name what is wrong with a place."""

STAGES = ("values", "order", "hue", "edges", "places")
"""In which a drawing is judged."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """A place that was read: its figure's number, CIELAB wanted and seen, ΔE00 by which the reading may be off, and
    where it lies in the picture."""

    id: str
    figure: int
    name: str
    role: str
    wanted: tuple[float, float, float]
    seen: tuple[float, float, float]
    doubt: float
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class Verdict:
    """steps: of Munsell value by which it is lighter (+) or darker than wanted; off: ΔE00; word: what is wrong with it,
    empty where nothing is beyond the reading's own error."""

    id: str
    steps: float
    off: float
    word: str


@dataclass(frozen=True, slots=True)
class Finding:
    """stage: of STAGES. figure: its number. kind: `weak`, `strong`, `enough`, `swapped`, `flat`, `apart`, `warmer`,
    `cooler`, `stronger`, `duller`, `harder`, `softer` or `place`; places: ids."""

    stage: str
    figure: int
    kind: str
    text: str
    places: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Judgement:
    """verdicts: in the order of what was given. findings: in the order in which one judges. mean: ΔE00 over the
    places."""

    verdicts: tuple[Verdict, ...]
    findings: tuple[Finding, ...]
    mean: float


def judged(drawn: Sequence[Drawn], names: Sequence[str], edges: Sequence[float | None] = ()) -> Judgement:
    """What is to be said of a drawing. names: of the figures; edges: of each, how many times as steep its borders of
    light and shade are as the picture's, None where that cannot be told."""
    if not drawn:
        return Judgement((), (), 0.0)
    wanted, seen = np.array([row.wanted for row in drawn]), np.array([row.seen for row in drawn])
    steps = lab_to_value(seen) - lab_to_value(wanted)
    off = ciede2000(seen, wanted)
    verdicts = tuple(
        Verdict(row.id, round(float(step), 2), round(float(far), 2), _word(row, float(far)))
        for row, step, far in zip(drawn, steps, off, strict=True)
    )
    figures = sorted({row.figure for row in drawn})
    findings: list[Finding] = []
    for figure in figures:
        which = [i for i, row in enumerate(drawn) if row.figure == figure]
        findings += _values(drawn, steps, which, figure, names[figure])
    for figure in figures:
        which = [i for i, row in enumerate(drawn) if row.figure == figure]
        findings += _order(drawn, which, figure)
    for figure in figures:
        which = [i for i, row in enumerate(drawn) if row.figure == figure]
        findings += _hue(drawn, which, figure, names[figure])
    findings += _edges(edges, names)
    findings += _places(drawn, verdicts)
    return Judgement(verdicts, tuple(findings), round(float(off.mean()), 2))


def believed(drawn: Sequence[Drawn]) -> Floats:
    """CIELAB (m, 3) as the places probably are: what lies within a reading's own error of what is wanted is not
    believed, and of what lies beyond it the less the nearer it is.

    Source: the positive-part estimator of James & Stein 1961, in steps of CIEDE2000.
    """
    wanted, seen = np.array([row.wanted for row in drawn]), np.array([row.seen for row in drawn])
    off = np.maximum(ciede2000(seen, wanted), 1e-6)
    doubt = np.array([row.doubt for row in drawn]) / 1.5
    return np.asarray(wanted + np.maximum(0.0, 1 - (doubt / off) ** 2)[:, None] * (seen - wanted))


def _word(row: Drawn, off: float) -> str:
    """What is wrong with a place, by what it is off most in."""
    if off < _SURELY * row.doubt:
        return ""
    seen, wanted = np.array(row.seen), np.array(row.wanted)
    (_, c_1, h_1), (_, c_2, h_2) = lab_to_lch(np.array([seen, wanted]))
    lightness, chroma = seen[0] - wanted[0], c_1 - c_2
    turned = (h_1 - h_2 + 180) % 360 - 180
    hue = 2 * np.sqrt(c_1 * c_2) * np.sin(np.radians(turned / 2))
    if abs(lightness) >= max(abs(hue) + _HUE_FELT / 2, abs(chroma)):
        return "too light" if lightness > 0 else "too dark"
    if abs(hue) > abs(chroma):
        return _hue_word(float(h_2), float(turned))
    return "too strong" if chroma > 0 else "dull"


def _hue_word(hue_deg: float, turned: float) -> str:
    """Which way a hue has turned, as it is said of skin."""
    if hue_deg % 360 < 130 or hue_deg % 360 > 330:
        return "yellow" if turned > 0 else "red"
    return "blue" if (hue_deg < 270) == (turned > 0) else "green"


def _values(drawn: Sequence[Drawn], steps: Floats, which: Sequence[int], figure: int, name: str) -> Iterator[Finding]:
    """Darkest and lightest first: if they are right, middles follow."""
    parts = []
    for roles, called in ((_DARKS, "darks"), (_LIGHTS, "lights")):
        mine = [i for i in which if drawn[i].role in roles]
        if mine:
            parts.append((called, float(np.median(steps[mine])), mine))
    said = []
    for called, step, mine in parts:
        # The mean of some readings is surer than one, but the lamp is the same for all.
        if abs(step) >= _FELT_V:
            light = "too light" if step > 0 else "too dark"
            said.append((called, f"the {called} are {steps_in_words(step)} {light}", mine, step))
    if said:
        text = f"{name}: {' and '.join(words for _, words, _, _ in said)}."
        weak = any((called == "darks") == (step > 0) for called, _, _, step in said)
        ids = tuple(drawn[i].id for _, _, mine, step in said for i in mine if steps[i] * step > 0)
        yield Finding("values", figure, "weak" if weak else "strong", text, ids)
    elif parts:
        every = " and ".join(called for called, _, _ in parts)
        yield Finding("values", figure, "enough", f"{name}: {every} are right.", ())
    middles = [i for i in which if drawn[i].role not in (*_DARKS, *_LIGHTS)]
    if middles and not said:
        step = float(np.median(steps[middles]))
        if abs(step) >= _FELT_V:
            word = "creep dark" if step < 0 else "stay too light"
            text = f"{name}: the middles {word}, by {steps_in_words(step)}."
            ids = tuple(drawn[i].id for i in middles if steps[i] * step > 0)
            yield Finding("values", figure, "strong" if step < 0 else "weak", text, ids)


def steps_in_words(step: float) -> str:
    """Steps of value in words, to the half."""
    halves = max(1, round(abs(step) * 2))
    whole, half = divmod(halves, 2)
    if not whole:
        return "half a step"
    number = "one" if whole == 1 else "two" if whole == 2 else str(whole)
    return f"{number}{' and a half' if half else ''} step{'s' if halves > 2 else ''}"


def _order(drawn: Sequence[Drawn], which: Sequence[int], figure: int) -> Iterator[Finding]:
    """Which of two is darker, first; then neighbours that are too alike or too far apart."""
    wanted = lab_to_value(np.array([drawn[i].wanted for i in which]))
    seen = lab_to_value(np.array([drawn[i].seen for i in which]))
    apart, is_ = wanted[:, None] - wanted, seen[:, None] - seen
    swapped = (apart > _ORDER_V) & (is_ < -_ERROR_V)
    order = sorted(zip(*np.nonzero(swapped), strict=True), key=lambda pair: is_[pair] - apart[pair])
    told: set[int] = set()
    count = 0
    for i, j in order:
        if count == _MOST_A_STAGE or i in told or j in told:
            continue
        told |= {int(i), int(j)}
        count += 1
        lighter, darker = drawn[which[i]], drawn[which[j]]
        text = f"{_first(lighter.name)} should be lighter than {darker.name}, and is darker."
        yield Finding("order", figure, "swapped", text, (lighter.id, darker.id))
    for i, j in _neighbours([drawn[k] for k in which]):
        if i in told or j in told or count == _MOST_A_STAGE:
            continue
        more = abs(float(is_[i, j])) - abs(float(apart[i, j]))
        if abs(more) >= _RELATION_V:
            told |= {i, j}
            count += 1
            one, other = drawn[which[i]], drawn[which[j]]
            how = "too far apart" if more > 0 else "too alike"
            text = f"{_first(one.name)} and {other.name} are {how}, by {steps_in_words(more)}."
            yield Finding("order", figure, "apart" if more > 0 else "flat", text, (one.id, other.id))


def _neighbours(rows: Sequence[Drawn]) -> Iterator[tuple[int, int]]:
    """Pairs (indices) of places that lie beside each other."""
    at = np.array([(row.x, row.y) for row in rows])
    far = np.linalg.norm(at[:, None] - at, axis=2)
    for i in range(len(rows)):
        for j in np.argsort(far[i])[1 : 1 + _NEIGHBOURS]:
            if i < j and far[i, j] < _BESIDE:
                yield i, int(j)


def _hue(drawn: Sequence[Drawn], which: Sequence[int], figure: int, name: str) -> Iterator[Finding]:
    """Warmer or cooler, stronger or duller: of the lit skin and of the shade, each as a whole."""
    for part, mine in (
        ("in the light", [i for i in which if drawn[i].role not in SHADOW_ROLES]),
        ("in the shade", [i for i in which if drawn[i].role in SHADOW_ROLES]),
    ):
        if len(mine) < 2:
            continue
        wanted, seen = (np.array([getattr(drawn[i], side) for i in mine]) for side in ("wanted", "seen"))
        turned = temperature(seen, wanted)
        chroma = lab_to_lch(seen)[:, 1] - lab_to_lch(wanted)[:, 1]
        ids = tuple(drawn[i].id for i in mine)
        if abs(np.median(turned)) >= _MIDDLES_DEG:
            warm = bool(np.median(turned) > 0)
            text = f"{name} is {'warmer' if warm else 'cooler'} {part} than the picture."
            yield Finding("hue", figure, "warmer" if warm else "cooler", text, ids)
        if abs(np.median(chroma)) >= _MIDDLES_C:
            strong = bool(np.median(chroma) > 0)
            text = f"{name} is {'stronger' if strong else 'duller'} {part} than the picture."
            yield Finding("hue", figure, "stronger" if strong else "duller", text, ids)


def _edges(edges: Sequence[float | None], names: Sequence[str]) -> Iterator[Finding]:
    for figure, steep in enumerate(edges):
        if steep is not None and steep > _SHARPER:
            text = f"{names[figure]}: borders of light and shade are harder than in the picture. Fade them."
            yield Finding("edges", figure, "harder", text, ())
        elif steep is not None and steep < _SOFTER:
            text = f"{names[figure]}: borders of light and shade are softer than in the picture."
            yield Finding("edges", figure, "softer", text, ())


def _places(drawn: Sequence[Drawn], verdicts: Sequence[Verdict]) -> Iterator[Finding]:
    """The worst single places that are surely off."""
    # What is surely off comes before what may be.
    sure = [row.off - _SURELY * held.doubt for row, held in zip(verdicts, drawn, strict=True)]
    named = sorted((i for i, row in enumerate(verdicts) if row.word), key=lambda i: -sure[i])
    for i in named[:_MOST_A_STAGE]:
        word = verdicts[i].word
        said = word if word.startswith(("too", "dull")) else f"too {word}"
        yield Finding("places", drawn[i].figure, "place", f"{_first(drawn[i].name)} is {said}.", (drawn[i].id,))


def _first(name: str) -> str:
    return name[:1].upper() + name[1:]
