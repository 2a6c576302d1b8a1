"""A drawing laid over its picture. Pictures: photographs that scikit-image carries, none of them ours."""

from __future__ import annotations

import numpy as np
import pytest
from skimage import data
from skimage.transform import ProjectiveTransform, resize, warp

from core.colour.spaces import SRGB, Floats, srgb_decode, xyz_to_lab
from core.compare.register import Register, by_corners, registered, through
from core.errors import InputError

HIGH, WIDE = 640, 460
PAPER = 96.0


def lightness(image: np.ndarray) -> Floats:
    rgb = resize(image[..., :3], (300, round(300 * image.shape[1] / image.shape[0])), anti_aliasing=True)
    return np.asarray(xyz_to_lab(srgb_decode(rgb) @ SRGB.to_xyz)[..., 0])


WOMAN = lightness(data.astronaut())
FACE = np.zeros(WOMAN.shape, dtype=bool)
FACE[18:130, 88:172] = True


def on_sheet(picture: Floats, corners: Floats, only: np.ndarray | None = None, seed: int = 0) -> Floats:
    """The picture's L* drawn between four corners (pixels of the sheet): in a hand that keeps four fifths of its
    contrast, on paper with grain; where `only` some of it is drawn, the rest is paper."""
    h, w = picture.shape
    drawn = picture if only is None else np.where(only, picture, PAPER)
    unit = np.array([[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]])
    back = ProjectiveTransform.from_estimate(corners, unit)
    sheet = warp(drawn, back, output_shape=(HIGH, WIDE), cval=PAPER)
    rng = np.random.default_rng(seed)
    return np.asarray(PAPER + 0.8 * (sheet - PAPER) + rng.normal(0, 2.0, sheet.shape))


def off(found: Register, corners: Floats) -> float:
    """How far a hundred places of the picture are from where they were drawn, at most, in parts of the width."""
    x, y = np.meshgrid(np.linspace(0.1, 0.9, 10), np.linspace(0.1, 0.9, 10))
    points = np.stack([x.ravel(), y.ravel()], axis=1)
    unit = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    true = through(ProjectiveTransform.from_estimate(unit, corners / (WIDE, HIGH)).params, points)
    return float(np.linalg.norm((found.on_sheet(points) - true) * (WIDE, HIGH), axis=1).max() / WIDE)


STRAIGHT = np.array([[40.0, 120.0], [420.0, 120.0], [420.0, 500.0], [40.0, 500.0]])
ASKEW = np.array([[60.0, 90.0], [400.0, 110.0], [412.0, 470.0], [48.0, 455.0]])
SMALL = np.array([[210.0, 330.0], [400.0, 330.0], [400.0, 520.0], [210.0, 520.0]])


@pytest.mark.parametrize("corners", [STRAIGHT, ASKEW, SMALL], ids=["straight", "askew", "small"])
@pytest.mark.parametrize("only", [None, FACE], ids=["all drawn", "face alone"])
def test_places_are_found_within_a_hundredth_of_the_width(corners: Floats, only: np.ndarray | None) -> None:
    found = registered(on_sheet(WOMAN, corners, only), WOMAN, FACE)
    # Of a face alone places far from it follow from its own few pixels.
    assert off(found, corners) < (0.01 if only is None else 0.03) and found.like > 0.7


def test_a_sheet_that_lies_on_its_side_is_turned() -> None:
    sheet = on_sheet(WOMAN, STRAIGHT)
    found = registered(np.rot90(sheet), WOMAN, FACE)
    (x, y), *_ = found.on_sheet(np.array([[0.0, 0.0]]))
    # What was the upper left corner is the lower left one after a quarter turn to the left.
    assert x == pytest.approx(120 / HIGH, abs=0.02) and y == pytest.approx(1 - 40 / WIDE, abs=0.02)


@pytest.mark.parametrize("other", ["coffee", "cat", "rocket"])
def test_another_picture_is_refused(other: str) -> None:
    image = data.coffee() if other == "coffee" else data.chelsea() if other == "cat" else data.rocket()
    with pytest.raises(InputError, match="Nothing was kept") as refused:
        registered(on_sheet(lightness(image), STRAIGHT), WOMAN, FACE)
    assert refused.value.code == "wrong_drawing" and refused.value.field == "photo"


@pytest.mark.parametrize("only", [None, FACE], ids=["all drawn", "face alone"])
def test_a_mirrored_photograph_is_told_from_another_picture(only: np.ndarray | None) -> None:
    with pytest.raises(InputError, match="Nothing was kept") as refused:
        registered(on_sheet(WOMAN, ASKEW, only)[:, ::-1], WOMAN, FACE)
    assert refused.value.code == "mirrored_drawing" and "not mirror" in refused.value.hint


def test_corners_set_by_hand_are_taken_as_they_are() -> None:
    found = by_corners(ASKEW / (WIDE, HIGH), on_sheet(WOMAN, ASKEW), WOMAN, FACE)
    assert off(found, ASKEW) < 1e-6 and found.like > 0.8
    astray = by_corners((ASKEW + 60) / (WIDE, HIGH), on_sheet(WOMAN, ASKEW), WOMAN, FACE)
    assert astray.like < found.like - 0.3
