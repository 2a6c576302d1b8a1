from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import hex_to_lab, hex_to_xyz, xyz_to_lab
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Stick
from core.optics.support import get_support
from core.optics.texture import LEVELS, TILE, surface, tooth_tile
from tests.conftest import SWATCHES, pencil

PASSES = (Pass("peach", "medium"), Pass("sienna", "light", 2))


def kit_of(medium: str, paper: str) -> Kit:
    sticks = tuple(Stick(code, code, medium, pencil(code, lab).hex) for code, lab in SWATCHES.items())
    return Kit(sticks, get_support(paper), medium)


@pytest.mark.parametrize(
    ("medium", "paper"), [("pencil", "toothy-white"), ("marker", "marker-card"), ("pastel", "tan")]
)
def test_a_grained_patch_has_as_a_whole_the_colour_of_its_recipe(medium: str, paper: str) -> None:
    kit = kit_of(medium, paper)
    hand = get_medium(medium).pressures[-1]
    passes = [replace(pass_, pressure=hand) for pass_ in PASSES]
    parts = surface(kit, passes)
    assert len(parts) == LEVELS
    mean = xyz_to_lab(np.mean([hex_to_xyz(part) for part in parts], axis=0))
    assert ciede2000(mean, colours_after(kit, passes)[-1]) < 0.6


def contrast(medium: str, paper: str, *passes: Pass) -> float:
    lightness = [hex_to_lab(part)[0] for part in surface(kit_of(medium, paper), passes)]
    return float(max(lightness) - min(lightness))


def test_rough_paper_shows_more_grain_than_smooth_and_burnishing_removes_it() -> None:
    rough, smooth = (contrast("pencil", paper, *PASSES) for paper in ("toothy-white", "smooth-white"))
    assert rough > 2 * smooth > 0
    burnished = contrast("pencil", "toothy-white", *PASSES, Pass("cream", "heavy", 1, "burnish"))
    assert burnished < rough / 3


def test_bare_paper_has_no_grain_of_its_own_and_ink_less_than_powder() -> None:
    assert contrast("pencil", "toothy-white") == 0
    assert contrast("marker", "toothy-white", Pass("sienna")) < contrast("pastel", "toothy-white", Pass("sienna"))


def test_the_tooth_is_seamless_even_and_always_the_same() -> None:
    tile = tooth_tile(get_support("medium-white"))
    assert tile.shape == (TILE, TILE)
    assert np.ptp(np.bincount(tile.ravel(), minlength=256)) <= 1
    assert tile.tobytes() == tooth_tile(get_support("medium-white")).tobytes()
    step = np.abs(np.diff(tile.astype(int), axis=0)).mean()
    seam = np.abs(tile[0].astype(int) - tile[-1]).mean()
    assert seam < 1.5 * step
