"""What tray and paper cannot hold, said so that the artist can plan around it."""

from __future__ import annotations

_HARDLY = 0.05
_FAR_OFF = 4.0


def beyond(value: float, darkest: float, lightest: float, distance: float | None) -> str:
    """Why a colour cannot be reached; empty if it can.

    value, darkest, lightest: Munsell values of the colour and of what can be reached. distance: ΔE00
    that the best recipe leaves, None as long as there is none.
    """
    if value < darkest - _HARDLY:
        return f"{darkest - value:.1f} value steps darker than this tray gets on this paper."
    if value > lightest + _HARDLY:
        return f"{value - lightest:.1f} value steps lighter than this tray gets on this paper."
    if distance is not None and distance > _FAR_OFF:
        return f"The value can be reached, the colour only to within {distance:.1f} ΔE."
    return ""
