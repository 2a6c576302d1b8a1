"""What goes out about what surrounds the skin."""

from __future__ import annotations

from core.colour.swatch import Swatch
from core.surround.ramp import Shade
from core.surround.region import Kind
from server.api.values import value
from server.pieces.document.schema import Level


@value
class RampLine:
    """A layer of a ramp in words: where it goes, and how hard and how often."""

    stick: str
    name: str
    hex: str
    where: str
    how: str


@value
class RegionLayer:
    """A layer of a ramp, as the document has it. levels: by part."""

    id: str
    stick: str
    levels: dict[str, Level | None]
    technique: str
    locked: bool


@value
class RampOffer:
    """A ramp for a region, as it can be taken. swatches: light, middle and shade as they will be; off: ΔE00 in the
    mean, and in words; shared: how many of its sticks the skin's plan has too; trouble: why there is none."""

    shade: Shade
    trouble: str
    layers: tuple[RegionLayer, ...]
    lines: tuple[RampLine, ...]
    swatches: tuple[Swatch, ...]
    off: float
    close: str
    shared: int


@value
class RegionShown:
    """A region. share: of the picture; wanted, planned: its light, middle and shade in the picture and as they will be,
    planned empty as long as no ramp is taken; lines: of that ramp; trouble: what is wrong with the region."""

    id: str
    trouble: str
    share: float
    wanted: tuple[Swatch, ...]
    planned: tuple[Swatch, ...]
    lines: tuple[RampLine, ...]
    close: str
    offers: tuple[RampOffer, ...]


@value
class Melting:
    """Two areas that melt together: ids of regions or figures. steps: of value between them."""

    one: str
    other: str
    steps: float
    said: str


@value
class RegionOffer:
    """A region that may be there."""

    kind: Kind
    name: str
    x: float
    y: float


@value
class AroundShown:
    """melting: where areas cannot be told apart; looks: what neighbours make of the skin in the eye; raised: what the
    surround could do for it; skin: whether any is found; shared: in a sentence, how many sticks both have; caution: for
    the medium; key: of the pictures."""

    regions: tuple[RegionShown, ...]
    melting: tuple[Melting, ...]
    looks: tuple[str, ...]
    raised: tuple[str, ...]
    offers: tuple[RegionOffer, ...]
    shared: str
    skin: bool
    caution: str
    key: str
