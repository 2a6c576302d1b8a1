"""How a pass is made, in the words of a work sheet."""

from __future__ import annotations

from core.optics.media import get_medium
from core.optics.medium import TOOLS, Pass

_TIMES = {1: "once", 2: "twice", 3: "three times"}
_COATS = {1: "one coat", 2: "two coats", 3: "three coats"}
_COATED = {"wet": "worked in wet, {coats}", "flick": "{coats}, flicked loosely over half of it, let it dry"}
_TOOLS_SAID = {"stump": "rub it even", "putty": "dab colour off", "blade": "scrape colour off"}


def manner(pass_: Pass, medium: str | None) -> str:
    """A short phrase; medium: that of the stick, None for a tool."""
    times = _TIMES[pass_.repeats]
    if pass_.stick in TOOLS:
        return f"{_TOOLS_SAID[pass_.stick]}, {pass_.pressure}, {times}"
    if medium and get_medium(medium).lies == "ink":
        coats = _COATS[pass_.repeats]
        return _COATED.get(pass_.technique, "{coats}, let it dry").format(coats=coats)
    said = "" if pass_.technique == "lay" else f"{pass_.technique}, "
    return f"{said}{pass_.pressure}, {times} over"
