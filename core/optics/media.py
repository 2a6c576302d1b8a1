"""The media Caltin knows. A new one is one file, its line here and its row in data/media.toml; see CONTRIBUTING."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache, lru_cache

from core.errors import InputError
from core.optics.marker import Marker
from core.optics.medium import Medium, Pass
from core.optics.oil_pastel import OilPastel
from core.optics.opaque import Opaque
from core.optics.pastel import Pastel
from core.optics.pencil import Pencil
from core.optics.stick import Stick
from core.optics.support import Support
from core.rows import from_row, toml

MEDIA: dict[str, Medium] = {medium.id: medium for medium in (Pencil(), Marker(), Pastel(), OilPastel(), Opaque())}


@dataclass(frozen=True, slots=True)
class MediumFacts:
    """over: the other media it holds on. caution: a sentence on what to beware of when working with it. untried: ΔE00
    by which stacks of sticks that nobody has tried are off in the mean."""

    over: tuple[str, ...]
    caution: str
    untried: float


@cache
def facts() -> dict[str, MediumFacts]:
    """The facts of each medium, by its id. Raises InputError (`bad_row`)."""
    rows = toml("core.optics", "data/media.toml")
    return {key: from_row(MediumFacts, row, f"media.toml, {key}") for key, row in rows.items()}


def facts_of(medium_id: str) -> MediumFacts:
    """The facts of a medium. Raises InputError (`unknown_medium`)."""
    return facts()[get_medium(medium_id).id]


def counted(count: int, media: Iterable[str]) -> str:
    """So many sticks of these media in words: by their medium where they are all of one, otherwise as sticks.

    Raises InputError (`unknown_medium`).
    """
    words = {get_medium(medium).word for medium in media}
    word = words.pop() if len(words) == 1 else "stick"
    return f"{count} {word}" if count == 1 else f"{count} {word}s"


MAX_LAYERS = 15
_USED_UP = 0.1
_ANY_BROWN = "#8b6a52"


def get_medium(medium_id: str) -> Medium:
    """The medium with this id. Raises InputError (`unknown_medium`)."""
    if medium_id not in MEDIA:
        raise InputError(
            "unknown_medium", f"There is no medium “{medium_id[:40]}”.", f"Choose from: {', '.join(MEDIA)}.", "medium"
        )
    return MEDIA[medium_id]


@lru_cache(maxsize=512)
def layers_to_expect(medium_id: str, support: Support) -> int:
    """How many full-strength passes the paper takes until hardly a tenth of its tooth is left; at most MAX_LAYERS.

    Raises InputError (`unknown_medium`).
    """
    medium = get_medium(medium_id)
    box = medium.prepare((Stick("any", "any", medium_id, _ANY_BROWN),), support)
    state, layers = box.start(), 0
    while layers < MAX_LAYERS and box.tooth_left(state) > _USED_UP:
        state, layers = box.apply(state, Pass("any", medium.pressures[-1])), layers + 1
    return layers
