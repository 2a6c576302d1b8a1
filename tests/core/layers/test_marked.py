"""Places in maps: each laid evenly and by the rules, so that its recipe can be read off."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from scipy import ndimage
from skimage.measure import label

from core.colour.difference import ciede2000
from core.layers.doses import NONE, Dose
from core.layers.drawable import grown
from core.layers.fields import Maps
from core.layers.ground import Ground
from core.layers.natural import Spot
from core.layers.plan import Layer, Plan
from core.look.reading import Disc
from core.look.study import Study
from core.look.suggest import suggest
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.plan.edited import Edited
from core.plan.layered import plan_figure
from core.plan.mapped import fields_of, ground_of, head_scale, maps_of, owned_by, read_off, with_places
from core.plan.setup import LaidOutTray, Setup, lay_out
from tests.conftest import a_range
from tests.core.layers.test_fields import mm2_of_areas, seen

MOST = 2


@cache
def tray(method: str = "darks_first") -> LaidOutTray:
    sticks = a_range("long-pier-72").sticks[::4]
    return lay_out(Tray("some", sticks), Setup(method=method, max_passes=MOST))


@cache
def looked_at() -> tuple[Study, Ground, tuple[Spot, ...], tuple[Disc, ...]]:
    """A face of the demo, and the places that are found on it."""
    looked, _ = seen()
    ground = ground_of(looked, 0, head_scale(looked, 0))
    h, w = ground.mask.shape
    places = [spot for spot in suggest(looked, 0) if ground.mask[int(spot.y * h), int(spot.x * w)]]
    labs = [ground.lab[int(spot.y * h), int(spot.x * w)].tolist() for spot in places]
    spots = tuple(Spot(one.name, one.place, one.role, tuple(lab)) for one, lab in zip(places, labs, strict=True))
    return looked, ground, spots, tuple(Disc(spot.x, spot.y, spot.radius) for spot in places)


def places() -> list[tuple[Disc, Spot]]:
    return list(zip(looked_at()[3], looked_at()[2], strict=True))


@cache
def planned(method: str = "darks_first") -> Plan:
    return plan_figure(tray(method), looked_at()[2], most=4).of(4)


def mapped(plan: Plan, with_them: bool = True, method: str = "darks_first") -> tuple[Ground, Maps]:
    _, ground, spots, _ = looked_at()
    if with_them:
        ground = with_places(ground, places())
    *_, maps = maps_of(tray(method), plan, ground, 3, 30.0, [spot.role for spot in spots])[1]
    return ground, maps


def off_at_places(layers: tuple[Layer, ...], method: str = "darks_first") -> float:
    """ΔE00 in the mean, by the whole spectrum and pass by pass."""
    spots, plan = looked_at()[2], Plan(layers, planned(method).expected)
    gives = [np.asarray(colours_after(tray(method).kit, plan.passes_at(i)))[-1] for i in range(len(spots))]
    return float(ciede2000(np.array([spot.lab for spot in spots]), np.array(gives)).mean())


def test_a_place_is_laid_evenly_and_what_its_maps_have_there_comes_nearer_to_the_plan() -> None:
    plan, (ground, maps) = planned(), mapped(planned())
    discs = looked_at()[3]
    layers = read_off(plan.layers, maps, ground, places())
    assert ground.marked is not None
    for number in range(len(discs)):
        there = maps.levels[:, ground.marked.labels == number]
        assert (there == there[:, :1]).all()
        for layer, doses, level in zip(layers, maps.doses, there[:, 0], strict=True):
            assert layer.levels[number] == (doses[level - 1] if level else None) or not any(layer.levels)
    bare, plain = mapped(plan, with_them=False)
    by_chance = off_at_places(read_off(plan.layers, plain, bare, places()))
    as_planned, evenly = off_at_places(plan.layers), off_at_places(layers)
    assert evenly - as_planned < 0.6 * (by_chance - as_planned)


@pytest.mark.parametrize("head_mm", [130.0, 70.0])
def test_no_area_is_smaller_than_a_hand_lays_where_places_crowd_too(head_mm: float) -> None:
    looked, _, spots, _ = looked_at()
    bare = ground_of(looked, 0, head_scale(looked, 0, head_mm))
    ground = with_places(bare, places(), 30.0)
    *_, maps = maps_of(tray(), planned(), ground, 3, 30.0, [spot.role for spot in spots])[1]
    sizes = mm2_of_areas(maps, ground)
    assert len(sizes) > 20 and sizes.min() > 29
    *_, plain = maps_of(tray(), planned(), bare, 3, 30.0, [spot.role for spot in spots])[1]
    off = [
        off_at_places(read_off(planned().layers, each, on, places())) for each, on in ((maps, ground), (plain, bare))
    ]
    assert off[0] < off[1]


def test_a_place_grows_into_what_is_like_it_first_and_hangs_together() -> None:
    slow = np.where(np.arange(20) < 10, 1.0, 4.0) * np.ones((12, 1))
    slow[:, 4] = np.inf
    seed = np.zeros(slow.shape, dtype=bool)
    seed[5:7, 9:11] = True
    part = grown(seed, slow, 40)
    assert part[seed].all() and part.sum() == 40
    assert part[:, 5:10].sum() > 3 * part[:, 10:].sum() and not part[:, :5].any()
    assert label(part, connectivity=2).max() == 1
    assert grown(seed, slow, 1000).sum() == 12 * 15
    assert not grown(np.zeros_like(seed), slow, 40).any()


def test_what_lies_in_an_eye_and_a_spark_of_light_are_no_places_of_maps_and_stay_as_planned() -> None:
    """Beside an eye there is skin, which is not laid as an eye is for that; nor is a spark grown over skin."""
    _, ground, spots, discs = looked_at()
    h, w = ground.mask.shape
    rows, columns = np.nonzero(label(~ground.mask, connectivity=1) > 1)  # a hole in the skin
    beside = np.argwhere(ndimage.binary_dilation(ground.mask)[rows, columns])[0, 0]
    eye = Disc((columns[beside] + 0.5) / w, (rows[beside] + 0.5) / h, 0.01)
    spark = replace(discs[1], radius=0.5 * ground.px_per_mm / max(h, w))
    three = [
        (discs[0], spots[0]),
        (eye, replace(spots[1], place="catchlight")),
        (spark, replace(spots[1], role="highlight")),
    ]
    marked = with_places(ground, three).marked
    assert marked is not None and set(np.unique(marked.labels)) == {-1, 0}
    plan, maps = planned(), mapped(planned())[1]
    one = [replace(layer, levels=(layer.levels[0],) * 3) for layer in plan.layers]
    laid = read_off(one, maps, ground, three)
    assert [layer.levels[1:] for layer in laid] == [layer.levels[1:] for layer in one]
    assert [layer.levels[0] for layer in laid] != [layer.levels[0] for layer in one]


def test_maps_keep_the_rules_of_the_method_everywhere() -> None:
    for method in ("darks_first", "white_beneath"):
        plan, (ground, maps) = planned(method), mapped(planned(method), method=method)
        laid = maps.levels[:, ground.mask] > 0
        # Where a border is evened, a little of one area lies under another.
        assert (laid.sum(axis=0) > MOST).mean() < 0.03
        layers = read_off(plan.layers, maps, ground, places())
        named = tuple(replace(layer, id=f"layer-{i}") for i, layer in enumerate(layers))
        assert Edited(tray(method), looked_at()[2], named).keeps_the_rules()


def test_what_a_hand_has_laid_over_another_may_lie_there_elsewhere_too() -> None:
    """The plan itself breaks a rule; without that its layers keep apart."""
    _, ground, spots, _ = looked_at()
    pale, dark = (max(tray().box.sticks, key=lambda stick: sign * stick.lab[0]).code for sign in (1, -1))
    index = [tray().index([code])[0] for code in (dark, pale)]

    def over(both: bool) -> frozenset[int]:
        here: list[Dose | None] = [Dose("light", 1)] * len(spots)
        there: list[Dose | None] = here if both else [None] * len(spots)
        layers = (Layer(pale, Dose("light", 1), tuple(here), ""), Layer(dark, Dose("light", 1), tuple(there), ""))
        roles = [spot.role for spot in spots]
        return (
            fields_of(tray("lights_first"), replace(planned(), layers=layers[::-1]), ground, roles).layers[1].not_over
        )

    assert index[0] != index[1]
    assert over(both=False) == {0} and not over(both=True)


def test_a_layer_that_a_hand_has_set_stays_so_at_its_places() -> None:
    plan, (_, ground, spots, discs) = planned(), looked_at()
    first = replace(
        plan.layers[0], id="mine", levels=tuple(Dose("light", 1) if i % 2 else None for i in range(len(spots)))
    )
    changed = replace(plan, layers=(first, *plan.layers[1:]))
    marked = with_places(owned_by(ground, [(disc.x, disc.y) for disc in discs]), places())
    work = fields_of(tray(), changed, marked, [spot.role for spot in spots], ("mine",))
    assert work.layers[0].held == tuple(NONE if level is None else 1 for level in first.levels)
    *_, maps = work.run(3, 30.0)
    assert read_off(changed.layers, maps, marked, places())[0].levels == first.levels
