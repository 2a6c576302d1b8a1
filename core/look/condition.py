"""What a picture can no longer tell: one hue, burnt out, near black, pressed too hard, through a filter."""

from __future__ import annotations

from typing import Literal

import numpy as np

from core.colour.spaces import Floats, lab_to_lch, xyz_to_lab
from core.look.faces import Mask

Condition = Literal["one hue", "burnt out", "near black", "compressed", "filtered"]

_GREY = 3.0
"""Chroma below which a picture has no hue at all."""
_ONE_HUE_RMS, _FEW = 2.2, 500
"""How far (CIELAB) colours may lie from one curve through all values before they are more than a toned grey."""
_CODE_FULL, _CODES_BURNT = 252, 0.12
_DARK_L, _DARK_LIGHTS_L = 11.0, 22.0
"""Skin whose middle and whose lights are darker than this says nothing of its hue: noise and compression do."""
_COARSE = 60.0
"""Mean step with which a JPEG file kept the coarse part of its colours: about quality 20 of 100."""
_VIVID, _VIVID_SHARE = 62.0, 0.25
"""More than this share of skin beyond this chroma is no photograph of skin as it is."""


def conditions(xyz: Floats, codes: Floats, skin: Mask, coarseness: float) -> tuple[Condition, ...]:
    """What limits the reading of colours of a picture, the worst first.

    xyz (h, w, 3): its light; codes (h, w): the largest of its three codes, 0–255; skin (h, w), or everything where no
    skin was found. coarseness: see core.look.picture.Picture.
    """
    where = skin if skin.sum() >= 30 else np.ones(skin.shape, bool)
    lab = xyz_to_lab(xyz)
    lightness = lab[where, 0]
    said: list[Condition] = []
    if is_one_hue(lab):
        said.append("one hue")
    if float(np.median(lightness)) < _DARK_L or float(np.percentile(lightness, 90)) < _DARK_LIGHTS_L:
        said.append("near black")
    if float((codes[where] >= _CODE_FULL).mean()) > _CODES_BURNT:
        said.append("burnt out")
    if coarseness > _COARSE:
        said.append("compressed")
    if "one hue" not in said and float((lab_to_lch(lab[where])[..., 1] > _VIVID).mean()) > _VIVID_SHARE:
        said.append("filtered")
    return tuple(said)


def is_one_hue(lab: Floats) -> bool:
    """Whether a picture, CIELAB (…, 3), is a grey one toned with a single hue, as sepia is: a* and b* follow from L*.

    Least squares of a* and b* on powers of L*; what is left over is the picture's own colour.
    """
    rows = lab.reshape(-1, 3)[:: max(1, lab.size // 3 // 20_000)].astype(float)
    if len(rows) < _FEW or float(np.percentile(np.hypot(rows[:, 1], rows[:, 2]), 90)) < _GREY:
        return False
    lightness = rows[:, 0] / 100
    system = np.column_stack([lightness**power for power in range(5)])
    answer, *_ = np.linalg.lstsq(system, rows[:, 1:], rcond=None)
    left = np.linalg.norm(rows[:, 1:] - system @ answer, axis=1)
    return float(np.sqrt(np.mean(left**2))) < _ONE_HUE_RMS
