"""Lines to be transferred to the paper: outlines, the shadow's edge, and where one value gives way to the next."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import ndimage
from skimage.measure import find_contours

from core.colour.munsell import y_to_value
from core.colour.spaces import Floats
from core.look.families import Mask
from core.look.study import Study
from core.look.views import light_of

KINDS = ("skin", "shadow", "value", "other")
_SMOOTH_PX = 2.0
_COARSE_PX = 0.35
_SHORTEST_PX = 14.0


@dataclass(frozen=True, slots=True)
class BorderLine:
    """kind: one of KINDS. points: (x, y) as fractions of the reference; closed if the ends meet."""

    kind: str
    points: tuple[tuple[float, float], ...]


def border_lines(study: Study, steps: int = 5) -> tuple[BorderLine, ...]:
    """Outline of the skin, border of light and shadow, and borders of `steps` values in each figure and in the rest.

    Contours by marching squares (Lorensen and Cline 1987) of smoothed fields, thinned out to a third of a
    pixel of the studied picture. Values are counted between the figure's (or the rest's) own darkest and lightest.
    """
    lines = _contours("skin", study.skin.astype(float), 0.5, None)
    lines += _contours("shadow", np.where(study.skin, study.light.astype(float), 0.5), 0.5, _inner(study.skin))
    luminance = light_of(study.small)[..., 1].astype(float)
    value = y_to_value(ndimage.gaussian_filter(luminance, _SMOOTH_PX))
    for number, figure in enumerate(study.figures):
        if figure.lightest is None or figure.darkest is None:
            continue
        skin = study.of(number)
        for i in range(1, steps):
            level = figure.darkest + (figure.lightest - figure.darkest) * i / steps
            lines += _contours("value", value, level, _inner(skin), smooth=False)
    rest = _inner(~study.skin)
    if rest.any():
        low, high = np.percentile(value[rest], [2, 98])
        for i in range(1, steps):
            lines += _contours("other", value, low + (high - low) * i / steps, rest, smooth=False)
    return tuple(lines)


def _inner(skin: Mask) -> Mask:
    return np.asarray(ndimage.binary_erosion(skin, iterations=2))


def _contours(kind: str, field: Floats, level: float, inside: Mask | None, smooth: bool = True) -> list[BorderLine]:
    # Loads half of SciPy, which takes longer than everything else here: only who draws lines need wait for it.
    from skimage.measure import approximate_polygon

    field = ndimage.gaussian_filter(field, _SMOOTH_PX) if smooth else field
    if inside is None:
        field = np.pad(field, 1)
    h, w = field.shape
    lines = []
    for path in find_contours(field, level, mask=inside):
        thin = approximate_polygon(path, _COARSE_PX)
        if np.linalg.norm(np.diff(thin, axis=0), axis=1).sum() < _SHORTEST_PX:
            continue
        off = -0.5 if inside is None else 0.5
        across = (thin[:, 1] + off) / (w - 2 if inside is None else w)
        down = (thin[:, 0] + off) / (h - 2 if inside is None else h)
        points = np.clip(np.column_stack([across, down]), 0, 1).round(4)
        lines.append(BorderLine(kind, tuple((float(x), float(y)) for x, y in points)))
    return lines
