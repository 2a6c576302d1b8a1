"""What comes in and goes out about complexions and imagined light."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from annotated_types import Interval, MaxLen
from pydantic import StringConstraints

from core.colour.swatch import Swatch
from core.exchange.map_questions import SIDE_MM
from core.exchange.pen import FileKind
from core.light.jobs import FEWEST_STEPS, MOST_STEPS
from core.light.lamps import Lamp
from core.light.scene import MOST_SITTERS, Around, Key, Scene
from core.limits import LIMITS
from core.look.reading import Disc
from core.skin.describe import Description
from server.api.schema import example
from server.api.values import value

MOST_COMPLEXIONS = 200
ComplexionName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=LIMITS.name)]
Note = Annotated[str, MaxLen(LIMITS.note)]


@example({"name": "Brá, deckhand", "skin": {"depth": 44, "undertone": 30}, "note": "the ferry's cook"})
@value
class WriteComplexion:
    """A complexion under the artist's own name for it."""

    name: ComplexionName
    skin: Description
    note: Note = ""


@value
class ComplexionShown:
    """words: such as `brown, warm, a little flushed`; colour: of forehead and cheek, evenly lit, in daylight."""

    id: UUID
    name: str
    skin: Description
    note: str
    words: str
    colour: Swatch
    changed: datetime


@value
class TakenIn:
    """complexions: as they are now; added: how many of a file were new."""

    complexions: tuple[ComplexionShown, ...]
    added: int


@example({"file": '{"complexions": [{"name": "Deckhand", "skin": {"depth": 61}}]}'})
@value
class ComplexionsFile:
    """file: what was taken away before."""

    file: Annotated[str, MaxLen(200_000)]


@value
class PresetShown:
    """A light that artists know."""

    id: str
    name: str
    key: Key
    around: tuple[Around, ...]


@value
class NamedLamp:
    name: str
    lamp: Lamp


@value
class WayShown:
    id: str
    name: str


@value
class Choices:
    """What there is to choose from for an imagined light."""

    presets: tuple[PresetShown, ...]
    lamps: tuple[NamedLamp, ...]
    ways: tuple[WayShown, ...]


@example({"scene": {}, "number": 0, "size": 256, "way": "as_it_is"})
@value
class AskPicture:
    """The sitter of that number in a scene, on size × size pixels."""

    scene: Scene
    number: Annotated[int, Interval(ge=0, lt=MOST_SITTERS)] = 0
    size: Annotated[int, Interval(ge=64, le=768)] = 256
    way: Annotated[str, MaxLen(20)] = "as_it_is"


@example({"scene": {}, "steps": 5})
@value
class AskTold:
    """number: of the sitter; steps: from light to shade."""

    scene: Scene
    number: Annotated[int, Interval(ge=0, lt=MOST_SITTERS)] = 0
    steps: Annotated[int, Interval(ge=FEWEST_STEPS, le=MOST_STEPS)] = MOST_STEPS


@value
class TargetShown:
    """A place in a family; where it is on the sitter's picture (parts of its side) and on the sheet."""

    name: str
    place: str
    family: str
    role: str
    colour: Swatch
    share: float
    x: float
    y: float
    radius: float
    disc: Disc


@value
class JobShown:
    """What one stick has to do, and how much of what shows it does."""

    name: str
    colour: Swatch
    share: float


@value
class RampShown:
    """Colours that a slider of a complexion runs through, as hex, from its low to its high end."""

    name: str
    colours: tuple[str, ...]


@value
class SceneTold:
    """light: where it comes from; edge: of its shadows; lamp: what it is. words: of the sitter's complexion.

    spots: what is proposed, from light to dark.
    """

    light: str
    edge: str
    lamp: str
    words: str
    spots: tuple[TargetShown, ...]
    jobs: tuple[JobShown, ...]
    ramps: tuple[RampShown, ...]


@example({"scene": {}, "opposite": True})
@value
class AskMap:
    """opposite: beside each study one with the light from the other side. side_mm: how wide and high each is."""

    scene: Scene
    opposite: bool = False
    kind: FileKind = "pdf"
    side_mm: Annotated[float, Interval(ge=40, le=400)] = SIDE_MM
