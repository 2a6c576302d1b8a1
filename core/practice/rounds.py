"""A round: a few questions about what is weak, from the artist's references, a lit study head, and bare patches.

Plain values in and out, so that another process can make one.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.spaces import lab_to_xyz, xyz_to_lab
from core.errors import InputError
from core.light.lamps import NAMED
from core.light.scene import Key, Scene, Sitter
from core.light.shade import light
from core.light.sheet import told
from core.look.roles import SHADOW_ROLES
from core.method.manner import manner
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.stick import Stick
from core.optics.support import Support
from core.practice.asked import (
    FELT,
    GUESSED,
    SOURCES,
    Group,
    Kind,
    Lab,
    Question,
    Sample,
    Source,
    as_lab,
    group_of,
    of_chroma,
    of_hue,
    of_layer,
    of_stick,
    of_value,
)
from core.practice.standing import Answer, Due, due
from core.skin.describe import DEEPEST, PALEST, Description

COUNT = 8
"""Questions of a round: some two minutes."""
_HEAD = 320
"""Pixels across the study head."""
_LEAST_SHARE = 0.004
_TRIES = 12
_SHADES: tuple[tuple[str, float], ...] = (
    ("highlight", 1.3), ("light", 1.0), ("middle", 0.7), ("half-shadow", 0.42), ("shadow", 0.2), ("deep accent", 0.07)
)  # fmt: skip
"""How much light there is for a patch in each role, against evenly lit skin (assumed)."""
_SHADE_TURNS, _PATCHES, _WHITES = 14.0, 60, 12
"""Percent by which X, Y and Z of the light in a shade may differ; how many patches there are to draw from."""


@dataclass(frozen=True, slots=True)
class PlannedPlaces:
    """Places of a planned piece: each with its passes in order. sticks: those of its plan; medium: its usual one."""

    sticks: tuple[Stick, ...]
    support: Support
    medium: str
    places: tuple[tuple[Sample, tuple[Pass, ...]], ...]


@dataclass(frozen=True, slots=True)
class Asking:
    """What a round is made from. samples: of the artist's references; kinds, sources: what is wanted, empty for
    everything; now: on the clock of the answers."""

    samples: tuple[Sample, ...]
    sticks: tuple[Stick, ...]
    plans: tuple[PlannedPlaces, ...]
    answers: tuple[Answer, ...]
    now: float
    kinds: tuple[Kind, ...]
    sources: tuple[Source, ...]
    seed: int


@dataclass(frozen=True, slots=True)
class MadeRound:
    """scene: of the study head, if one is asked about."""

    questions: tuple[Question, ...]
    scene: Scene | None


def make_round(asking: Asking) -> MadeRound:
    """COUNT questions, fewer where there is less to ask. Raises InputError (`nothing_to_ask`), ModelError."""
    rng = np.random.default_rng(asking.seed)
    wanted = asking.sources or SOURCES
    held: list[Sample] = list(asking.samples) if "references" in wanted else []
    scene = None
    if "study head" in wanted:
        scene = _scene(rng)
        held += head_of(scene)
    if "patches" in wanted:
        held += _patches(rng)
    makers = _makers(asking, held, rng)
    kinds = [kind for kind in (asking.kinds or GUESSED) if kind in makers]
    questions: list[Question] = []
    asked: set[tuple[Kind, Lab]] = set()
    order = _order([row for row in due(asking.answers, asking.now) if row.kind in kinds], rng)
    for number in range(_TRIES * COUNT):
        if len(questions) == COUNT or not order:
            break
        kind, group = order[number % len(order)]
        found = makers[kind](group)
        if found and (kind, found.samples[0].lab) not in asked:
            questions.append(found)
            asked.add((kind, found.samples[0].lab))
    if not questions:
        raise InputError(
            "nothing_to_ask",
            "There is nothing to ask this about.",
            "Put in a picture and choose spots, or practise on the study head and on patches.",
            "sources",
        )
    if not any(sample.source == "study head" for question in questions for sample in question.samples):
        scene = None
    return MadeRound(tuple(questions), scene)


def _order(rows: Sequence[Due], rng: np.random.Generator) -> list[tuple[Kind, Group]]:
    """Kinds and groups in an order drawn by how much each is wanted, no kind twice in a row if that can be."""
    if not rows:
        return []
    weight = np.array([row.weight for row in rows])
    drawn = [rows[int(i)] for i in rng.choice(len(rows), len(rows), replace=False, p=weight / weight.sum())]
    found: list[tuple[Kind, Group]] = []
    while drawn:
        last = found[-1][0] if found else None
        row = next((one for one in drawn if one.kind != last), drawn[0])
        drawn.remove(row)
        found.append((row.kind, row.group))
    return found


_Maker = Callable[[Group], Question | None]


def _makers(asking: Asking, held: Sequence[Sample], rng: np.random.Generator) -> dict[Kind, _Maker]:
    """What can be asked, by kind."""

    def one(kind: Kind, group: Group) -> Sample | None:
        fitting = [sample for sample in held if group_of(kind, sample) == group]
        return fitting[int(rng.integers(len(fitting)))] if fitting else None

    def beside(kind: Kind, of: Callable[[Sample, Sample], Question]) -> _Maker:
        def make(group: Group) -> Question | None:
            sample = one(kind, group)
            others = [row for row in held if sample and row is not sample and _neighbours(sample, row)]
            if not sample or not others:
                return None
            made = [of(sample, others[int(i)]) for i in rng.permutation(len(others))[:_TRIES]]
            # What nobody could see trains nothing, but for once in a while.
            seen = [row for row in made if abs(row.truth) >= FELT[kind]]
            return (seen or made)[0]

        return make

    found: dict[Kind, _Maker] = {}
    if held:
        found["value"] = lambda group: of_value(sample) if (sample := one("value", group)) else None
        found["hue"], found["chroma"] = beside("hue", of_hue), beside("chroma", of_chroma)
        if asking.sticks:
            found["stick"] = lambda group: (
                of_stick(sample, asking.sticks, rng) if (sample := one("stick", group)) else None
            )
    places = [(plan, *place) for plan in asking.plans for place in plan.places if len(place[1]) > 1]
    # Planned places are places of references.
    if places and (not asking.sources or "references" in asking.sources):

        def layer(group: Group) -> Question | None:
            fitting = [row for row in places if group_of("layer", row[1]) == group]
            return _layer(*fitting[int(rng.integers(len(fitting)))], rng) if fitting else None

        found["layer"] = layer
    return found


def _neighbours(one: Sample, other: Sample) -> bool:
    same = (one.source, one.piece, one.figure) == (other.source, other.piece, other.figure)
    return same and abs(one.value - other.value) < _AS_LIGHT and one.around is None and other.around is None


_AS_LIGHT = 2.0
"""Steps of value within which two patches are fair neighbours."""


def _layer(plan: PlannedPlaces, sample: Sample, passes: Sequence[Pass], rng: np.random.Generator) -> Question | None:
    kit = Kit(plan.sticks, plan.support, plan.medium)
    laid = int(rng.integers(1, len(passes)))
    true = passes[laid]
    medium = {stick.code: stick.medium for stick in plan.sticks}
    usual = get_medium(plan.medium).pressures
    offered = {true.stick: true}
    for stick in plan.sticks:
        offered.setdefault(stick.code, Pass(stick.code, usual[int(rng.integers(len(usual)))], true.repeats))
    following = [(pass_, manner(pass_, medium[pass_.stick])) for pass_ in offered.values()]
    return of_layer(sample, kit, passes[:laid], following, rng)


# The study head and bare patches --------------------------------------------------------------------------------------


def _scene(rng: np.random.Generator) -> Scene:
    """Anybody under any light from in front."""
    skin = Description(
        depth=float(rng.uniform(DEEPEST, PALEST)),
        undertone=float(rng.uniform(15, 85)),
        strength=float(rng.uniform(20, 80)),
        flush=float(rng.uniform(0, 0.6)),
    )
    lamp = list(NAMED.values())[int(rng.integers(len(NAMED)))]
    key = Key(lamp=lamp, azimuth=float(rng.uniform(-75, 75)), height=float(rng.uniform(10, 60)))
    return Scene(sitters=(Sitter(skin=skin, turn=float(rng.uniform(-30, 30))),), key=key)


def head_of(scene: Scene) -> list[Sample]:
    """Every place of a scene's first sitter that is large enough to be looked at."""
    return [
        Sample(row.lab, row.place, row.role, row.name, "study head", x=row.x, y=row.y, radius=row.radius)
        for row in told(scene, 0, light(scene, 0, _HEAD)).targets
        if row.share >= _LEAST_SHARE
    ]


def _patches(rng: np.random.Generator) -> list[Sample]:
    """Skins in every light, and eye whites within the skin around them."""
    found = []
    for number in range(_PATCHES):
        skin = Description(
            depth=float(rng.uniform(DEEPEST, PALEST)),
            undertone=float(rng.uniform(10, 90)),
            strength=float(rng.uniform(10, 90)),
        )
        role, much = _SHADES[number % len(_SHADES)]
        xyz = lab_to_xyz(skin.lab) * much
        if role in SHADOW_ROLES:
            xyz = xyz * np.exp(rng.normal(0, _SHADE_TURNS / 100, 3))
        lab = xyz_to_lab(np.minimum(xyz, 0.92))
        found.append(Sample(as_lab(lab), "other", role, f"skin, {role}", "patches", figure=f"{number % 4}"))
    for _ in range(_WHITES):
        around = Description(depth=float(rng.uniform(DEEPEST, PALEST))).lab
        # From memory, no source: as light as lit skin to a step lighter on deep skin, greyer, and darker in shade.
        lightness = float(np.clip(around[0] + rng.uniform(-14, 16), 28, 86))
        white = (lightness, float(rng.normal(2, 1.5)), float(rng.normal(4, 3)))
        found.append(Sample(as_lab(white), "eye white", "middle", "an eye white", "patches", around=as_lab(around)))
    return found
