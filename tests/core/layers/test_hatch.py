"""Maps as drawings: more ink for a larger dose, none where nothing lies, and nothing tinted but the lines."""

import itertools

import numpy as np
import pytest

from core.plan.hatch import LONGEST, hatched

Stick = tuple[tuple[int, int, int], float]
SHAPE = (120, 160)
LIGHT = np.linspace(80, 30, SHAPE[1])[None].repeat(SHAPE[0], axis=0)
SKIN = np.ones(SHAPE, dtype=bool)
ROSE = ((214, 130, 140), 64.0)
BROWN = ((70, 48, 44), 22.0)


def bands(doses: int) -> np.ndarray:
    """Nothing above, then every dose in a band of its own."""
    return (
        np.minimum(np.arange(SHAPE[0]) // (SHAPE[0] // (doses + 1)), doses)[:, None]
        .repeat(SHAPE[1], 1)
        .astype(np.uint8)
    )


@pytest.mark.parametrize("stick", [ROSE, BROWN])
@pytest.mark.parametrize("doses", [1, 3])
def test_a_larger_dose_has_more_ink_and_the_ground_is_grey(stick: Stick, doses: int) -> None:
    drawn = hatched(LIGHT, SKIN, bands(doses), doses, stick, 2.0, 1).astype(int)
    assert drawn.shape == (LONGEST * 3 // 4, LONGEST, 3)
    rows = np.array_split(drawn, doses + 1)
    # Away from the edges of a band; how far a pixel is from grey is how much of the stick it shows.
    tinted = [np.ptp(band[30:-30], axis=2).mean() for band in rows]
    assert tinted[0] == 0
    assert tinted == sorted(tinted)
    assert all(more > 1.2 * less for less, more in itertools.pairwise(tinted[1:]))
    # A pale stick is seen on a dark ground, a dark one on a pale one.
    assert (rows[0].mean() < 128) == (stick is ROSE)


def test_lines_turn_from_layer_to_layer_and_are_the_same_when_asked_again() -> None:
    first, again, other = (hatched(LIGHT, SKIN, bands(1), 1, BROWN, 2.0, number) for number in (0, 0, 1))
    assert np.array_equal(first, again)
    assert not np.array_equal(first, other)
    nothing = hatched(LIGHT, ~SKIN, np.zeros(SHAPE, dtype=np.uint8), 0, BROWN, 2.0, 0)
    assert (np.ptp(nothing.astype(int), axis=2) == 0).all()
