"""Drawings read from photographs: drawn by a hand in a nature of other physics (tools.drawn), photographed by a camera
of other physics (tools.camera)."""

from __future__ import annotations

import io
from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from PIL import Image, ImageFilter

from core.colour.difference import ciede2000
from core.compare.reading import (
    BARE,
    COVERED,
    GLARE,
    OUTSIDE,
    Beside,
    PlaceRead,
    Reference,
    Region,
    Sheet,
    laid_over,
    read_places,
    surround_is_bare,
    what_is_wrong,
)
from core.errors import InputError
from core.look.measuring import place_on
from core.look.picture import read_picture
from core.optics.support import get_support
from core.plan.setup import Setup
from tools.camera import Camera, photograph
from tools.drawn import Drawing, places_of, with_hand

CAMERA = Camera(2, "mild", size=(1200, 1600))
DRAWING = Drawing(seed=2, surround="outlined", wrong=1)
PLACE = place_on(DRAWING.sheet, DRAWING.study.small.width, DRAWING.study.small.height)
(LEFT, TOP), (RIGHT, BOTTOM) = PLACE.on_sheet(0.0, 0.0), PLACE.on_sheet(1.0, 1.0)
WIDE, HIGH = DRAWING.sheet.width_mm, DRAWING.sheet.height_mm
EXPECTED = np.array([[(RIGHT - LEFT) / WIDE, 0, LEFT / WIDE], [0, (BOTTOM - TOP) / HIGH, TOP / HIGH], [0, 0, 1]])
REFERENCE = Reference(DRAWING.seen, DRAWING.study.coloured > 0, EXPECTED)
PAPER = get_support(Setup().paper).lab
SHAPE = (REFERENCE.skin.shape[0], REFERENCE.skin.shape[1])


@cache
def taken(glare: bool = False) -> tuple[bytes, tuple[tuple[float, float], ...]]:
    data, corners = photograph(DRAWING.on_sheet, replace(CAMERA, glare=glare))
    return data, tuple(corners)


def laid(data: bytes, **known: object) -> Sheet:
    return laid_over(read_picture(data), REFERENCE, PAPER, **known)  # type: ignore[arg-type]


def read(sheet: Sheet) -> tuple[list[PlaceRead], tuple[str, ...]]:
    said, covered, _ = what_is_wrong(sheet, REFERENCE)
    regions = [Region(place.x, place.y, place.radius) for place in places_of(DRAWING.piece)]
    return read_places(sheet, regions, SHAPE, covered), said


def test_places_are_read_on_the_paper_alone_and_found_where_they_were_drawn() -> None:
    data, corners = taken()
    sheet = laid(data)
    rows, said = read(sheet)
    true = DRAWING.around_places(DRAWING.in_picture)
    sound = [i for i, row in enumerate(rows) if not row.trouble]
    off = ciede2000(np.array([rows[i].lab for i in sound]), true[sound])
    assert len(sound) >= len(rows) - 3 and np.median(off) < 3.2, np.median(off)
    astray = np.array([(row.x, row.y) for row in rows]) - DRAWING.places_on_sheet()
    assert np.median(np.linalg.norm(astray * (1, HIGH / WIDE), axis=1)) < 0.01
    assert np.abs(np.array(sheet.corners) - corners).max() < 0.01
    assert said == () and surround_is_bare(sheet, REFERENCE)


def test_swatches_that_were_measured_before_bring_readings_nearer() -> None:
    drawing = replace(DRAWING, swatches=6)
    data, _ = photograph(drawing.on_sheet, replace(CAMERA, curve="strong"))
    rng = np.random.default_rng(4)
    read_off = drawing.swatches_true + rng.normal(0, 0.8, drawing.swatches_true.shape)
    beside = [Beside(*at, (tuple(lab), 1.4)) for at, lab in zip(drawing.swatches_at, read_off.tolist(), strict=True)]
    true = drawing.around_places(drawing.in_picture)
    off = []
    for known in ([], beside):
        rows, _ = read(laid(data, beside=known))
        sound = [i for i, row in enumerate(rows) if not row.trouble]
        off.append(float(np.median(ciede2000(np.array([rows[i].lab for i in sound]), true[sound]))))
    assert off[1] < 0.85 * off[0], off
    with pytest.raises(InputError) as refused:
        laid(data, beside=[*beside, Beside(0.5, 0.03, beside[0].known)])
    assert refused.value.code == "swatch_empty"


def test_a_hand_a_blur_and_a_lamp_are_said_plainly() -> None:
    data, corners = taken()
    rows, said = read(laid(with_hand(data), corners=corners))
    assert any("perhaps a hand" in text for text in said)
    assert any(row.trouble == COVERED for row in rows) and any(not row.trouble for row in rows)
    with pytest.raises(InputError, match="Where the sheet ends is not plain"):
        laid(with_hand(data))
    blurred = io.BytesIO()
    Image.open(io.BytesIO(data)).filter(ImageFilter.GaussianBlur(7)).save(blurred, "JPEG")
    assert any("out of focus" in text for text in read(laid(blurred.getvalue()))[1])
    rows, said = read(laid(taken(glare=True)[0]))
    assert any("shines back" in text for text in said) and any(row.trouble == GLARE for row in rows)
    half = SHAPE[0] // 2, SHAPE[1] // 2
    nowhere = Reference(np.roll(REFERENCE.lab[::-1], half, (0, 1)), np.ones(SHAPE, dtype=bool))
    with pytest.raises(InputError) as refused:
        laid_over(read_picture(taken(glare=True)[0]), nowhere, PAPER)
    assert refused.value.code == "glare"


def test_what_lies_outside_or_is_bare_tells_nothing_and_the_frame_can_be_set() -> None:
    data, corners = taken()
    sheet = laid(data, corners=corners)
    _, covered, _ = what_is_wrong(sheet, REFERENCE)
    beside, bare = read_places(sheet, [Region(0.5, 6.0, 0.01), Region(0.5, 0.9, 0.01)], SHAPE, covered)
    assert (beside.trouble, bare.trouble) == (OUTSIDE, BARE)
    frame = [(0.1, 0.1), (0.6, 0.1), (0.6, 0.4), (0.1, 0.4)]
    moved = laid(data, corners=corners, frame=frame)
    (middle,) = read_places(moved, [Region(0.5, 0.5, 0.01)], SHAPE, covered)
    assert (middle.x, middle.y) == pytest.approx((0.35, 0.25), abs=0.001)
    assert any("another drawing" in text for text in what_is_wrong(moved, REFERENCE)[0])
    with pytest.raises(InputError, match="no sheet"):
        laid(data, corners=corners, frame=[(0.1, 0.1)] * 4)


def test_a_photograph_without_paper_or_of_nothing_is_refused() -> None:
    dark = np.full((400, 300, 3), 30, dtype=np.uint8)
    dark[150:250, 100:200] = (90, 60, 50)
    out = io.BytesIO()
    Image.fromarray(dark).save(out, "PNG")
    with pytest.raises(InputError) as refused:
        laid(out.getvalue())
    assert refused.value.code in ("no_paper", "wrong_drawing", "corners_needed")
