"""Regions around skin, against truths set by hand on pictures that were not made for this."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
import skimage.data
from numpy.typing import NDArray
from scipy import ndimage
from skimage.color import rgb2lab

from core.errors import InputError
from core.surround.region import Seed, grown, tones_of, values_of

Flags = NDArray[np.bool_]


@cache
def portrait() -> tuple[NDArray[np.float64], Flags]:
    """A portrait that an image library carries, and its skin, drawn roughly by hand."""
    lab = np.asarray(rgb2lab(skimage.data.astronaut()), dtype=float)
    skin = np.zeros(lab.shape[:2], dtype=bool)
    y, x = np.mgrid[0:512, 0:512]
    # The face, from the hair's edge to the chin, and the neck.
    skin |= ((x - 226) / 46) ** 2 + ((y - 118) / 62) ** 2 < 1
    skin |= (np.abs(x - 218) < 30) & (y > 150) & (y < 200)
    return lab, skin


HAIR = [(165, 75), (200, 35), (240, 25), (280, 60), (292, 100), (170, 100)]
SUIT = [(120, 300), (330, 300), (150, 420), (300, 440), (200, 480)]
BESIDE_BOTH = [(110, 100), (340, 60), (340, 180), (470, 200)]
"""x, y in pixels, set by looking at it."""


def test_hair_and_suit_of_a_portrait_are_told_from_each_other_and_from_the_ground() -> None:
    lab, skin = portrait()
    seeds = [
        Seed(((175 / 512, 85 / 512), (285 / 512, 90 / 512), (230 / 512, 32 / 512)), 0.5),
        Seed(((120 / 512, 330 / 512), (320 / 512, 330 / 512), (190 / 512, 450 / 512)), 0.55),
    ]
    owner = grown(lab, skin, seeds)
    assert owner.shape == skin.shape and not owner[skin].any()
    assert sum(owner[y, x] == 1 for x, y in HAIR) >= len(HAIR) - 1
    assert sum(owner[y, x] == 2 for x, y in SUIT) >= len(SUIT) - 1
    assert all(owner[y, x] != 1 for x, y in SUIT) and all(owner[y, x] != 2 for x, y in HAIR)
    assert sum(owner[y, x] == 0 for x, y in BESIDE_BOTH) >= len(BESIDE_BOTH) - 1
    hair, suit = tones_of(lab, owner, 1), tones_of(lab, owner, 2)
    # Brown hair, and an orange suit that is lighter and stronger.
    assert values_of(hair)[1] < values_of(suit)[1]
    assert np.hypot(*suit.middle[1:]) > 1.5 * np.hypot(*hair.middle[1:]) and suit.middle[1] > 0
    assert hair.shade[0] < hair.middle[0] < hair.light[0]


def woven(seed: int = 2) -> tuple[NDArray[np.float64], NDArray[np.uint8]]:
    """Three cloths with weave and folds on a ground, and which pixel is whose."""
    rng = np.random.default_rng(seed)
    h, w = 180, 240
    truth = np.zeros((h, w), np.uint8)
    truth[20:90, 20:110] = 1
    truth[100:170, 30:200] = 2
    truth[15:85, 130:225] = 3
    colours = np.array([(70, 0, 4), (28, 8, 12), (52, 38, 34), (40, -6, -24)], dtype=float)
    folds = ndimage.gaussian_filter(rng.normal(size=(h, w)), 9)
    weave = rng.normal(size=(h, w, 3)) * 2.0
    lab = colours[truth] + weave
    lab[..., 0] += 5 * folds / folds.std()
    return lab, truth


def test_cloths_with_weave_and_folds_are_found_to_their_edges() -> None:
    lab, truth = woven()
    seeds = [
        Seed(((60 / 240, 50 / 180),), 0.6),
        Seed(((110 / 240, 135 / 180),), 0.6),
        Seed(((180 / 240, 50 / 180),), 0.6),
    ]
    owner = grown(lab, np.zeros(truth.shape, bool), seeds)
    for number in (1, 2, 3):
        mine, true = owner == number, truth == number
        assert (mine & true).sum() / (mine | true).sum() > 0.85, number


def test_reach_makes_a_region_larger_and_a_point_more_adds_what_was_missing() -> None:
    lab, truth = woven()
    bare = np.zeros(truth.shape, bool)
    sizes = [(grown(lab, bare, [Seed(((110 / 240, 135 / 180),), reach)]) > 0).sum() for reach in (0.1, 0.4, 1.0)]
    assert sizes[0] < sizes[1] < sizes[2]
    both = grown(lab, bare, [Seed(((60 / 240, 50 / 180), (180 / 240, 50 / 180)), 0.6)])
    assert both[50, 60] == both[50, 180] == 1


def test_what_cannot_be_a_region_is_refused_in_clear_words() -> None:
    lab, truth = woven()
    skin = truth == 1
    owner = grown(lab, skin, [Seed(((60 / 240, 50 / 180),), 0.5)])
    assert (owner > 0).sum() <= 1
    with pytest.raises(InputError, match="all but nothing"):
        tones_of(lab, owner, 1)
    with pytest.raises(InputError, match="no point yet"):
        grown(lab, skin, [Seed((), 0.5)])
    tiny = np.zeros(truth.shape, np.uint8)
    tiny[5, 5:8] = 1
    with pytest.raises(InputError, match="all but nothing"):
        tones_of(lab, tiny, 1)
