"""What is asked in a round, and what an answer to it is worth."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from core.colour.difference import ciede2000
from core.colour.munsell import lab_to_value
from core.colour.spaces import lab_to_lch
from core.colour.temperature import temperature
from core.colour.words import closeness
from core.look.roles import SHADOW_ROLES
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Stick

Kind = Literal["value", "hue", "chroma", "stick", "layer", "ramp"]
KINDS: tuple[Kind, ...] = get_args(Kind)
"""Value, warmer or cooler than the neighbour, stronger or duller, the nearest stick, the next layer; and five steps
laid by hand."""
GUESSED: tuple[Kind, ...] = KINDS[:-1]
Group = Literal["darks", "middles", "lights", "eye whites", "shadow hues"]
GROUPS: tuple[Group, ...] = get_args(Group)
Source = Literal["references", "study head", "patches"]
SOURCES: tuple[Source, ...] = get_args(Source)

FELT: dict[Kind, float] = {"value": 0.5, "hue": 3.0, "chroma": 3.0, "stick": 2.0, "layer": 2.0, "ramp": 0.5}
"""By how much an answer may be off and still be called right: steps of value, degrees towards warm, chroma, and ΔE00
more than the best choice (assumed)."""
UNITS: dict[Kind, str] = {
    "value": "steps", "hue": "°", "chroma": "chroma", "stick": "ΔE", "layer": "ΔE", "ramp": "steps"
}  # fmt: skip
MORE, ALIKE, LESS = 1.0, 0.0, -1.0
"""Warmer or stronger than the neighbour, alike, cooler or duller."""
_DARK, _LIGHT = 4.0, 6.5
_WHITES = ("eye white", "teeth")
_CHOICES = 5
_NEXT = 4
_APART = 3.0
"""ΔE00 by which choices must differ from the best to be told from it."""

Lab = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Sample:
    """A patch that is asked about. name: where it is; source: what it is from; piece: whose reference; x, y, radius:
    where it is marked there, in parts; around: CIELAB of what lies about it, if it is shown inside that."""

    lab: Lab
    place: str
    role: str
    name: str
    source: Source
    piece: str = ""
    figure: str = ""
    x: float = 0.0
    y: float = 0.0
    radius: float = 0.0
    around: Lab | None = None

    @property
    def value(self) -> float:
        return float(lab_to_value(np.array(self.lab)))


@dataclass(frozen=True, slots=True)
class Choice:
    """A stick to choose. hex: its swatch; how: how it is laid, if that is asked; off: ΔE00 from what is wanted with
    it."""

    stick: str
    name: str
    hex: str
    how: str
    off: float


@dataclass(frozen=True, slots=True)
class Question:
    """samples: what is asked about first, then its neighbour, or what lies there already. truth: a value, how much
    warmer or stronger than its neighbour it is, or the index of the best of the choices."""

    kind: Kind
    group: Group
    samples: tuple[Sample, ...]
    truth: float
    choices: tuple[Choice, ...] = ()


@dataclass(frozen=True, slots=True)
class Marked:
    """error: signed where that means something: too light, taken for warmer or for stronger than it is; right: within
    what is felt; said: that in a sentence."""

    error: float
    right: bool
    said: str


def group_of(kind: Kind, sample: Sample) -> Group:
    """Which answers a sample's belongs to: errors are kept apart by it."""
    if sample.place in _WHITES:
        return "eye whites"
    if kind in ("hue", "chroma") and sample.role in SHADOW_ROLES:
        return "shadow hues"
    return "darks" if sample.value < _DARK else "lights" if sample.value > _LIGHT else "middles"


def of_value(sample: Sample) -> Question:
    """How light it is."""
    return Question("value", group_of("value", sample), (sample,), round(sample.value, 2))


def of_hue(sample: Sample, neighbour: Sample) -> Question:
    """Whether it is warmer or cooler than its neighbour."""
    warmer = float(temperature(np.array(sample.lab), np.array(neighbour.lab)))
    return Question("hue", group_of("hue", sample), (sample, neighbour), round(warmer, 2))


def of_chroma(sample: Sample, neighbour: Sample) -> Question:
    """Whether it is stronger or duller than its neighbour."""
    chroma = [float(lab_to_lch(np.array(one.lab))[1]) for one in (sample, neighbour)]
    return Question("chroma", group_of("chroma", sample), (sample, neighbour), round(chroma[0] - chroma[1], 2))


def of_stick(sample: Sample, sticks: Sequence[Stick], rng: np.random.Generator) -> Question | None:
    """Which of five sticks comes nearest; None where the sticks are too few or too alike to be told apart."""
    labs = np.array([stick.lab for stick in sticks]).reshape(-1, 3)
    off = np.asarray(ciede2000(labs, np.array(sample.lab)), dtype=float).reshape(-1)
    order = np.argsort(off, kind="stable")
    others = [int(i) for i in order[1:] if off[i] > off[order[0]] + _APART]
    if len(others) < _CHOICES - 1:
        return None
    # One that is near, and of the rest what differs in few ways: those are what is mistaken for it.
    near = others[: 3 * _CHOICES]
    picked = [int(order[0]), *(int(i) for i in rng.choice(near, _CHOICES - 1, replace=False))]
    return _choosing("stick", (sample,), [(sticks[i], "", float(off[i])) for i in picked], rng)


def of_layer(
    sample: Sample, kit: Kit, laid: Sequence[Pass], following: Sequence[tuple[Pass, str]], rng: np.random.Generator
) -> Question | None:
    """Which of some layers (with how each is said) brings what lies there nearest to what is wanted; None where they
    cannot be told apart."""
    seen = {stick.code: stick for stick in kit.sticks}
    found = []
    for pass_, how in following:
        lab = colours_after(kit, (*laid, pass_))[-1]
        found.append((seen[pass_.stick], how, float(ciede2000(lab, np.array(sample.lab)))))
    found.sort(key=lambda row: row[2])
    told = [found[0], *(row for row in found[1:] if row[2] > found[0][2] + _APART)] if found else []
    if len(told) < _NEXT:
        return None
    now = colours_after(kit, tuple(laid))[-1] if laid else np.array(kit.support.lab)
    lies = Sample(as_lab(now), sample.place, sample.role, "what lies there", sample.source)
    others = [told[1 + int(i)] for i in rng.choice(len(told) - 1, _NEXT - 1, replace=False)]
    return _choosing("layer", (sample, lies), [told[0], *others], rng)


def _choosing(
    kind: Kind, samples: tuple[Sample, ...], rows: list[tuple[Stick, str, float]], rng: np.random.Generator
) -> Question:
    shuffled = [rows[int(i)] for i in rng.permutation(len(rows))]
    choices = tuple(Choice(stick.code, stick.name, stick.solid_hex, how, round(off, 2)) for stick, how, off in shuffled)
    best = min(range(len(choices)), key=lambda i: choices[i].off)
    return Question(kind, group_of(kind, samples[0]), samples, float(best), choices)


def as_lab(lab: np.typing.ArrayLike) -> Lab:
    """CIELAB (3,) as a plain value, to a hundredth."""
    lightness, a, b = np.round(np.asarray(lab, dtype=float), 2).tolist()
    return lightness, a, b


# What an answer is worth ----------------------------------------------------------------------------------------------


def marked(question: Question, guess: float) -> Marked:
    """A guess: a value, MORE, ALIKE or LESS, or the index of a choice, held within what there is to choose."""
    if question.kind == "value":
        return _by_value(question, guess)
    if question.kind in ("hue", "chroma"):
        return _by_neighbour(question, guess)
    return _by_choice(question, int(np.clip(guess, 0, len(question.choices) - 1)))


def _by_value(question: Question, guess: float) -> Marked:
    error = round(float(np.clip(guess, 0, 10)) - question.truth, 2)
    right = abs(error) <= FELT["value"]
    said = f"It is {question.truth:.1f}"
    if right:
        return Marked(error, True, f"{said}: right.")
    return Marked(error, False, f"{said}: you see it {abs(error):.1f} too {'light' if error > 0 else 'dark'}.")


_MORE_LESS = {"hue": ("warmer", "cooler"), "chroma": ("stronger", "duller")}


def _by_neighbour(question: Question, guess: float) -> Marked:
    truth, felt = question.truth, FELT[question.kind]
    more, less = _MORE_LESS[question.kind]
    is_, meant = (0.0 if abs(truth) < felt else float(np.sign(truth))), float(np.sign(round(guess)))
    words = f"by {abs(truth):.0f}{'°' if question.kind == 'hue' else ' of chroma'}"
    told = f"It is {more if truth > 0 else less}, {words}" if is_ else f"They are as good as alike, {words}"
    if is_ == meant:
        return Marked(0.0, True, f"{told}: right.")
    # What was taken for more than it is counts upwards, by what there was to see.
    error = float(np.sign(meant - is_)) * max(abs(truth), felt)
    return Marked(round(error, 2), False, f"{told}.")


def _by_choice(question: Question, guess: int) -> Marked:
    best, chosen = question.choices[int(question.truth)], question.choices[guess]
    error = round(chosen.off - best.off, 2)
    told = f"{best.stick} {best.name} comes nearest ({closeness(best.off)})"
    if guess == int(question.truth):
        return Marked(0.0, True, f"{told}: right.")
    if error <= FELT[question.kind]:
        return Marked(error, True, f"{told}; yours is hardly farther.")
    return Marked(error, False, f"{told}; with yours it is {closeness(chosen.off)}.")
