"""A colour in plain words, for people who cannot or do not want to read numbers."""

from __future__ import annotations

from bisect import bisect_right

GREY_BELOW_CHROMA = 4.0

_HUES = (
    (0, "pink-red"), (18, "red"), (38, "red-orange"), (55, "orange"), (70, "yellow-orange"),
    (84, "yellow"), (102, "yellow-green"), (128, "green"), (168, "blue-green"), (212, "blue"),
    (272, "blue-violet"), (296, "violet"), (325, "red-violet"), (348, "pink-red"),
)  # fmt: skip
_CHROMAS = ((0.0, "greyish"), (10.0, "muted"), (24.0, ""), (40.0, "strong"), (60.0, "vivid"))
_NEAR = ((0.0, "so close that none can tell"), (1.0, "very close"), (2.5, "just visibly off"), (5.0, "clearly off"))
"""Common practice, no one source: about 1 is the least that can be told side by side."""
_MATTERS = ((0.0, "hardly"), (0.05, "a little"), (0.25, "much"))
"""What a mean over many places rises or falls by (assumption)."""
_VALUES = ((0.0, "very deep"), (2.0, "deep"), (4.0, "middle"), (6.0, "light"), (8.0, "very light"))


def _band(table: tuple[tuple[float, str], ...], number: float) -> str:
    return table[max(bisect_right([edge for edge, _ in table], number) - 1, 0)][1]


def hue_word(hue_deg: float) -> str:
    """The hue family of a CIELAB hue angle in degrees."""
    return _band(_HUES, hue_deg % 360.0)


def closeness(distance: float) -> str:
    """A distance in ΔE00 as an eye tells it, after `ends` or `is`."""
    return _band(_NEAR, distance)


def matters(difference: float) -> str:
    """How much it matters that a mean over many places rises or falls by this, in ΔE00."""
    return _band(_MATTERS, difference)


def in_words(lightness: float, chroma: float, hue_deg: float, value: float) -> str:
    """A colour of this L*, chroma, hue angle in degrees and Munsell value: `deep red-orange, muted`."""
    depth = _band(_VALUES, value)
    if chroma < GREY_BELOW_CHROMA:
        if lightness >= 93:
            return "near-white"
        return "near-black" if lightness < 14 else f"{depth} grey"
    strength = _band(_CHROMAS, chroma)
    return f"{depth} {hue_word(hue_deg)}" + (f", {strength}" if strength else "")
