"""What goes in and out about materials."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from annotated_types import Interval, Len, MaxLen
from pydantic import StringConstraints

from core.colour.swatch import Swatch
from core.exchange.method_toml import MAX_BYTES as MAX_METHOD_BYTES
from core.exchange.stick_list import ReadStick
from core.limits import Choice, Code, Limits
from core.look.roles import Place, Role
from core.optics import stick as core_stick
from core.optics.paper_words import Degree
from core.optics.spectra import N_BANDS, check_spectrum
from core.tray.editing import MAX_LENGTH, MAX_NOTE, MAX_STICKS, MOST_PER_ROW, StickChange
from server.api.schema import example
from server.api.values import value

TrayName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
PaperName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
_ROWS = "code,name,medium,hex,opacity\n1,burnt sienna,pencil,#8a4b2f,semi\n"


@value
class Stick:
    """count: how many of it there are; feel: words on it in the hand; source: how its colour is known; equal, mistaken:
    codes of those it is easily taken for, by colour or by name; cautions: sentences on what its own data warn of."""

    code: str
    name: str
    medium: str
    hex: str
    opacity: str
    range: str
    condition: str
    lightfastness: str
    binder: str
    pigments: tuple[str, ...]
    count: int
    note: str
    feel: tuple[str, ...]
    source: str
    equal: tuple[str, ...]
    mistaken: tuple[str, ...]
    cautions: tuple[str, ...]
    swatch: Swatch


@value
class TrayRow:
    """A tray in short. size: how many sticks it holds; medium: of most of them, nothing if there are none."""

    id: UUID
    name: str
    size: int
    medium: str


@value
class Tray:
    """per_row: how many sticks lie in a row of the box, 0 if that is not known; undoes, redoes: what Undo and Redo
    would do, nothing where they cannot; did: what was just undone or done again."""

    id: UUID
    name: str
    per_row: int
    sticks: tuple[Stick, ...]
    undoes: str
    redoes: str
    did: str


@example({"name": "My pencils", "csv": _ROWS})
@value
class NewTray:
    """A file as it is exported (csv: CSV or JSON text), the id of a range, or neither for an empty box."""

    name: TrayName
    csv: Annotated[str, MaxLen(1_000_000)] | None = None
    range: Annotated[str, MaxLen(80)] | None = None


@example({"name": "The old tin", "per_row": 12})
@value
class TrayChange:
    name: TrayName | None = None
    per_row: Annotated[int, Interval(ge=0, le=MOST_PER_ROW)] | None = None


Text = Annotated[str, MaxLen(MAX_LENGTH)]
StickCodes = Annotated[tuple[Code, ...], Len(1, MAX_STICKS)]


@value
class NewStick:
    """A stick to be put in. hex: sRGB of a solid swatch on white paper; spectrum: its reflectance as it was measured,
    from 400 to 700 nm by 10, that stands instead of hex."""

    code: Code
    name: Text
    medium: Choice
    hex: Annotated[str, MaxLen(7)]
    opacity: Choice = "semi"
    range: Text = ""
    condition: Choice = "good"
    lightfastness: Choice = ""
    binder: Text = ""
    pigments: Annotated[tuple[Text, ...], MaxLen(12)] = ()
    count: int = 1
    note: Annotated[str, MaxLen(MAX_NOTE)] = ""
    feel: Annotated[tuple[Choice, ...], MaxLen(8)] = ()
    source: Choice = ""
    spectrum: Annotated[tuple[float, ...], MaxLen(N_BANDS)] = ()

    def as_core(self) -> tuple[core_stick.Stick, core_stick.Kept]:
        """The stick, and what is known of it besides."""
        stick = core_stick.Stick(
            self.code, self.name, self.medium, self.hex, self.opacity, self.range, self.binder, self.pigments,
            self.lightfastness, self.condition, spectrum=self.spectrum and tuple(check_spectrum(self.spectrum)),
        )  # fmt: skip
        return stick, core_stick.Kept(self.count, self.note, self.feel, self.source)


@example({"sticks": [{"code": "B7", "name": "burnt sienna", "medium": "pencil", "hex": "#8a4b2f"}]})
@value
class PutSticks:
    """again: those whose numbers the tray holds get these colours; otherwise they are refused."""

    sticks: Annotated[tuple[NewStick, ...], Len(1, MAX_STICKS)]
    again: bool = False


@example({"codes": ["G01"], "change": {"condition": "low", "count": 2}})
@value
class ChangeSticks:
    """change: what is to be another way; a number only of one stick."""

    codes: StickCodes
    change: StickChange


@example({"codes": ["G01"]})
@value
class SomeSticks:
    codes: StickCodes


@example({"codes": ["G01"], "name": "Travel tin", "keep": True})
@value
class MoveSticks:
    """to: the tray they are brought into, none for a new one with this name; keep: whether they stay here as well."""

    codes: StickCodes
    to: UUID | None = None
    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)] = ""
    keep: bool = False


@example({"text": "12 burnt sienna\n13 raw umber", "medium": "pencil"})
@value
class AskList:
    """text: as it was pasted; medium: of sticks that do not say theirs; columns: what each column is, if that has been
    said; range: whose numbers these are."""

    text: Annotated[str, MaxLen(1_000_000)]
    medium: Choice = ""
    columns: Annotated[tuple[Choice, ...], MaxLen(60)] = ()
    range: Annotated[str, MaxLen(80)] = ""


@value
class Range:
    """medium: of most of its sticks."""

    id: str
    name: str
    size: int
    medium: str


@value
class StandIn:
    """A stick that stands in for another. here: whether it is in the box that was asked about; places: the other boxes
    and the ranges that hold it; off: mean ΔE00 in use; value: Munsell steps by which it is lighter; words: how it
    differs."""

    here: bool
    places: tuple[str, ...]
    code: str
    name: str
    medium: str
    off: float
    value: float
    words: str
    cautions: tuple[str, ...]
    swatch: Swatch


@value
class Mixed:
    """The best mix of one's own in the place of a stick. layers: what to lay, in order, in words; off: ΔE00 from it,
    laid solid; words: how it differs."""

    layers: tuple[str, ...]
    off: float
    words: str
    wanted: Swatch
    swatch: Swatch


@value
class ShiftedColour:
    """A colour that is like another one, but a little `way`."""

    way: str
    swatch: Swatch


@value
class ForLesson:
    """A stick of somebody's list, and one's own that stand in for it, the nearest first."""

    asked: ReadStick
    own: tuple[StandIn, ...]


@value
class RangeSticks:
    """Everything in a range."""

    id: str
    name: str
    sticks: tuple[Stick, ...]


@value
class Paper:
    """layers: how many full passes or coats it takes, by medium."""

    id: str
    name: str
    note: str
    swatch: Swatch
    tooth: float
    coats: float
    media: tuple[str, ...]
    layers: dict[str, int]


@example({"name": "Rough cream", "lab": [94.0, 0.5, 6.0], "tooth": 0.6, "coats": 5.0, "media": ["pencil", "pastel"]})
@value
class NewPaper:
    name: PaperName
    lab: tuple[float, float, float]
    tooth: float
    coats: float
    media: Annotated[tuple[Choice, ...], Len(0, 10)]


EXAMPLE_METHOD = """name = "Loosely"
medium = "pencil"
explanation = "Pale first, whatever comes next."
order = "light_to_dark"
slack_l = 20.0
first_lightness = [0.0, 100.0]
first_pressures = ["light", "medium"]
stages = [["light", "middle"]]
base_first = false
"""


@example({"file": EXAMPLE_METHOD})
@value
class NewMethod:
    """file: a method as TOML; see docs/formats.md."""

    file: Annotated[str, MaxLen(MAX_METHOD_BYTES)]


@value
class PaperShade:
    name: str
    lab: tuple[float, float, float]
    swatch: Swatch


@value
class PaperWords:
    """What can be said of a paper in words, and the numbers that stand for it; the usual words."""

    shades: tuple[PaperShade, ...]
    teeth: tuple[Degree, ...]
    weights: tuple[Degree, ...]
    usual: tuple[str, str, str]


@value
class Tool:
    """Something without pigment; its code stands where a stick's would."""

    code: str
    name: str
    techniques: tuple[str, ...]


@value
class Medium:
    """word: what one stick of it is called; lies: film, ink, crumbs, paste or body; over: media it can be laid over;
    finishing: for last touches alone."""

    id: str
    name: str
    word: str
    techniques: tuple[str, ...]
    pressures: tuple[str, ...]
    tools: tuple[Tool, ...]
    lies: str
    over: tuple[str, ...]
    usual_paper: str
    usual_method: str
    finishing: bool


@value
class Finish:
    id: str
    words: str


@value
class Method:
    """reserve: whether highlights are kept free to begin with. finishes: how recipes may end, the usual one first."""

    id: str
    name: str
    medium: str
    explanation: str
    reserve: bool
    finishes: tuple[Finish, ...]


@value
class PaperSize:
    name: str
    width_mm: float
    height_mm: float


@value
class Amount:
    """What the slider of a way of seeing sets. says: what it is one of."""

    least: int
    usual: int
    most: int
    says: str


@value
class Way:
    id: str
    name: str
    amount: Amount | None


@value
class Materials:
    """Everything to choose from, and how much of everything a piece may hold."""

    ranges: tuple[Range, ...]
    papers: tuple[Paper, ...]
    paper_words: PaperWords
    methods: tuple[Method, ...]
    media: tuple[Medium, ...]
    ways: tuple[Way, ...]
    roles: tuple[Role, ...]
    places: tuple[Place, ...]
    black_policies: tuple[str, ...]
    value_greys: tuple[str, ...]
    sheets: tuple[PaperSize, ...]
    repeats: tuple[int, ...]
    max_passes: int
    limits: Limits
