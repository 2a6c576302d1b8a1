"""Questions about a photograph of a sheet that take a while: plain values in and out, so that another process can
answer them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from core.colour.spaces import srgb_encode
from core.errors import InputError
from core.look.questions import Source, as_jpeg, decoded
from core.photo.field import paper_field
from core.photo.squared import Box, Corner, squared
from core.photo.swatches import SheetRead, read_sheet

_WHITE_PERCENT, _PAPER = 98, 0.9


def sheet_of(
    source: Source,
    corners: Sequence[Corner] | None,
    boxes: Sequence[Box] | None,
    chart: Sequence[Corner] | None,
    cells: bool,
) -> SheetRead:
    """What `core.photo.swatches.read_sheet` reads. Raises what that raises, and OSError."""
    return read_sheet(decoded(source), corners, boxes, chart, cells=cells)


def squared_of(source: Source, corners: Sequence[Corner]) -> bytes:
    """The sheet between four corners as JPEG, freed of the lamp as far as paper is seen. Raises InputError, OSError."""
    flat = squared(decoded(source), corners)
    try:
        rgb = flat.rgb / paper_field(flat) * _PAPER
    except InputError:
        rgb = flat.rgb / max(float(np.percentile(flat.rgb.max(axis=2), _WHITE_PERCENT)), 1e-3)
    return as_jpeg(np.rint(srgb_encode(np.clip(rgb, 0, 1)) * 255).astype(np.uint8))
