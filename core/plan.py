"""One question from end to end: these targets, this tray, this paper, this method: which recipes?"""

from __future__ import annotations

import itertools
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from core.bench import Bench, narrowed, table_for
from core.colour.spaces import Floats
from core.errors import InputError
from core.limits import LIMITS
from core.look.roles import SHADOW_ROLES
from core.optics.media import get_medium
from core.optics.medium import PRESSURES, Pass
from core.optics.spectra import reflectance_to_lab
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.recipe.choose import around, choose, finalists
from core.recipe.cost import colour_cost
from core.recipe.finish import Way, dressed, ways_to_finish
from core.recipe.palette import pair_costs
from core.recipe.recipe import Recipe, work_out
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
    kept: tuple[Pass, ...] = ()
    judged: tuple[float, float, float] | None = None

    @staticmethod
    def of(target: ArrayLike, role: str = "", kept: Sequence[Pass] = (), judged: ArrayLike | None = None) -> Wanted:
        """From colours (3,) of any kind."""
        return Wanted(_triple(target), role, tuple(kept), None if judged is None else _triple(judged))


Listed = list[Found]


def listed(bench: Bench, wanted: Sequence[Wanted]) -> list[Listed]:
    """The best stacks for each of these, cheapest first; the costly half of `solve`.

    Raises InputError: `too_many_spots`, or for kept passes that cannot be made. The targets are taken as they
    are: see `Bench.aims`.
    """
    if len(wanted) > LIMITS.spots:
        raise InputError(
            "too_many_spots", f"{len(wanted)} spots are too many.", f"Use at most {LIMITS.spots}.", "spots"
        )
    split = [_split(bench, row.kept) for row in wanted]
    targets = np.array([row.target for row in wanted]).reshape(-1, 3)
    within = [(row, path) for row, (path, rest) in zip(wanted, split, strict=True) if not rest]
    found = iter(_finished(bench, within, _searched(bench, within, targets[[not rest for _, rest in split]])))
    return [
        _around(bench, row, path, rest) if rest else next(found)
        for row, (path, rest) in zip(wanted, split, strict=True)
    ]


Row = tuple[Wanted, Path]
"""What a spot is to become, and the actions that must stay in it."""


def _searched(bench: Bench, rows: Sequence[Row], targets: Floats, max_passes: int | None = None) -> list[Listed]:
    """The best of what the search lays for these rows, for other targets (m, 3) if need be."""
    passes = bench.setup.max_passes if max_passes is None else max_passes
    free = [i for i, (_, path) in enumerate(rows) if not path]
    found = dict(zip(free, finalists(bench.table, targets[free], passes), strict=True))
    return [
        _fitting_the_light(bench, row.role, found[i])
        if i in found
        else around(bench.table, [path], targets[i], max(passes, len(path)))
        for i, (row, path) in enumerate(rows)
    ]


def _finished(bench: Bench, rows: Sequence[Row], lists: Sequence[Listed]) -> list[Listed]:
    """The lists, ended as the set-up says; what is left to the paper, and what cannot be ended so, as it is."""
    setup = bench.setup
    allowed = [stick for stick in bench.kit.boxes[setup.medium].sticks if stick.code not in setup.banned]
    # A blender is no colour of the palette; another stick should be one of it.
    near = [stick for stick in allowed if stick.colourless or stick in bench.box.sticks]
    ways = ways_to_finish(near, setup.finish) or ways_to_finish(allowed, setup.finish)
    open_ = [i for i, (row, _) in enumerate(rows) if not _reserved(bench, row.role)]
    if not ways or not open_:
        return list(lists)
    some = [rows[i] for i in open_]
    closed = dressed(
        bench.kit,
        bench.table,
        np.array([row.target for row, _ in some]),
        [lists[i] for i in open_],
        ways,
        lambda which, aims: _searched(bench, [some[i] for i in which], aims),
        [row.kept for row, _ in some],
        lambda i, hits: _fitting_the_light(bench, some[i][0].role, hits),
    )
    ended = dict(zip(open_, closed, strict=True))
    return [ended.get(i) or hits for i, hits in enumerate(lists)]


def _split(bench: Bench, kept: Sequence[Pass]) -> tuple[Path, tuple[Pass, ...]]:
    """The kept passes as far as they are actions of the search, and the rest of them."""
    if not kept:
        return (), ()
    sticks = bench.box.sticks
    at = {
        Pass(sticks[a.stick].code, PRESSURES[a.pressure], a.repeats, a.technique): i
        for i, a in enumerate(bench.box.actions)
    }
    path = list(itertools.takewhile(lambda i: i is not None, (at.get(pass_) for pass_ in kept)))
    return tuple(i for i in path if i is not None), tuple(kept[len(path) :])


def _around(bench: Bench, row: Wanted, path: Path, rest: tuple[Pass, ...]) -> Listed:
    """The best stacks that hold kept passes of which some are not the search's: other techniques, tools, media.

    Raises InputError if they cannot be made at all.
    """
    alone = colours_after(bench.kit, row.kept)[-1]
    lightness, a, b = (float(v) for v in alone)
    target, kept = np.array([row.target]), row.kept
    found = [Found((), (lightness, a, b), float(colour_cost(target[0], alone)), kept)]
    passes = min(bench.setup.max_passes, LIMITS.passes - len(kept))
    ways: tuple[tuple[Path, Way], ...] = ((path, lambda stack: (*stack, *rest)), ((), lambda stack: (*kept, *stack)))
    for held, way in ways if passes else ():
        rows = [(replace(row, kept=()), held)]

        def search(_: Sequence[int], aims: Floats, rows: Sequence[Row] = rows) -> list[Listed]:
            return _searched(bench, rows, aims, passes)

        found += dressed(bench.kit, bench.table, target, search([0], target), [way], search, [kept])[0]
    return sorted(found, key=lambda hit: (round(hit.cost, 5), hit.path))


def _reserved(bench: Bench, role: str) -> bool:
    return bench.setup.reserve and role == "highlight"


def _fitting_the_light(bench: Bench, role: str, hits: Listed) -> Listed:
    """The stacks that suit a light role: of a reserved highlight only what leaves the paper shining, else those that
    begin with an under-colour that the method wants in this light; all if none does."""
    sticks, stick_of = bench.box.sticks, bench.table.stick_of
    if _reserved(bench, role):
        return [hit for hit in hits if _leaves_the_paper(bench, hit)]
    return [hit for hit in hits if bench.method.lies_under(sticks[stick_of[hit.path[0]]], role)] or hits


def _leaves_the_paper(bench: Bench, hit: Found) -> bool:
    """One light pass of a pale stick: truer than raw paper, and still reserved."""
    actions = [bench.box.actions[i] for i in hit.path]
    pale = all(bench.box.sticks[action.stick].lab[0] >= _PALE_L for action in actions)
    return len(actions) == 1 and pale and actions[0].pressure == 0 and actions[0].repeats == 1


def chosen(
    bench: Bench,
    wanted: Sequence[Wanted],
    in_use: Collection[str] = (),
    lists: Sequence[Listed] | None = None,
) -> list[tuple[Pass, ...]]:
    """The passes for each of these, chosen together.

    in_use: codes of sticks that the piece needs anyway. lists: what `listed` gave, if it is at hand. A target
    that the bare paper serves best, or for which the rules allow nothing, gets no passes.
    """
    lists = listed(bench, wanted) if lists is None else lists
    if bench.setup.one_shadow:
        lists = _sharing_a_shadow(bench, wanted, lists)
    found = choose(bench.table, lists, bench.index(in_use))
    targets = np.array([row.target for row in wanted]).reshape(-1, 3)
    bare = colour_cost(targets, reflectance_to_lab(bench.box.support.reflectance()))
    return [
        bench.table.stack(hit) if hit and (row.kept or hit.cost < paper) else ()
        for hit, paper, row in zip(found, bare, wanted, strict=True)
    ]


def solve(
    bench: Bench,
    wanted: Sequence[Wanted],
    in_use: Collection[str] = (),
    lists: Sequence[Listed] | None = None,
) -> list[Recipe]:
    """The recipe of each of these: what `chosen` gives, worked out."""
    return [
        work_out(bench.kit, stack, row.judged or row.target, row.role)
        for stack, row in zip(chosen(bench, wanted, in_use, lists), wanted, strict=True)
    ]


def mix(bench: Bench, seen: Floats, roles: Sequence[str]) -> list[Recipe]:
    """Recipes for colours (m, 3) as they are seen: moved into reach, with no more sticks than the set-up allows.

    Raises what `narrowed` and `listed` raise.
    """
    aims = bench.aims(seen)
    rows = zip(aims, roles, bench.judged(seen), strict=True)
    return solve(narrowed(bench, aims), [Wanted.of(aim, role, judged=judged) for aim, role, judged in rows])


def _sharing_a_shadow(bench: Bench, wanted: Sequence[Wanted], lists: Sequence[Listed]) -> list[Listed]:
    """The lists, those of shadows cut to stacks that hold the one stick which serves all shadows best."""
    shadows = [i for i, row in enumerate(wanted) if row.role in SHADOW_ROLES and not row.kept]
    if len(shadows) < 2:
        return list(lists)
    pairs = pair_costs(bench.table, np.array([wanted[i].target for i in shadows]))
    with_each = np.minimum(pairs.min(axis=1), pairs.min(axis=2)).sum(axis=0)
    shared = int(np.argmin(with_each))
    alone = [(int(action),) for action in np.flatnonzero(bench.table.stick_of == shared)]
    out = list(lists)
    for i in shadows:
        held = [hit for hit in out[i] if shared in bench.table.sticks(hit)]
        wider = around(bench.table, alone, np.array(wanted[i].target), bench.setup.max_passes)
        allowed = [hit for hit in wider if bench.table.allows(hit.path)]
        (ended,) = _finished(bench, [(wanted[i], ())], [allowed or wider])
        ended = [hit for hit in ended if shared in bench.table.sticks(hit)] or ended
        out[i] = sorted([*held, *ended], key=lambda hit: (round(hit.cost, 5), hit.path))
    return out


def replacement(bench: Bench, stick: Stick) -> Recipe:
    """The best mix of the others in the place of a stick that is missing: its solid swatch as the target."""
    others = replace(
        bench.setup,
        banned=tuple({*bench.setup.banned, stick.code} - set(bench.setup.kept)),
        max_sticks=0,
        finish="layer",
    )
    left = tuple(held for held in bench.box.sticks if held.code != stick.code)
    if not left:
        raise InputError("all_banned", "There is no other stick to mix it from.", "Add one to the tray.", "tray")
    box = get_medium(others.medium).prepare(left, bench.box.support)
    without = replace(bench, setup=others, box=box, table=table_for(box, bench.method, others.black))
    (recipe,) = solve(without, [Wanted.of(stick.lab)])
    return recipe
