"""Like this one, but …: each way changes what its word says, as words tell colours apart, and little else."""

import numpy as np
import pytest

from core.colour.spaces import lab_to_lch
from core.colour.turned import SHIFTS, compared, shifted

COLOURS = [np.array(lab) for lab in ([62.0, 18.0, 22.0], [35.0, 14.0, 12.0], [50.0, -8.0, -24.0], [78.0, 4.0, 30.0])]


@pytest.mark.parametrize("way", ["lighter", "darker", "greyer", "stronger"])
def test_a_colour_a_little_another_way_is_told_by_that_word(way: str) -> None:
    for lab in COLOURS:
        apart = 1 if lab_to_lch(lab)[1] > 24 or way in ("lighter", "darker") else 2
        other = lab
        for _ in range(apart):
            other = shifted(other, way)
        assert way in compared(lab, other)


def test_warm_goes_to_orange_and_cool_away_from_it() -> None:
    for lab in COLOURS:
        off = [abs((float(lab_to_lch(each)[2]) - 55 + 180) % 360 - 180) for each in (lab, shifted(lab, "warmer"))]
        assert off[1] < off[0] or off[0] < 1
        assert abs((float(lab_to_lch(shifted(lab, "cooler"))[2]) - 55 + 180) % 360 - 180) > off[0] - 1
        for way in ("warmer", "cooler"):
            assert np.allclose(lab_to_lch(shifted(lab, way))[:2], lab_to_lch(lab)[:2])


def test_a_word_that_is_no_way_is_refused_and_white_stays_white() -> None:
    with pytest.raises(KeyError):
        shifted(COLOURS[0], "nicer")
    assert all(0 <= shifted(np.array([99.0, 0.0, 0.0]), way)[0] <= 100 for way in SHIFTS)
