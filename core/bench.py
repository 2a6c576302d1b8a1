"""How an artist works, and the tray laid out for it: everything that does not depend on the targets."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace

import numpy as np

from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats
from core.errors import InputError
from core.method.method import Method, get_method, methods
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import Box
from core.optics.stick import Tray
from core.optics.support import Support, get_support, supports
from core.recipe.finish import FINISHES
from core.recipe.palette import choose_palette
from core.recipe.reach import FITS, fitted
from core.recipe.rules import BLACK_POLICIES
from core.recipe.search import DEEPEST
from core.recipe.table import Table
from core.trial.refit import as_swatched

MAX_STICKS = 200


@dataclass(frozen=True, slots=True)
class Setup:
    """How an artist works. max_sticks: the most sticks for the whole piece, 0 for no limit. fit: what becomes
    of colours out of reach (see core.recipe.reach). kept, banned: codes of sticks that must be in the palette,
    and that must not be used. one_shadow: all shadows are to share a stick. finish: one of FINISHES. reserve:
    highlights are left to the paper, with at most one light pass of a pale stick."""

    medium: str = "pencil"
    paper: str = "medium-white"
    method: str = "darks_first"
    black: str = "last"
    max_sticks: int = 0
    max_passes: int = DEEPEST
    fit: str = "clip"
    kept: tuple[str, ...] = ()
    banned: tuple[str, ...] = ()
    one_shadow: bool = False
    finish: str = "layer"
    reserve: bool = False


@dataclass(frozen=True, slots=True)
class Bench:
    """A tray laid out for a set-up: all that is within reach, the box of the medium without what is banned, the
    method, and the table of stacks they allow."""

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

    def aims(self, targets: Floats) -> Floats:
        """Targets (m, 3) moved into the values that can be reached, as the set-up says."""
        return fitted(targets, *self.table.lightness_reach(), self.setup.fit)

    def judged(self, seen: Floats) -> Floats:
        """What recipes for these colours (m, 3) are judged by: the colours themselves, unless the whole scale
        of values was moved on purpose."""
        return self.aims(seen) if self.setup.fit == "compress" else np.asarray(seen, dtype=float)

    def index(self, codes: Collection[str]) -> list[int]:
        """Indices in the box of those of these sticks that it holds."""
        return [i for i, stick in enumerate(self.box.sticks) if stick.code in codes]


def usual_setup(medium: str) -> Setup:
    """A set-up to begin with: the paper made for the medium above all, and its usual method. Raises InputError."""
    get_medium(medium)
    fitting = [paper for paper in supports().values() if medium in paper.media]
    paper = min(fitting, key=lambda paper: paper.media.index(medium)).id
    method = next(method.id for method in methods().values() if method.medium == medium and method.usual)
    return Setup(medium=medium, paper=paper, method=method)


def check_setup(setup: Setup, own: Support | None = None) -> Support:
    """The paper of the set-up: `own` if it is one of the artist's, else one that Caltin knows.

    Raises InputError for the first thing in the set-up that does not exist or is out of range.
    """
    get_medium(setup.medium)
    support = own or get_support(setup.paper)
    method = get_method(setup.method, setup.medium)
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
    if setup.fit not in FITS:
        raise InputError("unknown_fit", f"“{setup.fit[:40]}” is no way to fit.", f"Use {' or '.join(FITS)}.", "fit")
    if setup.finish not in FINISHES:
        raise InputError(
            "unknown_finish", f"“{setup.finish[:40]}” is no finish.", f"Use {' or '.join(FINISHES)}.", "finish"
        )
    if setup.finish not in method.finishes:
        raise InputError(
            "method_does_not_finish",
            f"{method.name} does not end {FINISHES[setup.finish]}.",
            f"Use {' or '.join(method.finishes)}, or another method.",
            "finish",
        )
    both = set(setup.kept) & set(setup.banned)
    if both:
        raise InputError(
            "kept_and_banned", f"{min(both)[:40]} is kept and banned at once.", "Undo one of the two.", "kept"
        )
    if 0 < setup.max_sticks < len(setup.kept):
        raise InputError(
            "too_many_kept",
            f"{len(setup.kept)} sticks must be in, but the piece may use {setup.max_sticks}.",
            "Allow more, or keep fewer.",
            "kept",
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
    coloured = [stick for stick in sticks if not stick.colourless]
    if coloured and not medium.hides and all(stick.lab[0] > support.lab[0] for stick in coloured):
        raise InputError(
            "paper_too_dark",
            f"{support.name} is darker than every {medium.word}, and {medium.name.lower()} cannot lighten it.",
            "Choose a lighter paper, or a medium that covers.",
            "paper",
        )
    others = tuple(stick for stick in tray.usable() if stick.medium != setup.medium)
    return Kit(tuple(as_swatched(stick) for stick in (*sticks[:MAX_STICKS], *others[:MAX_STICKS])), support, medium.id)


def lay_out(tray: Tray, setup: Setup, own: Support | None = None) -> Bench:
    """Everything that does not depend on the targets. Worth keeping.

    Raises what `lay_out_kit` raises, and InputError (`all_banned`, `nothing_to_begin_with`).
    """
    kit = lay_out_kit(tray, setup, own)
    method = get_method(setup.method, setup.medium)
    box = kit.boxes[setup.medium]
    if setup.banned:
        left = tuple(stick for stick in box.sticks if stick.code not in setup.banned)
        if not any(not stick.colourless for stick in left):
            raise InputError(
                "all_banned", "Every stick of this medium is banned.", "Allow at least one again.", "banned"
            )
        box = get_medium(setup.medium).prepare(left, box.support)
    return Bench(setup, kit, box, method, table_for(box, method, setup.black))


def table_for(box: Box, method: Method, black: str) -> Table:
    """The stacks that a method and what it says of black allow with a box.

    Raises InputError (`nothing_to_begin_with`) if no recipe could begin.
    """
    rules = method.rules(box, black)
    if not rules.first.any():
        word = get_medium(method.medium).word
        raise InputError(
            "nothing_to_begin_with",
            f"No {word} of this tray can be laid first in “{method.name}”.",
            f"Add a coloured {word} to the tray, or choose another method or another rule for black.",
            "method",
        )
    return Table(box, rules)


def check_kept(bench: Bench) -> None:
    """Raises InputError (`kept_is_missing`, `kept_breaks_method`) unless every kept stick can be used."""
    held = {stick.code for stick in bench.box.sticks}
    for code in bench.setup.kept:
        if code not in held:
            raise InputError(
                "kept_is_missing", f"{code[:40]} must be in, but is not in the tray.", "Choose another.", "kept"
            )
        if not _usable(bench, code):
            raise InputError(
                "kept_breaks_method",
                f"{code[:40]} must be in, but {bench.method.name.lower()} has no place for it.",
                "Change the method or what it says of black, or do not keep it.",
                "kept",
            )


def _usable(bench: Bench, code: str) -> bool:
    """Whether any stack that the rules allow holds this stick."""
    (stick,) = bench.index([code])
    actions = bench.table.stick_of == stick
    rules = bench.table.rules
    return bool(rules.first[actions].any() or (rules.follow[:, stick].any() and rules.later[actions].any()))


def narrowed(bench: Bench, targets: Floats) -> Bench:
    """The bench with no more sticks than the set-up allows: those that serve the targets (m, 3) best.

    Raises what `check_kept` and `table_for` raise.
    """
    setup = bench.setup
    check_kept(bench)
    if not 0 < setup.max_sticks < len(bench.box.sticks) or not len(targets):
        return bench
    chosen = choose_palette(bench.table, targets, setup.max_sticks, bench.index(setup.kept))
    box = get_medium(setup.medium).prepare(tuple(bench.box.sticks[i] for i in chosen), bench.box.support)
    return replace(bench, box=box, table=table_for(box, bench.method, setup.black))
