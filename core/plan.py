"""One question from end to end: these targets, this tray, this paper, this method: which recipes?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats
from core.errors import InputError
from core.method.method import Method, get_method, methods
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import Box
from core.optics.spectra import reflectance_to_lab
from core.optics.stick import Tray
from core.optics.support import Support, get_support, supports
from core.recipe.cost import colour_cost
from core.recipe.palette import choose_palette
from core.recipe.recipe import Recipe, work_out
from core.recipe.rules import BLACK_POLICIES
from core.recipe.search import DEEPEST, Table, search
from core.trial.refit import as_swatched

MAX_TARGETS = 400
MAX_STICKS = 200


@dataclass(frozen=True, slots=True)
class Setup:
    """How an artist works. max_sticks: the most sticks for the whole piece, 0 for no limit."""

    medium: str = "pencil"
    paper: str = "medium-white"
    method: str = "darks_first"
    black: str = "last"
    max_sticks: int = 0
    max_passes: int = DEEPEST


@dataclass(frozen=True, slots=True)
class Bench:
    """A tray laid out for a set-up: all that is within reach, the box of the medium, the method, and the table
    of stacks they allow."""

    setup: Setup
    kit: Kit
    box: Box
    method: Method
    table: Table

    def reach(self) -> tuple[float, float]:
        """Darkest and lightest Munsell value that paper and tray can hold, by up to two passes."""
        low, high = self.table.lightness_reach()
        low_v, high_v = lab_to_value(np.array([[low, 0, 0], [high, 0, 0]]))
        return round(float(low_v), 2), round(float(high_v), 2)


def usual_setup(medium: str) -> Setup:
    """A set-up to begin with: the paper made for the medium above all, and its first method. Raises InputError."""
    get_medium(medium)
    fitting = [paper for paper in supports().values() if medium in paper.media]
    paper = min(fitting, key=lambda paper: paper.media.index(medium)).id
    method = next(method.id for method in methods().values() if method.medium == medium)
    return Setup(medium=medium, paper=paper, method=method)


def check_setup(setup: Setup, own: Support | None = None) -> Support:
    """The paper of the set-up: `own` if it is one of the artist's, else one that Caltin knows.

    Raises InputError for the first thing in the set-up that does not exist or is out of range.
    """
    get_medium(setup.medium)
    support = own or get_support(setup.paper)
    get_method(setup.method, setup.medium)
    if setup.black not in BLACK_POLICIES:
        raise InputError(
            "unknown_black_policy",
            f"“{setup.black[:40]}” says nothing about black.",
            f"Use {', '.join(BLACK_POLICIES)}.",
            "black",
        )
    if setup.max_sticks != 0 and not 2 <= setup.max_sticks <= MAX_STICKS:
        raise InputError(
            "bad_stick_limit", f"{setup.max_sticks} sticks are out of range.", f"Use 2 to {MAX_STICKS}.", "sticks"
        )
    if not 1 <= setup.max_passes <= DEEPEST:
        raise InputError(
            "bad_pass_limit", f"{setup.max_passes} passes are out of range.", f"Use 1 to {DEEPEST}.", "passes"
        )
    return support


def lay_out_kit(tray: Tray, setup: Setup, own: Support | None = None) -> Kit:
    """All that is usable in the tray, on the paper.

    Raises InputError if there is nothing of the medium, or if nothing of it would show on the paper.
    """
    support = check_setup(setup, own)
    medium = get_medium(setup.medium)
    sticks = tray.usable(setup.medium)
    if not sticks:
        raise InputError(
            "empty_tray", f"The tray holds no usable {medium.word}.", "Add at least one that is good or low.", "tray"
        )
    if not medium.hides and all(stick.lab[0] > support.lab[0] for stick in sticks):
        raise InputError(
            "paper_too_dark",
            f"{support.name} is darker than every {medium.word}, and {medium.name.lower()} cannot lighten it.",
            "Choose a lighter paper, or a medium that covers.",
            "paper",
        )
    others = tuple(stick for stick in tray.usable() if stick.medium != setup.medium)
    return Kit(tuple(as_swatched(stick) for stick in (*sticks[:MAX_STICKS], *others[:MAX_STICKS])), support, medium.id)


def lay_out(tray: Tray, setup: Setup, own: Support | None = None) -> Bench:
    """Everything that does not depend on the targets. Worth keeping. Raises what `lay_out_kit` raises."""
    kit = lay_out_kit(tray, setup, own)
    method = get_method(setup.method, setup.medium)
    box = kit.boxes[setup.medium]
    return Bench(setup, kit, box, method, Table(box, method.rules(box, setup.black)))


def solve(bench: Bench, targets: Floats, roles: Sequence[str]) -> list[Recipe]:
    """A recipe for each target (m, 3) in CIELAB; roles (m,) are the light roles, or empty strings.

    A target that the bare paper serves best, or for which the rules allow nothing, gets an empty recipe.
    """
    if len(targets) > MAX_TARGETS:
        raise InputError(
            "too_many_spots", f"{len(targets)} spots are too many.", f"Use at most {MAX_TARGETS}.", "spots"
        )
    table = bench.table
    if 0 < bench.setup.max_sticks < len(bench.box.sticks):
        chosen = choose_palette(table, targets, bench.setup.max_sticks)
        sticks = tuple(bench.box.sticks[i] for i in chosen)
        box = get_medium(bench.setup.medium).prepare(sticks, bench.box.support)
        table = Table(box, bench.method.rules(box, bench.setup.black))
    found = search(table, targets, bench.setup.max_passes)
    bare = colour_cost(targets, reflectance_to_lab(bench.box.support.reflectance()))
    return [
        work_out(bench.kit, table.passes(hit.path) if hit and hit.cost < paper else (), target, role)
        for hit, paper, target, role in zip(found, bare, targets, roles, strict=True)
    ]
