"""Trial cards: what to lay in which box, so that a tray, a paper and a hand show what they do."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from core.colour.difference import ciede2000
from core.errors import InputError
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import MAX_REPEATS, Pass
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.photo.swatch_sheet import SwatchSheet, laid_out, sheets
from core.trial.joint import Learnt
from core.trial.teaching import Stack, offered, teach_most

MOST_BOXES = 192
SIZES_OF_CARD = (12, 48, 96)
_LABEL_MM = 12.0
FIRST_NUMBER = len(sheets())
"""The numbers before it are those of swatch sheets."""
NUMBERS = 250 - FIRST_NUMBER
GONE, GHOST = 1.0, 3.0
"""ΔE00 by which an under-colour must move what lies over it to be a ghost, and to show (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Cell:
    """One box. says: what it is about, few words; bare: the number of the box with the same but for what lies beneath,
    −1 if there is none."""

    passes: Stack
    says: str = ""
    bare: int = -1


@dataclass(frozen=True, slots=True)
class Card:
    """kind: one of KINDS; size: of its paper; number: of its first page, that its marks tell. bands: for a card that
    teaches, within what the piece's stacks are foreseen before and after it (mean CIEDE2000 of 80 of 100)."""

    kind: str
    size: str
    number: int
    cells: tuple[Cell, ...]
    bands: tuple[float, float] | None = None

    def pages(self) -> tuple[SwatchSheet, ...]:
        """Its pages, each with its places; at least one."""
        found = [laid_out(self.number, self.size, 0, _LABEL_MM)]
        while (page := len(found)) * len(found[0].places) < len(self.cells):
            found.append(laid_out(_number(self.number + page), self.size, page, _LABEL_MM))
        return tuple(found)

    def on(self, page: SwatchSheet) -> tuple[Cell, ...]:
        """The boxes of a page."""
        return self.cells[page.first : page.first + len(page.places)]


def _number(wanted: int) -> int:
    return FIRST_NUMBER + (wanted - FIRST_NUMBER) % NUMBERS


@dataclass(frozen=True, slots=True)
class Asked:
    """What a card is made from. sticks: of one medium; stacks: what the piece and skins like its own ask for, with what
    each is called; own: those that the piece is planned with, if it is; learnt: what was learnt before; kit: to foresee
    with; count: how many boxes at most; otherwise: gives stacks that the piece may ask for once it is known better,
    which takes a while to find."""

    sticks: tuple[Stick, ...]
    stacks: tuple[tuple[str, Stack], ...]
    learnt: Learnt
    kit: Kit
    count: int = 48
    own: tuple[tuple[str, Stack], ...] = ()
    otherwise: Callable[[], tuple[Stack, ...]] = tuple

    def planned(self) -> tuple[tuple[str, Stack], ...]:
        """What the piece is planned with, or else would be."""
        return self.own or self.stacks


Made = tuple[list[Cell], tuple[float, float] | None]


def teaching(asked: Asked) -> Made:
    """The boxes by which the piece's stacks become surest."""
    stacks = list(dict.fromkeys([*(stack for _, stack in asked.stacks), *asked.otherwise()]))
    chosen = teach_most(asked.learnt, offered(stacks), stacks, asked.count)
    named = {stack: name for name, stack in reversed(asked.stacks)}
    bands = (chosen.bands[0], chosen.bands[-1]) if chosen.bands else None
    # As a hand lays them: those of one first stick together.
    order = {stick.code: i for i, stick in enumerate(asked.sticks)}
    laid = sorted(chosen.stacks, key=lambda stack: [order.get(pass_.stick, 0) for pass_ in stack])
    return [Cell(stack, named.get(stack, "")) for stack in laid], bands


def of_plan(asked: Asked) -> Made:
    """The piece's own stacks, place by place."""
    return [Cell(stack, name) for name, stack in asked.planned()], None


def chart(asked: Asked) -> Made:
    """Every stick at every pressure, in the order given."""
    return [
        Cell((Pass(stick.code, pressure),), stick.name)
        for stick in asked.sticks
        for pressure in get_medium(stick.medium).pressures
    ], None


def chart_by_value(asked: Asked) -> Made:
    """Every stick as heavy as it goes, from light to dark."""
    ordered = sorted(asked.sticks, key=lambda stick: -float(stick.lab[0]))
    return [Cell((Pass(s.code, get_medium(s.medium).pressures[-1]),), s.name) for s in ordered], None


def ramp(asked: Asked) -> Made:
    """The piece's stacks from light to dark, each laid and, where the medium can, burnished beside it."""
    cells = []
    ends = _burnisher(asked.sticks)
    for name, stack in sorted(asked.planned(), key=lambda row: -float(colours_after(asked.kit, row[1])[-1][0])):
        cells.append(Cell(stack, name))
        if ends:
            cells.append(Cell((*stack, ends), f"{name}, closed" if name else "closed"))
    return cells, None


def _burnisher(sticks: Sequence[Stick]) -> Pass | None:
    """What closes a layer: a colourless stick, or the palest; what rubs it, for a medium that is rubbed."""
    medium = get_medium(sticks[0].medium)
    if "burnish" in medium.techniques:
        best = max(sticks, key=lambda stick: (stick.colourless, float(stick.lab[0])))
        return Pass(best.code, "heavy", 1, "burnish")
    return Pass("stump", technique="smudge") if "stump" in medium.tools else None


def crosses(asked: Asked) -> Made:
    """Under-colours by skin colours, with one and two coats on top; what cannot be seen through is left out."""
    tops = list(dict.fromkeys(stack[-1].stick for _, stack in asked.stacks if len(stack) > 1))
    unders = [stack[0] for _, stack in asked.stacks if len(stack) > 1]
    cells: list[Cell] = []
    for top in tops:
        for coats in (1, 2):
            over = Pass(top, _usual(asked), coats)
            alone = len(cells)
            rows = []
            for under in dict.fromkeys(Pass(u.stick, _usual(asked)) for u in unders if u.stick != top):
                moved = _shift(asked.kit, (under, over), (over,))
                if moved >= GONE:
                    rows.append(Cell((under, over), f"{under.stick} under {top}", alone))
            if rows:
                cells += [Cell((over,), top), *rows]
    return cells, None


def _usual(asked: Asked) -> str:
    pressures = get_medium(asked.sticks[0].medium).pressures
    return pressures[len(pressures) // 2]


def _shift(kit: Kit, stack: Stack, bare: Stack) -> float:
    return float(ciede2000(colours_after(kit, stack)[-1], colours_after(kit, bare)[-1]))


def wedge(asked: Asked) -> Made:
    """How hard and how often: each stick of the piece at every pressure, once to three times."""
    used = _used(asked)
    return [
        Cell((Pass(stick.code, pressure, times),), f"{pressure} ×{times}")
        for stick in used
        for pressure in get_medium(stick.medium).pressures
        for times in range(1, MAX_REPEATS + 1)
    ], None


def sequence(asked: Asked) -> Made:
    """Lay, coat, lay again, coat: what a coat leaves of what lies beneath, and what still holds on it."""
    cells = []
    for _, stack in asked.stacks:
        if len(stack) > 1:
            lay, coat = stack[0], stack[-1]
            cells += [
                Cell(part, says)
                for part, says in (
                    ((lay,), "lay"),
                    ((lay, coat), "coat"),
                    ((lay, coat, lay), "lay again"),
                    ((lay, coat, lay, coat), "coat again"),
                )
            ]
    return list({cell.passes: cell for cell in cells}.values()), None


def _used(asked: Asked) -> list[Stick]:
    codes = [pass_.stick for _, stack in asked.stacks for pass_ in stack]
    by_use = sorted(set(codes), key=lambda code: (-codes.count(code), code))
    held = {stick.code: stick for stick in asked.sticks}
    return [held[code] for code in by_use if code in held]


@dataclass(frozen=True, slots=True)
class Kind:
    """name, says: in an artist's words; make: its boxes."""

    name: str
    says: str
    make: Callable[[Asked], Made]


KINDS: dict[str, Kind] = {
    "teach": Kind("The card that teaches most", "boxes by which this piece's plans become true", teaching),
    "plan": Kind("Plan card", "the piece's own layers, place by place", of_plan),
    "chart": Kind("Tray chart", "all of the tray at every pressure", chart),
    "values": Kind("Tray chart by value", "all of the tray as heavy as it goes, from light to dark", chart_by_value),
    "ramp": Kind("Ramp strip", "the complexion from light to dark, laid and closed", ramp),
    "crosses": Kind("Crosses", "under-colours by skin colours, one coat and two", crosses),
    "wedge": Kind("Pressure wedge", "how hard and how often", wedge),
    "sequence": Kind("Sequence strip", "lay, coat, lay again, coat", sequence),
}


def make_card(kind: str, size: str, number: int, asked: Asked) -> Card:
    """A card of a kind, its pages' marks counted from a number of one's own choice.

    Raises InputError: `unknown_card`, `unknown_size`, `bad_count`, and `nothing_to_try` without a plan.
    """
    if kind not in KINDS:
        raise InputError("unknown_card", f"“{kind[:20]}” is no card.", f"Use {', '.join(KINDS)}.", "kind")
    if not 1 <= asked.count <= MOST_BOXES:
        raise InputError("bad_count", f"{asked.count} boxes are out of range.", f"Use 1 to {MOST_BOXES}.", "count")
    laid_out(0, size, 0, _LABEL_MM)
    cells, bands = KINDS[kind].make(asked)
    if not cells:
        raise InputError(
            "nothing_to_try", "There are no layers to try yet.", "Plan the piece first, or print a tray chart.", "kind"
        )
    return Card(kind, size, _number(FIRST_NUMBER + number), tuple(cells[: asked.count]), bands)


_WORDS = {
    "burnish": "burnish with ",
    "smudge": "rub with ",
    "lift": "lift with ",
    "wet": "wet in wet ",
    "flick": "flick ",
}


def instructions(passes: Stack) -> list[str]:
    """What to do in a box, a line for each pass."""
    return [_line(pass_, first=i == 0) for i, pass_ in enumerate(passes)]


def _line(pass_: Pass, first: bool) -> str:
    times = f" ×{pass_.repeats}" if pass_.repeats > 1 else ""
    return f"{'' if first else '+ '}{_WORDS.get(pass_.technique, '')}{pass_.stick} {pass_.pressure}{times}"
