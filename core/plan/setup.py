"""How an artist works, and the tray laid out for it: everything that does not depend on the targets."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass, field, replace
from typing import Annotated

import numpy as np
from annotated_types import Interval, MaxLen

from core.colour.munsell import lab_to_value
from core.colour.spaces import Floats
from core.errors import InputError
from core.limits import Choice, Code
from core.method.method import Method, get_method, methods
from core.optics.kit import Kit
from core.optics.media import facts_of, get_medium
from core.optics.medium import Box
from core.optics.stick import Tray
from core.optics.support import Support, get_support, supports
from core.recipe.finish import FINISHES
from core.recipe.palette import choose_palette
from core.recipe.reach import FITS, Fit, fitted, told_apart
from core.recipe.rules import BLACK_POLICIES
from core.recipe.search import DEEPEST
from core.recipe.table import Table
from core.trial.swatched import as_swatched

MAX_STICKS = 200

Codes = Annotated[tuple[Code, ...], MaxLen(MAX_STICKS)]


@dataclass(frozen=True, slots=True)
class Setup:
    """How an artist works: every choice there is, its limits and what it begins with.

    max_sticks: the most sticks for the whole piece, 0 for no limit. fit: what becomes of colours out of reach (see
    core.recipe.reach). under: a medium whose layers may lie beneath, empty for none; plans in layers alone regard it.
    must_use, banned: codes of sticks that must be in the palette, and that must not be used.
    one_shadow: all shadows are to share a stick. finish: one of FINISHES. reserve: highlights are left to the paper,
    with at most one light pass of a pale stick. `says`: what each is called on the command line.
    """

    medium: Choice = field(default="pencil", metadata={"says": "the medium to work in"})
    paper: Choice = field(default="medium-white", metadata={"says": "the medium's usual one, if not given"})
    method: Choice = field(default="darks_first", metadata={"says": "the medium's usual one, if not given"})
    black: Choice = field(default="last", metadata={"says": "avoid, last or free"})
    max_sticks: Annotated[int, Interval(ge=0, le=MAX_STICKS)] = field(
        default=0, metadata={"says": "how many at most for all spots together"}
    )
    max_passes: Annotated[int, Interval(ge=1, le=DEEPEST)] = field(
        default=DEEPEST, metadata={"says": "the most passes for one spot"}
    )
    under: Choice = field(default="", metadata={"says": "a medium laid first beneath, such as marker under pencil"})
    fit: Fit = field(default="clip", metadata={"says": "clip or compress colours that are out of reach"})
    must_use: Codes = field(default=(), metadata={"says": "what must be in the palette"})
    banned: Codes = field(default=(), metadata={"says": "what must not be used"})
    one_shadow: bool = field(default=False, metadata={"says": "one and the same in all shadows"})
    finish: Choice = field(default="layer", metadata={"says": "how recipes end: layer, or what the method allows"})
    reserve: bool = field(default=False, metadata={"says": "leave highlights to the paper"})


@dataclass(frozen=True, slots=True)
class LaidOutTray:
    """A tray laid out for a set-up: all that is within reach, the box of the medium without what is banned, the
    method, and the table of stacks they allow. under: the box of what may lie beneath, without what is banned."""

    setup: Setup
    kit: Kit
    box: Box
    method: Method
    table: Table
    under: Box | None = None

    def reach(self) -> tuple[float, float]:
        """Darkest and lightest Munsell value that paper and tray can hold, by up to two passes."""
        return in_values(*self.table.lightness_reach())

    def aims(self, targets: Floats) -> Floats:
        """Targets (m, 3) moved into the values that can be reached, as the set-up says."""
        return fitted(targets, *self.table.lightness_reach(), self.setup.fit)

    def apart(self, targets: Floats) -> Floats:
        """As `aims`, in the order of their values even where that lies out of reach."""
        clipped = self.setup.fit == "clip"
        return self.aims(told_apart(targets, self.table.lightness_reach()[0]) if clipped else targets)

    def judged(self, seen: Floats) -> Floats:
        """What recipes for these colours (m, 3) are judged by."""
        return judged(seen, self.setup.fit, self.table.lightness_reach)

    def box_of(self, medium: str) -> Box:
        """The box of a medium of the kit, without what is banned if plans are made with it."""
        if medium == self.setup.medium:
            return self.box
        return self.under if self.under and medium == self.setup.under else self.kit.boxes[medium]

    def index(self, codes: Collection[str], medium: str = "") -> list[int]:
        """Indices in the box of those of these sticks that it holds; medium: another than the usual one."""
        box = self.box_of(medium or self.setup.medium)
        return [i for i, stick in enumerate(box.sticks) if stick.code in codes]


def in_values(darkest_l: float, lightest_l: float) -> tuple[float, float]:
    """A reach in L* as Munsell values, rounded to what is worth saying."""
    low, high = lab_to_value(np.array([[darkest_l, 0, 0], [lightest_l, 0, 0]]))
    return round(float(low), 2), round(float(high), 2)


def judged(seen: Floats, fit: Fit, reach: Callable[[], tuple[float, float]]) -> Floats:
    """What recipes for these colours (m, 3) are judged by: the colours themselves, unless the whole scale of values
    was moved on purpose. reach: gives darkest and lightest L*, and is asked only then."""
    return fitted(seen, *reach(), fit) if fit == "compress" else np.asarray(seen, dtype=float)


def usual_setup(medium: str) -> Setup:
    """A set-up to begin with: the paper made for the medium above all, and its usual method. Raises InputError."""
    get_medium(medium)
    fitting = [paper for paper in supports().values() if medium in paper.media]
    paper = min(fitting, key=lambda paper: paper.media.index(medium)).id
    method = next(method.id for method in methods().values() if method.medium == medium and method.usual)
    return Setup(medium=medium, paper=paper, method=method)


def check_setup(setup: Setup, own: Support | None = None, own_method: Method | None = None) -> Support:
    """The paper of the set-up: `own` if it is one of the artist's, else one that Caltin knows. own_method: one that the
    artist has put in.

    Raises InputError for the first thing in the set-up that does not exist or is out of range.
    """
    get_medium(setup.medium)
    support = own or get_support(setup.paper)
    method = get_method(setup.method, setup.medium, own_method)
    if setup.black not in BLACK_POLICIES:
        raise InputError(
            "unknown_black_policy",
            f"“{setup.black[:40]}” says nothing about black.",
            f"Use {', '.join(BLACK_POLICIES)}.",
            "black",
        )
    if setup.max_sticks != 0 and not 2 <= setup.max_sticks <= MAX_STICKS:
        said = f"A limit of {setup.max_sticks} is out of range."
        raise InputError("bad_stick_limit", said, f"Use 2 to {MAX_STICKS}.", "sticks")
    if not 1 <= setup.max_passes <= DEEPEST:
        raise InputError(
            "bad_pass_limit", f"{setup.max_passes} passes are out of range.", f"Use 1 to {DEEPEST}.", "passes"
        )
    fits = [below for below in facts_of(setup.medium).over if not get_medium(below).finishing]
    if setup.under and setup.under not in fits:
        fitting = ", ".join(fits)
        raise InputError(
            "cannot_lie_over",
            f"{get_medium(setup.medium).name} is not planned over {get_medium(setup.under).name.lower()}.",
            f"Use {fitting}, or nothing beneath." if fitting else "Lay nothing beneath it.",
            "under",
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
    both = set(setup.must_use) & set(setup.banned)
    if both:
        raise InputError(
            "must_use_and_banned",
            f"{min(both)[:40]} must be used and is banned at once.",
            "Undo one of the two.",
            "must_use",
        )
    if 0 < setup.max_sticks < len(setup.must_use):
        raise InputError(
            "too_many_must_use",
            f"{len(setup.must_use)} must be in, but the piece may use {setup.max_sticks}.",
            "Allow more, or ask for fewer.",
            "must_use",
        )
    return support


def lay_out_kit(tray: Tray, setup: Setup, own: Support | None = None, own_method: Method | None = None) -> Kit:
    """All that is usable in the tray, on the paper. own, own_method: as in `check_setup`.

    Raises InputError if there is nothing of the medium, or if nothing of it would show on the paper.
    """
    support = check_setup(setup, own, own_method)
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
    return Kit(tuple(as_swatched(stick) for stick in (*sticks, *others)), support, medium.id)


def lay_out(tray: Tray, setup: Setup, own: Support | None = None, own_method: Method | None = None) -> LaidOutTray:
    """Everything that does not depend on the targets. Worth keeping. own, own_method: as in `check_setup`.

    Raises what `lay_out_kit` raises, and InputError (`medium_only_finishes`, `all_banned`, `too_many_sticks`,
    `nothing_beneath`, `nothing_to_begin_with`).
    """
    kit = lay_out_kit(tray, setup, own, own_method)
    medium = get_medium(setup.medium)
    if medium.finishing:
        raise InputError(
            "medium_only_finishes",
            f"{medium.name} is for last touches over other media, not for all of a skin.",
            "Plan with another medium, and lay it over that by hand.",
            "medium",
        )
    method = get_method(setup.method, setup.medium, own_method)
    box = _allowed(kit, setup.medium, setup)
    under = _allowed(kit, setup.under, setup) if setup.under else None
    if len(box.sticks) > MAX_STICKS:
        raise InputError(
            "too_many_sticks",
            f"{len(box.sticks)} usable {medium.word}s are more than the {MAX_STICKS} that can be planned with.",
            "Ban those that you do not want in this piece, or take some out of the tray.",
            "tray",
        )
    return LaidOutTray(setup, kit, box, method, table_for(box, method, setup.black), under)


def _allowed(kit: Kit, medium_id: str, setup: Setup) -> Box:
    """The box of a medium without what is banned."""
    medium = get_medium(medium_id)
    if medium_id not in kit.boxes:
        raise InputError(
            "nothing_beneath",
            f"The tray holds no usable {medium.word} to lay beneath.",
            "Add one that is good or low, or lay nothing beneath.",
            "under",
        )
    box = kit.boxes[medium_id]
    if not setup.banned:
        return box
    left = tuple(stick for stick in box.sticks if stick.code not in setup.banned)
    if not any(not stick.colourless for stick in left):
        raise InputError("all_banned", f"Every {medium.word} is banned.", "Allow at least one again.", "banned")
    return medium.prepare(left, box.support)


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


def check_must_use(laid_out: LaidOutTray) -> None:
    """Raises InputError (`must_use_is_missing`, `must_use_breaks_method`) unless all that must be used can be."""
    held = {stick.code for stick in laid_out.box.sticks}
    for code in laid_out.setup.must_use:
        if code not in held:
            raise InputError(
                "must_use_is_missing", f"{code[:40]} must be in, but is not in the tray.", "Choose another.", "must_use"
            )
        if not _usable(laid_out, code):
            raise InputError(
                "must_use_breaks_method",
                f"{code[:40]} must be in, but {laid_out.method.name.lower()} has no place for it.",
                "Change the method or what it says of black, or do not ask for it.",
                "must_use",
            )


def _usable(laid_out: LaidOutTray, code: str) -> bool:
    """Whether any stack that the rules allow holds this stick."""
    (stick,) = laid_out.index([code])
    actions = laid_out.table.stick_of == stick
    rules = laid_out.table.rules
    return bool(rules.first[actions].any() or (rules.follow[:, stick].any() and rules.later[actions].any()))


def narrowed(laid_out: LaidOutTray, targets: Floats) -> LaidOutTray:
    """The tray laid out with no more sticks than the set-up allows: those that serve the targets (m, 3) best.

    Raises what `check_must_use` and `table_for` raise.
    """
    setup = laid_out.setup
    check_must_use(laid_out)
    if not 0 < setup.max_sticks < len(laid_out.box.sticks) or not len(targets):
        return laid_out
    chosen = choose_palette(laid_out.table, targets, setup.max_sticks, laid_out.index(setup.must_use))
    box = get_medium(setup.medium).prepare(tuple(laid_out.box.sticks[i] for i in chosen), laid_out.box.support)
    return replace(laid_out, box=box, table=table_for(box, laid_out.method, setup.black))
