"""The nature that predictions are judged by: it keeps what everybody who draws knows (common practice, no source), and
is no copy of the model (its figures are printed by the bench)."""

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.optics.medium import Pass
from core.optics.support import supports
from tools.bench_trial import RANGES, setup_of, tray_of
from tools.nature import Nature

DRY = [medium for medium in RANGES if medium != "marker"]


def nature_of(medium: str, seed: int = 0) -> Nature:
    return Nature(seed, tray_of(medium)[::4], supports()[setup_of(medium).paper])


@pytest.mark.parametrize("medium", DRY)
def test_a_heavier_hand_and_another_layer_close_the_sheet(medium: str) -> None:
    nature = nature_of(medium)
    dark = min(nature.sticks, key=lambda stick: float(stick.lab[0])).code
    lightness = [nature.lab([Pass(dark, pressure, 1)])[0] for pressure in ("light", "medium", "heavy")]
    assert lightness == sorted(lightness, reverse=True) and lightness[0] - lightness[2] > 5
    layers = [nature.lab([Pass(dark, "medium", times)])[0] for times in (1, 2, 3)]
    assert layers == sorted(layers, reverse=True)
    # The paper fills: each adds less.
    assert layers[0] - layers[1] > layers[1] - layers[2]


@pytest.mark.parametrize("medium", DRY)
def test_a_closed_swatch_is_the_sticks_own_colour_and_pale_over_dark_stays_darker(medium: str) -> None:
    nature = nature_of(medium)
    off = [float(ciede2000(nature.lab([Pass(s.code, "heavy", 3)]), np.array(s.lab))) for s in nature.sticks]
    assert np.median(off) < 8
    pale = max(nature.sticks, key=lambda stick: float(stick.lab[0])).code
    dark = min(nature.sticks, key=lambda stick: float(stick.lab[0])).code
    over = nature.lab([Pass(dark, "heavy", 1), Pass(pale, "medium", 1)])
    assert nature.lab([Pass(dark, "heavy", 1)])[0] - 1 < over[0] < nature.lab([Pass(pale, "medium", 1)])[0] - 5


def test_the_second_coat_of_a_marker_tells_less_and_inks_darken_each_other() -> None:
    nature = nature_of("marker")
    one, other = (stick.code for stick in nature.sticks[1:3])
    coats = [nature.lab([Pass(one, "light", times)])[0] for times in (1, 2, 3)]
    assert coats[0] - coats[1] > coats[1] - coats[2] > 0
    both = nature.lab([Pass(one, "light", 1), Pass(other, "light", 1)])[0]
    assert both < min(nature.lab([Pass(code, "light", 1)])[0] for code in (one, other))


def test_the_same_seed_is_the_same_nature_and_hands_and_readings_vary() -> None:
    passes = [Pass(tray_of("pencil")[0].code, "medium", 2), Pass(tray_of("pencil")[8].code, "medium", 1)]
    assert np.allclose(nature_of("pencil", 3).lab(passes), nature_of("pencil", 3).lab(passes))
    nature = nature_of("pencil", 3)
    hands = np.array([nature.lab(passes, hand=0.15) for _ in range(12)])
    assert 0.3 < hands[:, 0].std() < 4
    read = np.array([nature.lab(passes, reading=1.0) for _ in range(40)])
    assert 0.7 < np.linalg.norm(read - read.mean(axis=0), axis=1).mean() < 1.3
