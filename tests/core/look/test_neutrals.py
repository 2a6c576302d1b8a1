"""What a picture offers to balance on: painted by hand, so that it is known which places are grey and which are not."""

import numpy as np
import pytest

from core.colour.spaces import SRGB, lab_to_xyz, xyz_to_pixels
from core.eyes.areas import Area
from core.look.faces import FaceMap
from core.look.neutrals import eye_white, is_tinted, looks_neutral, offers
from core.look.views import Small

SKIN, WALL, CARD, SHEET = (62.0, 17.0, 21.0), (58.0, 2.0, -42.0), (66.0, 0.0, 0.0), (95.0, 0.0, 1.0)
WARM = (0.0, 4.0, 14.0)
"""What a lamp adds, roughly, to a grey of middle value."""
ROWS, COLUMNS = 160, 200


def painted(
    *areas: tuple[slice, slice, tuple[float, float, float]], cast: tuple[float, float, float] = (0, 0, 0)
) -> Small:
    """A picture of even areas (CIELAB) on a wall that nobody takes for grey."""
    lab = np.tile(np.array(WALL), (ROWS, COLUMNS, 1))
    for rows, columns, colour in areas:
        lab[rows, columns] = np.array(colour) + cast
    return Small(xyz_to_pixels(lab_to_xyz(lab)), SRGB)


HEAD = slice(30, 120), slice(20, 90)
LEFT, RIGHT = (slice(20, 70), slice(110, 150)), (slice(90, 140), slice(150, 190))


def skin_of(head: tuple[slice, slice]) -> np.ndarray:
    mask = np.zeros((ROWS, COLUMNS), dtype=bool)
    mask[head] = True
    return mask


def face(whites: float = 12.0) -> FaceMap:
    """A face with one eye white, a square of so many pixels a side, at (50, 60)."""
    square = whites / 2 * np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) + (50.0, 60.0)
    nothing = np.zeros((0, 2))
    return FaceMap(
        np.array([55.0, 75.0]), 80.0, np.array([1.0, 0.0]), np.array([0.0, 1.0]), nothing, (),
        (Area("eye white", "left", square, 1.0),), nothing, np.zeros((0, 3)), 0.0,
    )  # fmt: skip


def lies_in(x: float, y: float, area: tuple[slice, slice]) -> bool:
    rows, columns = area
    return bool(columns.start <= x * COLUMNS < columns.stop and rows.start <= y * ROWS < rows.stop)


def test_a_grey_card_is_offered_and_a_blue_wall_and_skin_are_not() -> None:
    small = painted((*HEAD, SKIN), (*LEFT, CARD))
    (found,) = offers(small, small, skin_of(HEAD), [None])
    assert found.kind == "grey" and lies_in(found.disc.x, found.disc.y, LEFT)
    assert np.allclose(found.lab, CARD, atol=0.6)
    # One alone may be of any colour.
    assert not found.sure


def test_two_that_agree_speak_for_each_other_and_what_disagrees_comes_last() -> None:
    small = painted((*HEAD, SKIN), (*LEFT, CARD), (*RIGHT, SHEET), cast=WARM)
    both = offers(small, small, skin_of(HEAD), [None])
    assert len(both) == 2 and all(offer.sure for offer in both)
    pale_green = (80.0, -22.0, 14.0)
    small = painted((*HEAD, SKIN), (*LEFT, CARD), (*RIGHT, pale_green))
    apart = offers(small, small, skin_of(HEAD), [None])
    assert not any(offer.sure for offer in apart)
    assert [lies_in(offer.disc.x, offer.disc.y, LEFT) for offer in apart] == [True, False]


def test_an_eye_white_comes_first_and_stays_as_warm_as_eye_whites_are() -> None:
    eye = slice(54, 66), slice(44, 56)
    small = painted((*HEAD, SKIN), (*eye, (70.0, 3.0, 6.0)), (*LEFT, CARD))
    found = offers(small, small, skin_of(HEAD), [face()])
    assert [offer.kind for offer in found] == ["eye white", "grey"] and found[0].sure and found[1].sure
    assert found[0].neutral.eye_white and lies_in(found[0].disc.x, found[0].disc.y, eye)
    assert looks_neutral(np.array(found[0].lab))
    under_a_lamp = painted((*HEAD, SKIN), (*eye, (70.0, 3.0, 6.0)), cast=(0.0, 8.0, 20.0))
    white = eye_white(under_a_lamp, face())
    assert white is not None and not looks_neutral(white[0])


@pytest.mark.parametrize("whites", [2.0, 0.5])
def test_an_eye_white_of_a_few_pixels_tells_nothing(whites: float) -> None:
    assert eye_white(painted((*HEAD, SKIN)), face(whites)) is None
    assert eye_white(painted((*HEAD, SKIN)), None) is None


def test_what_is_small_dark_or_blown_out_is_not_offered() -> None:
    tiny, dark, blown = (slice(5, 9), slice(5, 9)), (30.0, 0.0, 0.0), (100.0, 0.0, 0.0)
    small = painted((*HEAD, SKIN), (*tiny, CARD), (*LEFT, dark), (*RIGHT, blown))
    assert offers(small, small, skin_of(HEAD), [None]) == ()


@pytest.mark.parametrize(
    ("lab", "tinted"),
    [
        # Skins as they are measured under daylight: fair, middle, deep (from memory).
        ((66.0, 9.0, 15.0), False), ((58.0, 11.0, 18.0), False), ((42.0, 10.0, 15.0), False),
        # The same under a red, a green and a blue lamp.
        ((60.0, 45.0, 20.0), True), ((60.0, -20.0, 30.0), True), ((60.0, 10.0, -25.0), True),
    ],
)  # fmt: skip
def test_skin_under_a_coloured_lamp_is_told_from_skin(lab: tuple[float, float, float], tinted: bool) -> None:
    assert is_tinted(np.array(lab)) is tinted
