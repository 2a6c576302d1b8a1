"""Ramps of few sticks: what they promise is what the kit lays, they keep the hand's rules, and tie to the skin."""

from __future__ import annotations

import colour
import numpy as np
import pytest

from core.colour.spaces import hex_to_lab, lab_to_lch
from core.errors import InputError
from core.exchange.tray_csv import read_tray
from core.layers.doses import scale_of
from core.optics.kit import Kit
from core.optics.medium import PRESSURES, Pass
from core.optics.stack import colours_after
from core.optics.support import get_support
from core.plan.setup import usual_setup
from core.surround.ramp import SHADES, WHERE, PlannedRamp, Shade, planned
from core.surround.region import Tones
from tests.conftest import ROOT

RANGES = {"pencil": "long-pier-72", "marker": "ebb-24", "pastel": "quay-chalk-48", "oil_pastel": "keel-24"}


def kit_of(medium: str) -> Kit:
    sticks = read_tray((ROOT / f"demo/ranges/{RANGES[medium]}.csv").read_bytes()).sticks
    mine = tuple(stick for stick in sticks if stick.medium == medium)
    return Kit(mine, get_support(usual_setup(medium).paper), medium)


def wanted(*hexes: str) -> Tones:
    light, middle, shade = (tuple(hex_to_lab(code).tolist()) for code in hexes)
    return Tones(light, middle, shade, 0.2)


COAT = wanted("#9a5636", "#874a32", "#4c3834")


def laid(kit: Kit, found: PlannedRamp) -> np.ndarray:
    """What the kit makes of its layers, pass by pass."""
    labs = []
    for part in range(3):
        passes = [
            Pass(layer.stick, dose.pressure, dose.repeats, "flick" if dose.flicked else "lay")
            for layer in found.layers
            if (dose := layer.doses[part])
        ]
        labs.append(colours_after(kit, passes)[-1])
    return np.array(labs)


@pytest.mark.parametrize("medium", RANGES)
@pytest.mark.parametrize("shade", SHADES)
def test_a_ramp_is_what_the_kit_lays_and_nearer_than_one_stick_would_be(medium: str, shade: Shade) -> None:
    kit = kit_of(medium)
    try:
        found = planned(kit.boxes[medium], medium, COAT, shade)
    except InputError as error:
        assert error.code == "no_such_shade" and shade == "complement"
        return
    seen = laid(kit, found)
    assert colour.delta_E(seen, np.array(found.labs), method="CIE 2000").max() < 0.6
    off = colour.delta_E(seen, COAT.labs(), method="CIE 2000")
    assert off.mean() == pytest.approx(found.off, abs=0.3)
    alone = [
        np.tile(colours_after(kit, [Pass(stick.code, dose.pressure, dose.repeats)])[-1], (3, 1))
        for stick in kit.sticks
        for dose in scale_of(medium).doses
        if not dose.flicked
    ]
    flat = min(colour.delta_E(labs, COAT.labs(), method="CIE 2000").mean() for labs in alone)
    assert found.off < flat + 1.0, (found.off, flat)
    assert seen[2, 0] < seen[0, 0] and 2 <= len(found.layers) <= 5


def test_pressure_never_falls_heavy_comes_once_and_last() -> None:
    kit = kit_of("pencil")
    for shade in SHADES:
        for ramp in (COAT, wanted("#575563", "#4a495a", "#2c314b"), wanted("#e8d8b0", "#c8a870", "#7a5a48")):
            found = planned(kit.boxes["pencil"], "pencil", ramp, shade)
            for part in range(3):
                doses = [dose for layer in found.layers if (dose := layer.doses[part])]
                hard = [PRESSURES.index(dose.pressure) for dose in doses]
                assert hard == sorted(hard)
                assert all(dose.repeats == 1 for dose in doses if dose.pressure == "heavy")
            assert all(tuple(dose is not None for dose in layer.doses) in WHERE for layer in found.layers)


def test_the_complement_is_one_and_a_darker_one_is_of_its_own_hue() -> None:
    kit = kit_of("pencil")
    by = {stick.code: lab_to_lch(stick.lab) for stick in kit.sticks}
    for shade in SHADES:
        found = planned(kit.boxes["pencil"], "pencil", COAT, shade)
        base, second = (by[layer.stick] for layer in found.layers[:2])
        turned = abs((second[2] - base[2] + 180) % 360 - 180)
        if shade == "complement":
            assert turned >= 120 and second[1] >= 10
        else:
            assert second[0] < base[0] and (turned <= 70 or second[1] < 10)


def test_sticks_of_the_skin_are_preferred_and_banned_ones_left_out() -> None:
    kit = kit_of("pencil")
    box = kit.boxes["pencil"]
    free = planned(box, "pencil", COAT, "darker")
    used = {layer.stick for layer in free.layers}
    without = planned(box, "pencil", COAT, "darker", banned=used)
    assert used.isdisjoint({layer.stick for layer in without.layers}) and without.off > free.off - 0.5
    tied = planned(box, "pencil", COAT, "darker", skin={layer.stick for layer in without.layers})
    assert tied.shared >= 1 >= free.shared
    few = Kit(kit.sticks[:1], kit.support, "pencil").boxes["pencil"]
    with pytest.raises(InputError, match="No two of these shade each other so"):
        planned(few, "pencil", COAT, "complement")
