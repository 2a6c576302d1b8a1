"""What goes in and out about materials."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from annotated_types import Len, MaxLen
from pydantic import StringConstraints

from core.colour.swatch import Swatch
from core.limits import Choice, Code, Limits
from core.look.roles import Place, Role
from server.api.schema import example
from server.api.values import value

TrayName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
PaperName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
_ROWS = "code,name,medium,hex,opacity\n1,burnt sienna,pencil,#8a4b2f,semi\n"


@value
class Stick:
    code: str
    name: str
    medium: str
    hex: str
    opacity: str
    range: str
    condition: str
    lightfastness: str
    swatch: Swatch


@value
class TrayRow:
    """A tray in short. size: how many sticks it holds."""

    id: UUID
    name: str
    size: int


@value
class Tray:
    id: UUID
    name: str
    sticks: tuple[Stick, ...]


@example({"name": "My pencils", "csv": _ROWS})
@value
class NewTray:
    """Either a CSV text or the id of a range."""

    name: TrayName
    csv: Annotated[str, MaxLen(1_000_000)] | None = None
    range: Annotated[str, MaxLen(80)] | None = None


@example({"range": "lantern-16"})
@value
class AddRange:
    range: Annotated[str, MaxLen(80)]


@example({"code": "G01", "condition": "low"})
@value
class StickCondition:
    code: Code
    condition: Choice


@value
class Range:
    """medium: of most of its sticks."""

    id: str
    name: str
    size: int
    medium: str


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
