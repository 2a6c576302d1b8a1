"""The media Caltin knows. A new one is one file and one line here."""

from __future__ import annotations

from core.errors import InputError
from core.optics.marker import Marker
from core.optics.medium import Medium
from core.optics.oil_pastel import OilPastel
from core.optics.pastel import Pastel
from core.optics.pencil import Pencil

MEDIA: dict[str, Medium] = {medium.id: medium for medium in (Pencil(), Marker(), Pastel(), OilPastel())}


def get_medium(medium_id: str) -> Medium:
    """The medium with this id. Raises InputError (`unknown_medium`)."""
    if medium_id not in MEDIA:
        raise InputError(
            "unknown_medium", f"There is no medium “{medium_id[:40]}”.", f"Choose from: {', '.join(MEDIA)}.", "medium"
        )
    return MEDIA[medium_id]
