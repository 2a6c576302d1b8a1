"""The media Caltin knows. A new one is one file and one line here."""

from __future__ import annotations

from functools import lru_cache

from core.errors import InputError
from core.optics.marker import Marker
from core.optics.medium import Medium, Pass
from core.optics.oil_pastel import OilPastel
from core.optics.opaque import Opaque
from core.optics.pastel import Pastel
from core.optics.pencil import Pencil
from core.optics.stick import Stick
from core.optics.support import Support

MEDIA: dict[str, Medium] = {medium.id: medium for medium in (Pencil(), Marker(), Pastel(), OilPastel(), Opaque())}

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
    """How many full-strength passes the paper takes until hardly a tenth of its room is left; at most MAX_LAYERS.

    Raises InputError (`unknown_medium`).
    """
    medium = get_medium(medium_id)
    box = medium.prepare((Stick("any", "any", medium_id, _ANY_BROWN),), support)
    state, layers = box.start(), 0
    while layers < MAX_LAYERS and box.room(state) > _USED_UP:
        state, layers = box.apply(state, Pass("any", medium.pressures[-1])), layers + 1
    return layers
