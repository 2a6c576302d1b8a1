"""One question from end to end: these targets, this tray, this paper, this method: which recipes?"""

from __future__ import annotations

import itertools
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from core.colour.spaces import Floats
from core.errors import InputError
from core.limits import LIMITS
from core.look.roles import SHADOW_ROLES
from core.optics.media import get_medium
from core.optics.medium import PRESSURES, Pass
from core.optics.spectra import reflectance_to_lab
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.plan.setup import LaidOutTray, Setup, narrowed, table_for
from core.recipe.choose import around, choose, finalists
from core.recipe.cost import colour_cost
from core.recipe.finish import Way, apply_endings, ways_to_finish
from core.recipe.palette import pair_costs
from core.recipe.recipe import Asked, Recipe, made
from core.recipe.table import Found, Path

_PALE_L = 85.0


def _triple(lab: ArrayLike) -> tuple[float, float, float]:
    lightness, a, b = (float(v) for v in np.asarray(lab))
    return lightness, a, b


@dataclass(frozen=True, slots=True)
class Wanted:
    """What one spot is to become: a target in CIELAB to be searched for, its light role, passes to be kept as they
    are, in order. judged: what the recipe is judged by, if that is another colour."""

    target: tuple[float, float, float]
    role: str = ""
    locked: tuple[Pass, ...] = ()
    judged: tuple[float, float, float] | None = None

    @staticmethod
    def of(target: ArrayLike, role: str = "", locked: Sequence[Pass] = (), judged: ArrayLike | None = None) -> Wanted:
        """From colours (3,) of any kind."""
        return Wanted(_triple(target), role, tuple(locked), None if judged is None else _triple(judged))


Candidates = list[Found]


def candidates(laid_out: LaidOutTray, wanted: Sequence[Wanted]) -> list[Candidates]:
    """The best stacks for each of these, cheapest first; the costly half of `solve`.

    Raises InputError: `too_many_spots`, or for kept passes that cannot be made. The targets are taken as they
    are: see `LaidOutTray.aims`.
    """
    if len(wanted) > LIMITS.spots:
        raise InputError(
            "too_many_spots", f"{len(wanted)} spots are too many.", f"Use at most {LIMITS.spots}.", "spots"
        )
    split = [_split(laid_out, row.locked) for row in wanted]
    targets = np.array([row.target for row in wanted]).reshape(-1, 3)
    within = [(row, path) for row, (path, rest) in zip(wanted, split, strict=True) if not rest]
    found = iter(_finished(laid_out, within, _searched(laid_out, within, targets[[not rest for _, rest in split]])))
    return [
        _around(laid_out, row, path, rest) if rest else next(found)
        for row, (path, rest) in zip(wanted, split, strict=True)
    ]


Row = tuple[Wanted, Path]
"""What a spot is to become, and the actions that must stay in it."""


def _searched(
    laid_out: LaidOutTray, rows: Sequence[Row], targets: Floats, max_passes: int | None = None
) -> list[Candidates]:
    """The best of what the search lays for these rows, for other targets (m, 3) if need be."""
    passes = laid_out.setup.max_passes if max_passes is None else max_passes
    free = [i for i, (_, path) in enumerate(rows) if not path]
    found = dict(zip(free, finalists(laid_out.table, targets[free], passes), strict=True))
    return [
        _fitting_the_light(laid_out, row.role, found[i])
        if i in found
        else around(laid_out.table, [path], targets[i], max(passes, len(path)))
        for i, (row, path) in enumerate(rows)
    ]


def _finished(laid_out: LaidOutTray, rows: Sequence[Row], lists: Sequence[Candidates]) -> list[Candidates]:
    """The lists, ended as the set-up says; what is left to the paper, and what cannot be ended so, as it is."""
    setup = laid_out.setup
    allowed = [stick for stick in laid_out.kit.boxes[setup.medium].sticks if stick.code not in setup.banned]
    # A blender is no colour of the palette; another stick should be one of it.
    near = [stick for stick in allowed if stick.colourless or stick in laid_out.box.sticks]
    ways = ways_to_finish(near, setup.finish) or ways_to_finish(allowed, setup.finish)
    open_ = [i for i, (row, _) in enumerate(rows) if not _reserved(laid_out, row.role)]
    if not ways or not open_:
        return list(lists)
    some = [rows[i] for i in open_]
    closed = apply_endings(
        laid_out.kit,
        laid_out.table,
        np.array([row.target for row, _ in some]),
        [lists[i] for i in open_],
        ways,
        lambda which, aims: _searched(laid_out, [some[i] for i in which], aims, _room(setup)),
        [row.locked for row, _ in some],
        lambda i, hits: _fitting_the_light(laid_out, some[i][0].role, hits),
    )
    ended = {
        i: [hit for hit in hits if len(hit.stack) <= max(setup.max_passes, len(rows[i][0].locked))]
        for i, hits in zip(open_, closed, strict=True)
    }
    return [ended.get(i) or hits for i, hits in enumerate(lists)]


def _room(setup: Setup) -> int:
    """How many passes a recipe may have before what ends it, which is one of them."""
    return max(1, setup.max_passes - (setup.finish in ("burnish", "smudge")))


def _split(laid_out: LaidOutTray, kept: Sequence[Pass]) -> tuple[Path, tuple[Pass, ...]]:
    """The kept passes as far as they are actions of the search, and the rest of them."""
    if not kept:
        return (), ()
    sticks = laid_out.box.sticks
    at = {
        Pass(sticks[a.stick].code, PRESSURES[a.pressure], a.repeats, a.technique): i
        for i, a in enumerate(laid_out.box.actions)
    }
    path = list(itertools.takewhile(lambda i: i is not None, (at.get(pass_) for pass_ in kept)))
    return tuple(i for i in path if i is not None), tuple(kept[len(path) :])


def _around(laid_out: LaidOutTray, row: Wanted, path: Path, rest: tuple[Pass, ...]) -> Candidates:
    """The best stacks that hold kept passes of which some are not the search's: other techniques, tools, media.

    Raises InputError if they cannot be made at all.
    """
    alone = colours_after(laid_out.kit, row.locked)[-1]
    lightness, a, b = (float(v) for v in alone)
    target, kept = np.array([row.target]), row.locked
    found = [Found((), (lightness, a, b), float(colour_cost(target[0], alone)), kept)]
    passes = min(laid_out.setup.max_passes, LIMITS.passes - len(kept))
    ways: tuple[tuple[Path, Way], ...] = ((path, lambda stack: (*stack, *rest)), ((), lambda stack: (*kept, *stack)))
    for held, way in ways if passes else ():
        rows = [(replace(row, locked=()), held)]

        def search(_: Sequence[int], aims: Floats, rows: Sequence[Row] = rows) -> list[Candidates]:
            return _searched(laid_out, rows, aims, passes)

        found += apply_endings(laid_out.kit, laid_out.table, target, search([0], target), [way], search, [kept])[0]
    return sorted(found, key=lambda hit: (round(hit.cost, 5), hit.path))


def _reserved(laid_out: LaidOutTray, role: str) -> bool:
    return laid_out.setup.reserve and role == "highlight"


def _fitting_the_light(laid_out: LaidOutTray, role: str, hits: Candidates) -> Candidates:
    """The stacks that suit a light role: of a reserved highlight only what leaves the paper shining, else those that
    begin with an under-colour that the method wants in this light; all if none does."""
    sticks, stick_of = laid_out.box.sticks, laid_out.table.stick_of
    if _reserved(laid_out, role):
        return [hit for hit in hits if _leaves_the_paper(laid_out, hit)]
    return [hit for hit in hits if laid_out.method.lies_under(sticks[stick_of[hit.path[0]]], role)] or hits


def _leaves_the_paper(laid_out: LaidOutTray, hit: Found) -> bool:
    """One light pass of a pale stick: truer than raw paper, and still reserved."""
    actions = [laid_out.box.actions[i] for i in hit.path]
    pale = all(laid_out.box.sticks[action.stick].lab[0] >= _PALE_L for action in actions)
    return len(actions) == 1 and pale and actions[0].pressure == 0 and actions[0].repeats == 1


def chosen(
    laid_out: LaidOutTray,
    wanted: Sequence[Wanted],
    in_use: Collection[str] = (),
    lists: Sequence[Candidates] | None = None,
) -> list[tuple[Pass, ...]]:
    """The passes for each of these, chosen together.

    in_use: codes of sticks that the piece needs anyway. lists: what `candidates` gave, if it is at hand. A target
    that the bare paper serves best, or for which the rules allow nothing, gets no passes.
    """
    lists = candidates(laid_out, wanted) if lists is None else lists
    if laid_out.setup.one_shadow:
        lists = _sharing_a_shadow(laid_out, wanted, lists)
    found = _using(laid_out, wanted, choose(laid_out.table, lists, laid_out.index(in_use)))
    targets = np.array([row.target for row in wanted]).reshape(-1, 3)
    bare = colour_cost(targets, reflectance_to_lab(laid_out.box.support.reflectance()))
    must = set(laid_out.index(laid_out.setup.must_use))
    return [
        laid_out.table.stack(hit)
        if hit and (row.locked or hit.cost < paper or must & set(laid_out.table.sticks(hit)))
        else ()
        for hit, paper, row in zip(found, bare, wanted, strict=True)
    ]


def _using(laid_out: LaidOutTray, wanted: Sequence[Wanted], found: Sequence[Found | None]) -> list[Found | None]:
    """What was found, with every stick that must be used in the recipe where that costs least."""
    table, out = laid_out.table, list(found)
    must = laid_out.index(laid_out.setup.must_use)
    for stick in must:
        used = [set(table.sticks(hit)) if hit else set() for hit in out]
        if any(stick in held for held in used):
            continue
        alone = [(int(action),) for action in np.flatnonzero(table.stick_of == stick)]
        offers = []
        for i, (row, hit) in enumerate(zip(wanted, out, strict=True)):
            # A recipe that holds the only use of another such stick is not touched.
            others = set().union(*(held for j, held in enumerate(used) if j != i))
            if row.locked or any(other in used[i] and other not in others for other in must):
                continue
            wider = around(table, alone, np.array(row.target), _room(laid_out.setup))
            allowed = [other for other in wider if table.allows(other.path)]
            if not allowed:
                continue
            its = next(a for a in allowed[0].path if table.stick_of[a] == stick)
            held = [
                other
                for other in candidates(laid_out, [replace(row, locked=table.passes((its,)))])[0]
                if stick in table.sticks(other)
            ]
            if held:
                offers.append((held[0].cost - (hit.cost if hit else 0.0), i, held[0]))
        if offers:
            _, i, best = min(offers, key=lambda offer: offer[:2])
            out[i] = best
    return out


def solve(
    laid_out: LaidOutTray,
    wanted: Sequence[Wanted],
    in_use: Collection[str] = (),
    lists: Sequence[Candidates] | None = None,
) -> list[Recipe]:
    """The recipe of each of these: what `chosen` gives, worked out."""
    stacks = chosen(laid_out, wanted, in_use, lists)
    return made(
        laid_out.kit,
        [Asked(stack, row.judged or row.target, row.role) for stack, row in zip(stacks, wanted, strict=True)],
    )


def mix(laid_out: LaidOutTray, seen: Floats, roles: Sequence[str]) -> list[Recipe]:
    """Recipes for colours (m, 3) as they are seen: moved into reach, with no more sticks than the set-up allows.

    Raises what `narrowed` and `candidates` raise.
    """
    aims = laid_out.aims(seen)
    rows = zip(aims, roles, laid_out.judged(seen), strict=True)
    return solve(narrowed(laid_out, aims), [Wanted.of(aim, role, judged=judged) for aim, role, judged in rows])


def _sharing_a_shadow(laid_out: LaidOutTray, wanted: Sequence[Wanted], lists: Sequence[Candidates]) -> list[Candidates]:
    """The lists, those of shadows cut to stacks that hold the one stick which serves all shadows best."""
    shadows = [i for i, row in enumerate(wanted) if row.role in SHADOW_ROLES and not row.locked]
    if len(shadows) < 2:
        return list(lists)
    pairs = pair_costs(laid_out.table, np.array([wanted[i].target for i in shadows]))
    with_each = np.minimum(pairs.min(axis=1), pairs.min(axis=2)).sum(axis=0)
    shared = int(np.argmin(with_each))
    alone = [(int(action),) for action in np.flatnonzero(laid_out.table.stick_of == shared)]
    out = list(lists)
    for i in shadows:
        held = [hit for hit in out[i] if shared in laid_out.table.sticks(hit)]
        wider = around(laid_out.table, alone, np.array(wanted[i].target), laid_out.setup.max_passes)
        allowed = [hit for hit in wider if laid_out.table.allows(hit.path)]
        (ended,) = _finished(laid_out, [(wanted[i], ())], [allowed or wider])
        ended = [hit for hit in ended if shared in laid_out.table.sticks(hit)] or ended
        out[i] = sorted([*held, *ended], key=lambda hit: (round(hit.cost, 5), hit.path))
    return out


def replacement(laid_out: LaidOutTray, stick: Stick) -> Recipe:
    """The best mix of the others in the place of a stick that is missing: its solid swatch as the target."""
    others = replace(
        laid_out.setup,
        banned=tuple({*laid_out.setup.banned, stick.code} - set(laid_out.setup.must_use)),
        max_sticks=0,
        finish="layer",
    )
    left = tuple(held for held in laid_out.box.sticks if held.code != stick.code)
    if not left:
        raise InputError("all_banned", "There is nothing else to mix it from.", "Add one to the tray.", "tray")
    box = get_medium(others.medium).prepare(left, laid_out.box.support)
    without = replace(laid_out, setup=others, box=box, table=table_for(box, laid_out.method, others.black))
    (recipe,) = solve(without, [Wanted.of(stick.lab)])
    return recipe
