"""Swatches read from simulated photographs: a camera of other physics than the reader's (tools.camera)."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.look.picture import Picture, read_picture
from core.photo.field import paper_field
from core.photo.squared import squared
from core.photo.swatches import Box, SwatchReading, grid, read_swatches
from tests.conftest import a_range
from tests.core.photo.sheets import FRAME, sheet
from tools.camera import Camera, photograph

LABS = [tuple(stick.lab) for stick in a_range("gangway-36").sticks][1:25]


def photo_of(camera: Camera, labs=LABS) -> tuple[Picture, list[tuple[float, float]], list[Box], np.ndarray]:
    xyz, boxes, true = sheet(labs, 4, 6, camera.seed)
    data, corners = photograph(xyz, camera)
    rng = np.random.default_rng(camera.seed)
    # Corners as a hand sets them.
    by_hand = [(x + rng.normal() * 0.002, y + rng.normal() * 0.002) for x, y in corners]
    return read_picture(data), by_hand, boxes, true


def labs_of(readings: list[SwatchReading]) -> np.ndarray:
    return np.array([reading.lab for reading in readings])


@pytest.mark.parametrize(("curve", "most"), [("mild", 2.4), ("strong", 3.7)])
def test_swatches_are_read_by_the_paper_they_lie_on(curve: str, most: float) -> None:
    off: list[float] = []
    for seed in range(2):
        photo, corners, boxes, true = photo_of(Camera(seed, curve))
        readings = read_swatches(photo, corners, boxes)
        off += list(ciede2000(labs_of(readings), true))
        assert sum(bool(reading.said) for reading in readings) <= 2
        assert all(reading.doubt >= 2.4 for reading in readings)
    assert np.median(off) <= most
    assert np.quantile(off, 0.9) <= 2.4 * most


def test_the_lamp_is_told_from_the_paper() -> None:
    photo, corners, boxes, _ = photo_of(Camera(4, "none", tilt=0.0))
    flat = squared(photo, corners)
    field = paper_field(flat)
    bare = flat.rgb[4:20, 20:-20]
    even = bare / field[4:20, 20:-20]
    assert bare.std(axis=(0, 1)).max() > 3 * even.std(axis=(0, 1)).max()
    assert np.allclose(even.mean(axis=(0, 1)), 1, atol=0.04)
    assert len(boxes) == 24


def test_glare_empty_and_uneven_swatches_are_named() -> None:
    labs = [(96, 0, 1.5), *LABS[1:]]
    xyz, boxes, _ = sheet(labs, 4, 6)
    h, w = xyz.shape[:2]
    box = boxes[8]
    half = slice(int(box.left * w), int((box.left + box.right) / 2 * w))
    xyz[int(box.top * h) : int(box.bottom * h), half] *= 0.3
    data, corners = photograph(xyz, Camera(1, "mild"))
    said = [reading.said for reading in read_swatches(read_picture(data), corners, boxes)]
    assert "empty" in said[0]
    assert "unevenly" in said[8]
    data, corners = photograph(xyz, replace(Camera(1, "mild"), glare=True))
    glared = [reading.said for reading in read_swatches(read_picture(data), corners, boxes)]
    assert any("lamp" in words for words in glared)


def refused(photo: Picture, corners, boxes) -> str:
    with pytest.raises(InputError) as error:
        read_swatches(photo, corners, boxes)
    assert error.value.hint
    return error.value.code


def test_what_cannot_be_read_is_said_in_clear_words() -> None:
    photo, corners, boxes, _ = photo_of(Camera(2))
    assert refused(photo, corners, []) == "no_swatches"
    assert refused(photo, corners, [boxes[0]] * 401) == "too_many_swatches"
    assert refused(photo, corners, [boxes[0], boxes[0]]) == "overlapping"
    assert refused(photo, corners, [Box(0.5, 0.5, 1.5, 0.6)]) == "bad_box"
    assert refused(photo, corners, [Box(0.5, 0.5, 0.501, 0.501)]) == "too_small"
    assert refused(photo, corners[::-1], boxes) == "bad_corners"
    assert refused(photo, [(0.5, 0.5)] * 4, boxes) == "bad_corners"
    same, corners, boxes, _ = photo_of(Camera(2), [(60, 20, 20)] * 24)
    assert refused(same, corners, boxes) == "all_alike"
    noise = np.random.default_rng(1).integers(0, 255, (600, 800, 3), dtype=np.uint8)
    assert refused(replace(photo, pixels=noise), None, grid(2, 3, FRAME)) == "no_paper"
    with pytest.raises(InputError, match="0 rows"):
        grid(0, 3)
