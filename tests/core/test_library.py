"""Core as a library: its public names, and a recipe in four lines."""

import subprocess
import sys

import numpy as np
import pytest

import core
from tests.conftest import ROOT


def test_every_public_name_is_there_and_nothing_is_loaded_before_it_is_asked_for() -> None:
    assert set(core.__all__) == set(core._HOME)
    for name in core.__all__:
        assert getattr(core, name) is not None
    with pytest.raises(AttributeError):
        core.nothing_of_the_kind  # noqa: B018
    loaded = "import sys, core; print('numpy' in sys.modules)"
    said = subprocess.run([sys.executable, "-c", loaded], cwd=ROOT, capture_output=True, text=True, check=True)
    assert said.stdout.strip() == "False"


def test_a_recipe_in_four_lines() -> None:
    tray = core.read_tray((ROOT / "demo/ranges/small-tray-24.csv").read_bytes())
    picture = core.read_picture((ROOT / "demo/references/tavi.jpg").read_bytes())
    seen = [core.read_spot(picture, core.Disc(0.5, 0.4, 0.01)).swatch.lab]
    (recipe,) = core.mix(core.lay_out(tray, core.Setup()), np.array(seen), ["light"])
    assert recipe.delta_e < 4
    plans = core.plan_figure(core.lay_out(tray, core.Setup()), [core.Spot("cheek", "cheek", "light", seen[0])], most=2)
    assert plans.of(plans.recommended).layers
