"""Areas of a face that have names: which skin is in them, how they are laid, and how they are told."""

import itertools
from dataclasses import replace

import numpy as np

from core.colour.difference import ciede2000
from core.layers.doses import Dose
from core.layers.even import evenly, most_of
from core.layers.fields import Fields, restored
from core.layers.pixels import distances
from core.layers.plan import Expected, Layer, Plan
from core.plan.mapped import ground_of, head_scale, maps_of
from core.plan.named import Named, NamedAreas, named_areas
from tests.core.layers.test_fields import fields, mm2_of_areas, ramp, seen, tray


def test_named_areas_are_laid_evenly_and_hold_all_the_skin() -> None:
    looked, plan = seen()
    ground = ground_of(looked, 0, head_scale(looked, 0))
    found = named_areas(looked, 0, ground)
    words = [str(area) for area in found.areas]
    assert (found.labels >= 0).tolist() == ground.mask.tolist()
    assert len(set(words)) == len(words) == found.labels.max() + 1
    assert "the blood places in the lights" in words and "the deepest shadows" in {area.band for area in found.areas}

    def part(*called: str) -> np.ndarray:
        return np.isin(found.labels, [number for number, area in enumerate(found.areas) if area.band in called])

    assert ground.lights[part("the lightest skin")].all()
    lightness = [ground.lab[part(called), 0].mean() for called in ("the lights", "the half-tones", "the shadows")]
    assert lightness[0] > lightness[1] + 5 > lightness[2] + 10
    held = maps_of(tray(), plan, ground, 2, 60)[0]
    *_, maps = evenly(held, found.labels, 2, 1.0)
    for level, doses in zip(maps.levels, maps.doses, strict=True):
        # But for what is too small.
        its = [level[found.labels == area] for area in range(len(words))]
        assert sum(np.bincount(one).max() for one in its) > 0.98 * np.count_nonzero(ground.mask)
        assert level.max() == len(doses) <= 2
    off, bare = (ciede2000(ground.lab[ground.mask], held.after(maps, upto)).mean() for upto in (None, 0))
    assert off < bare / 3


def test_what_is_smaller_than_a_hand_lays_goes_to_what_lies_around_it() -> None:
    looked, plan = seen()
    ground = ground_of(looked, 0, head_scale(looked, 0))
    areas, held = named_areas(looked, 0, ground), maps_of(tray(), plan, ground, 2, 60)[0]
    (*_, fine), (*_, coarse) = (evenly(held, areas.labels, 2, least_mm2) for least_mm2 in (1.0, 30.0))

    assert mm2_of_areas(coarse, ground).min() > 29 and np.median(mm2_of_areas(fine, ground)) < 30
    for maps in (coarse, *list(evenly(held, areas.labels, 2, 250.0))[-1:]):
        for level, doses in zip(maps.levels, maps.doses, strict=True):
            # No dose is left of which words tell nothing.
            told = areas.told(most_of(level[ground.mask], areas.labels[ground.mask]))
            assert {dose for _, dose in told} == set(range(1, len(doses) + 1))
    assert (fine.levels == coarse.levels)[:, ground.mask].mean() > 0.9
    off = [float(ciede2000(ground.lab[ground.mask], held.after(maps)).mean()) for maps in (fine, coarse)]
    assert off[0] < off[1] < 1.3 * off[0]


def test_bands_under_light_of_two_colours_have_a_warmer_and_a_cooler_part() -> None:
    looked, _ = seen()
    ground = ground_of(looked, 0, head_scale(looked, 0))
    plain = named_areas(looked, 0, ground)
    left = np.arange(ground.mask.shape[1]) < np.median(np.nonzero(ground.mask)[1])
    lab = ground.lab.copy()
    lab[..., 2] += np.where(left, 14.0, -14.0)
    parted = named_areas(looked, 0, replace(ground, lab=lab))
    warm, cool = (
        np.isin(parted.labels, [number for number, area in enumerate(parted.areas) if area.part == part])
        for part in ("warmer", "cooler")
    )
    left = np.broadcast_to(left, warm.shape)
    assert left[warm].mean() > 0.95 and left[cool].mean() < 0.05
    assert (warm | cool).sum() > ground.mask.sum() / 2

    def nearest(areas: NamedAreas) -> float:
        wanted, owner = lab[ground.mask], areas.labels[ground.mask]
        means = np.array([wanted[owner == number].mean(axis=0) for number in range(len(areas.areas))])
        return float(ciede2000(wanted, means[owner]).mean())

    assert nearest(parted) < 0.6 * nearest(plain)


def test_where_a_layer_lies_is_told_in_as_few_words_as_will_do() -> None:
    bands = ("the lights", "the middle tones", "the half-tones", "the shadows")
    areas = tuple(Named(band, part) for band in bands for part in ("the blood places", "warmer", "cooler"))
    found = NamedAreas(np.arange(len(areas))[None], areas)

    def told(*doses: int) -> list[tuple[str, int]]:
        return list(found.told(np.array(doses)))

    assert told(*[1] * 12) == [("the lights to the shadows", 1)]
    assert told(1, 1, 1, 2, 1, 1, 0, 1, 1, 0, 0, 3) == [
        ("the lights, the middle tones", 1), ("the half-tones, but not the blood places", 1),
        ("the blood places in the middle tones", 2), ("the cooler part of the shadows", 3),
    ]  # fmt: skip
    assert told(2, 0, 0, 0, 0, 0, 2, 1, 2, 0, 0, 0) == [
        ("the warmer part of the half-tones", 1), ("the cooler part of the half-tones", 2),
        ("the blood places in the lights, the half-tones", 2),
    ]  # fmt: skip
    assert told(*[0] * 12) == []
    assert str(areas[0]) == "the blood places in the lights"


def test_doses_that_serve_areas_best_are_found() -> None:
    """Against every dose of both layers at every area, where any number of doses may be used."""
    ground = ramp()
    plan = Plan(
        tuple(Layer(code, Dose("heavy", 1), (Dose("heavy", 1),), "") for code in ("L27", "L05")), Expected(0, 0, 0)
    )
    held = maps_of(tray(), plan, ground, 3, 30)[0]
    labels = np.where(ground.mask, np.arange(ground.mask.shape[1])[None] * 6 // ground.mask.shape[1], -1)
    *_, found = evenly(held, labels, 9)
    owner = labels[ground.mask]
    every = np.array(list(itertools.product(held.pixels.allowed(0), held.pixels.allowed(1))))
    colours = held.pixels.seen(held.pixels.amounts_of(every)).astype(np.float32)
    wanted = ground.lab[ground.mask]
    costs = np.array([distances(np.broadcast_to(colour, wanted.shape), wanted) for colour in colours])
    best = sum(float(costs[:, owner == area].sum(axis=1).min()) for area in range(6)) / len(wanted)
    assert float(distances(held.after(found).astype(np.float32), wanted).mean()) < 1.1 * best


def test_no_area_is_served_better_by_another_dose_once_the_edges_are_faded() -> None:
    """Each change of one area is laid whole, with the same hand."""
    held = fields(ramp(60, 100))
    labels = np.where(held.ground.mask, np.arange(100)[None] * 7 // 100, -1)
    *_, maps = evenly(held, labels, 2)
    wanted, scales = held.ground.lab[held.ground.mask], [layer.scale for layer in held.layers]

    def off(levels: np.ndarray) -> float:
        laid = restored(held.ground, scales, levels, maps.doses)
        return float(distances(held.after(laid).astype(np.float32), wanted).mean())

    found, others = off(maps.levels), []
    for layer, area in itertools.product(range(len(maps.levels)), range(7)):
        for level in {0, 1, 2} - set(np.unique(maps.levels[layer][labels == area])):
            changed = maps.levels.copy()
            changed[layer][labels == area] = level
            others.append(off(changed))
    assert len(others) > 30
    assert min(others) > 0.98 * found


def test_nothing_comes_after_heavy_pressure_in_an_area_where_that_is_for_the_last() -> None:
    ground = ramp(60, 100)
    held = fields(replace(ground, lab=ground.lab - np.array([22, 0, 0], dtype=np.float32)))
    last = len(held.layers) - 1
    layers = [replace(layer, hardest=2 if number else 1) for number, layer in enumerate(held.layers)]
    labels = np.where(held.ground.mask, np.arange(100)[None] * 7 // 100, -1)
    *_, maps = evenly(Fields(layers, held.ground), labels)
    heavy = 0
    for area in range(7):
        here = [int(level[labels == area][0]) for level in maps.levels]
        hard = [bool(level) and maps.doses[layer][level - 1].pressure == "heavy" for layer, level in enumerate(here)]
        heavy += sum(hard)
        assert not any(hard[layer] and any(here[layer + 1 :]) for layer in range(last))
    assert heavy
