"""What goes in and out about an artist's things as a whole."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from annotated_types import Interval, Len, MaxLen

from core.colour.swatch import Swatch
from core.limits import Choice, Code, Identifier
from core.notebook.found import Kind
from core.tray.editing import MAX_LENGTH
from core.tray.purchase import MOST_WANTED
from server.api.schema import EXAMPLE_IDS, example
from server.api.values import value

MOST_PIECES, MOST_BOUGHT = 40, 12


@value
class Use:
    """A stick, and a piece in which it is planned for so many layers."""

    code: str
    piece: UUID
    title: str
    layers: int


RemovedKind = Literal["piece", "tray", "paper", "method", "complexion"]


@value
class Removed:
    """What was removed and can be put back. until: when it goes for good."""

    kind: RemovedKind
    id: UUID
    name: str
    removed: datetime
    until: datetime


@value
class StickLasts:
    """cm2: that plans still ask of a stick, as if closed once and heavy; times: how often what there is would do it."""

    code: str
    cm2: float
    times: float
    words: str


@example({"pieces": [], "medium": "pencil", "count": 5})
@value
class AskBuy:
    """pieces: for which, all with colours in this medium if none is named; medium: that of most of the tray's sticks if
    none is named; count: how many sticks at most."""

    pieces: Annotated[tuple[UUID, ...], MaxLen(MOST_PIECES)] = ()
    medium: Choice = ""
    count: Annotated[int, Interval(ge=1, le=MOST_BOUGHT)] = 6


@value
class PieceWanted:
    """off: mean ΔE00 from its colours with what is there, None with nothing there."""

    id: UUID
    title: str
    off: float | None


@value
class ShopStick:
    """A stick as it is sold. price: 0 if that is not known."""

    place: str
    code: str
    name: str
    price: float


@value
class WorthBuying:
    """gain: by how much the mean ΔE00 over all pieces falls; after: that of each piece then; same: other sticks that
    can hardly be told from it in use."""

    stick: ShopStick
    medium: str
    opacity: str
    gain: float
    after: tuple[float, ...]
    same: tuple[ShopStick, ...]
    cautions: tuple[str, ...]
    swatch: Swatch


@value
class SetWorth:
    """used: how many of its sticks these pieces would ever use, beside one's own."""

    place: str
    name: str
    price: float
    size: int
    used: int


@value
class Advice:
    pieces: tuple[PieceWanted, ...]
    sticks: tuple[WorthBuying, ...]
    sets: tuple[SetWorth, ...]


@value
class OfShop:
    place: Annotated[str, MaxLen(MAX_LENGTH)]
    code: Code


@example({"sticks": [{"place": "Gangway 36", "code": "G30"}]})
@value
class AskCheapest:
    sticks: Annotated[tuple[OfShop, ...], Len(1, MOST_WANTED)]


@value
class SetToBuy:
    """covers: what is wanted that it holds."""

    place: str
    name: str
    price: float
    size: int
    covers: tuple[ShopStick, ...]


@value
class CheapestPurchase:
    """alone: what everything would cost as singles, None if not all are sold alone; unpriced: what nobody names a price
    for."""

    sets: tuple[SetToBuy, ...]
    singles: tuple[ShopStick, ...]
    total: float
    alone: float | None
    unpriced: tuple[ShopStick, ...]


@value
class NotebookEntry:
    """kind: `complexion`, `plan`, `recipe`, `comparison`, `card`, `note` or `stick`; swatch: the colour that it is
    about; sticks: codes; piece, step, figure: where it is from, if from a piece; close: how near it is to the colour
    asked for."""

    kind: Kind
    title: str
    text: str
    at: datetime
    swatch: Swatch | None
    sticks: tuple[str, ...]
    piece: UUID | None
    step: str
    figure: str
    close: str


@value
class Notebook:
    """What was found, and the kinds there are."""

    entries: tuple[NotebookEntry, ...]
    kinds: tuple[Kind, ...]


@example({"piece": EXAMPLE_IDS["piece_id"], "figure": "figure-1", "into": EXAMPLE_IDS["piece_id"]})
@value
class UseAgain:
    """A plan of a figure, and the piece that it is used for."""

    piece: UUID
    figure: Identifier
    into: UUID


@value
class StickAgain:
    """now: what does its work in the tray of today, empty if nothing comes near; close: how near, in words."""

    was: str
    now: str
    close: str


@value
class UsedAgain:
    into: UUID
    sticks: tuple[StickAgain, ...]


@value
class TakenPiece:
    id: UUID
    title: str


@value
class BundleTaken:
    """What was taken in of a bundle: new pieces, the names of new trays, how many of the rest were new. said: sentences
    on what was left out or not understood."""

    pieces: tuple[TakenPiece, ...]
    trays: tuple[str, ...]
    papers: int
    methods: int
    cards: int
    complexions: int
    practised: int
    said: tuple[str, ...]
