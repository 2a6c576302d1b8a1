"""Maps of layers over a picture's skin: what can be drawn, and what it gives."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from scipy import ndimage
from skimage.measure import label

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB, hex_to_lab, xyz_to_lab
from core.errors import InputError
from core.exchange.json_files import read_spots
from core.layers.doses import Dose, scale_of
from core.layers.drawable import in_flecks
from core.layers.even import evenly
from core.layers.fields import Fields, Maps, restored
from core.layers.ground import Ground
from core.layers.guide import Guide
from core.layers.natural import Spot
from core.layers.pixels import FieldLayer
from core.layers.plan import Plan
from core.look.picture import read_picture
from core.look.study import WORKING_SIZE, Person, Study, study
from core.look.suggest import suggest
from core.look.views import Small, as_it_is, light_of, scaled
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.plan.layered import plan_figure
from core.plan.mapped import (
    after_picture,
    enlarged_to,
    free_from,
    ground_of,
    head_scale,
    map_picture,
    maps_of,
    owned_by,
    skin_colours,
)
from core.plan.setup import LaidOutTray, Setup, lay_out
from core.plan.sketched import sketched
from core.plan.walked import ends_of
from tests.conftest import ROOT, a_range
from tests.core.layers.test_plans import FACE

LEAST_MM2 = 30.0


def ramp(height: int = 90, width: int = 120) -> Ground:
    """Skin from light to shade, with an edge across the middle and a border of what is no skin."""
    lightness = np.linspace(80, 30, width)[None] - 12.0 * (np.arange(height)[:, None] > height / 2)
    lab = np.stack([lightness, 12 + 0 * lightness, 10 + 0.12 * lightness], axis=2).astype(np.float32)
    mask = np.zeros((height, width), dtype=bool)
    mask[6:-6, 6:-6] = True
    return Ground(lab, mask, 2.0, mask & (lab[..., 0] > 60))


@cache
def tray() -> LaidOutTray:
    codes = ("L05", "L27", "L44", "L52")
    return lay_out(Tray("few", tuple(s for s in a_range("long-pier-72").sticks if s.code in codes)), Setup())


def mm2_of_areas(maps: Maps, ground: Ground) -> np.ndarray:
    """How large every area of the maps is on the sheet."""
    parts = [label(level + 1, background=0, connectivity=1) for level in np.where(ground.mask, maps.levels, -1)]
    return np.concatenate([np.bincount(part[part > 0])[1:] for part in parts]) / ground.px_per_mm**2


def fields(ground: Ground, **change: object) -> Fields:
    box, scale = tray().box.coarse(), scale_of("pencil")
    order = [next(i for i, s in enumerate(box.sticks) if s.code == code) for code in ("L52", "L44", "L27", "L05")]
    layers = [FieldLayer(box, scale, stick, 1, **change) for stick in order]  # type: ignore[arg-type]  # one flag
    return Fields(layers, ground)


@cache
def mapped() -> tuple[Fields, Maps]:
    held = fields(ramp())
    *_, maps = held.run(3, LEAST_MM2)
    return held, maps


def test_maps_come_near_what_they_cover_in_three_doses() -> None:
    held, maps = mapped()
    wanted = held.ground.lab[held.ground.mask]
    best = ciede2000(wanted, held.freely()).mean()
    drawn = ciede2000(wanted, held.after(maps)).mean()
    assert all(len(doses) == 3 for doses in maps.doses)
    assert drawn < 4
    assert best - 0.05 < drawn < best + 2


def test_no_area_is_smaller_than_a_hand_lays_and_nothing_lies_outside_the_skin() -> None:
    held, maps = mapped()
    assert mm2_of_areas(maps, held.ground).min() >= LEAST_MM2
    assert not maps.levels[:, ~held.ground.mask].any()
    assert not maps.amounts[:, :, ~held.ground.mask].any()
    assert 0 <= maps.amounts.min() <= maps.amounts.max() <= 1


def test_what_is_foreseen_is_what_the_exact_model_lays() -> None:
    held, maps = mapped()
    box = tray().box
    flat = np.flatnonzero(held.ground.mask.ravel())
    inside = flat[np.linspace(0, len(flat) - 1, 400).astype(int)].tolist()
    seen = dict(zip(flat.tolist(), held.after(maps), strict=True))
    compared = 0
    for pixel in inside:
        y, x = divmod(pixel, held.ground.mask.shape[1])
        level = maps.levels[:, y, x]
        near = maps.levels[:, max(0, y - 6) : y + 7, max(0, x - 6) : x + 7]
        if (near != level[:, None, None]).any() or not held.ground.mask[y - 6 : y + 7, x - 6 : x + 7].all():
            continue
        passes = [
            Pass(box.sticks[layer.stick].code, dose.pressure, dose.repeats)
            for layer, doses, held_level in zip(held.layers, maps.doses, level, strict=True)
            if held_level and (dose := doses[held_level - 1])
        ]
        compared += 1
        assert ciede2000(seen[pixel], colours_after(box, passes)[-1]) < 1.5
    assert compared > 3


def test_a_layer_more_is_a_stage_more() -> None:
    held, maps = mapped()
    bare, first, last = (held.after(maps, n) for n in (0, 1, 4))
    assert np.ptp(bare[:, 0]) < 0.1
    assert (first[:, 0] <= bare[:, 0] + 0.1).all()
    assert np.allclose(last, held.after(maps))


def test_darks_stay_out_of_the_lights_and_a_base_lies_everywhere() -> None:
    ground = ramp()
    kept_out = fields(ground, out_of_lights=35.0)
    *_, maps = kept_out.run(3, LEAST_MM2)
    bright = ground.lit & (ground.lab[..., 0] > 24 + 35 + 4)
    inner = ndimage.binary_erosion(bright, iterations=4)
    dark = next(i for i, layer in enumerate(kept_out.layers) if layer.box.sticks[layer.stick].code == "L52")
    assert not maps.levels[dark][inner].any()
    base = fields(ground, everywhere=True)
    *_, maps = base.run(2, LEAST_MM2)
    assert (maps.levels[:, ground.mask] > 0).all()


def test_lights_are_the_lightest_of_what_is_lit_and_half_tones_are_none() -> None:
    ground = ramp()
    lit, lights = ground.lab[ground.lit, 0], ground.lab[ground.lights, 0]
    assert 0.35 < len(lights) / len(lit) < 0.45 and lights.min() >= lit[lit < lights.min()].max()
    assert not (ground.lights & ~ground.lit).any()
    assert not replace(ground, lit=np.zeros_like(ground.lit)).lights.any()


def test_lights_that_are_kept_free_stay_so_however_small_they_are() -> None:
    spots = [
        replace(spot, lab=(lightness, 12.0, 18.0))
        for spot, lightness in zip(FACE, (77, 73, 60, 48, 36, 25), strict=True)
    ]
    assert free_from(spots, False) > 100
    assert free_from(spots, True) == 75
    ground = ramp()
    spot = np.zeros_like(ground.mask)
    spot[30:36, 40:46] = True  # 9 mm² of it in the middle of the lights
    ground = replace(ground, free=ground.lit & ((ground.lab[..., 0] >= 76) | spot))
    held = fields(ground, everywhere=True)
    breath = replace(held.layers[-1], breathes=True)
    *_, maps = Fields((*held.layers[:-1], breath), ground).run(2, LEAST_MM2)
    assert not maps.levels[:-1, ground.free].any()
    lightest = {maps.doses[-1][number - 1] for number in np.unique(maps.levels[-1][ground.free]) if number}
    assert lightest <= {Dose("light", 1)}
    # A base lies everywhere else.
    assert (maps.levels[:-1, ground.mask & ~ground.free] > 0).all()


def test_a_layer_set_by_hand_stays_and_the_others_are_made_for_it() -> None:
    held, maps = mapped()
    ground = owned_by(held.ground, ((0.15, 0.25), (0.4, 0.25), (0.8, 0.75)))
    assert ground.owner is not None
    # Each pixel belongs to what is near and alike: the first place to the lightest, the last to the darkest skin.
    assert [ground.owner[20, 10], ground.owner[80, 110]] == [0, 2]
    # A dark stick where the ramp is light, and none where it is dark.
    by_hand = (4, 0, 0)
    layers = [replace(held.layers[0], held=by_hand), *held.layers[1:]]
    *_, made = Fields(layers, ground).run(3, LEAST_MM2)
    level = made.levels[0]
    assert (level[ground.mask] > 0).tolist() == (ground.owner[ground.mask] == 0).tolist()
    assert made.doses[0] == (scale_of("pencil").doses[3],)

    def off(levels: np.ndarray, doses: tuple[tuple[Dose, ...], ...]) -> float:
        laid = restored(ground, [layer.scale for layer in layers], levels, doses)
        return float(ciede2000(ground.lab[ground.mask], held.after(laid)).mean())

    unchanged = np.concatenate([level[None], maps.levels[1:]])
    assert off(made.levels, made.doses) < off(unchanged, (made.doses[0], *maps.doses[1:])) - 1

    # Over areas that are given it lies where it was set for most of each.
    labels = np.where(ground.mask, np.arange(ground.mask.shape[1]) * 6 // ground.mask.shape[1], -1)
    *_, even = evenly(Fields(layers, ground), labels)
    for area in range(6):
        mostly = (ground.owner[labels == area] == 0).mean() > 0.5
        assert (even.levels[0][labels == area] > 0).all() == mostly


def test_the_fade_follows_the_picture_and_spares_its_edges() -> None:
    ground = ramp()
    step = np.zeros((1, *ground.mask.shape), dtype=np.float32)
    edge = ground.mask.shape[0] // 2
    step[0, edge + 1 :] = 1.0
    step[0] *= ground.mask
    along = Guide(ground.lab, ground.mask, 6.0).filtered(step)[0]
    flat = Guide(np.full_like(ground.lab, 50.0), ground.mask, 6.0).filtered(step)[0]
    column = 60

    def rise(field: np.ndarray) -> float:
        return float(field[edge + 2, column] - field[edge - 1, column])

    assert rise(along) > 0.75
    assert rise(along) > 1.3 * rise(flat)
    assert not along[~ground.mask].any()


@cache
def seen() -> tuple[Study, Plan]:
    picture = read_picture((ROOT / "demo/references/tavi.jpg").read_bytes())
    spots = read_spots((ROOT / "demo/references/tavi.json").read_bytes())
    assert spots
    return study(scaled(picture, WORKING_SIZE), None, [Person()]), plan_figure(tray(), FACE, most=2).of(2)


def test_a_plan_lies_over_the_skin_of_its_picture_and_at_another_size() -> None:
    looked, plan = seen()
    ground = ground_of(looked, 0, head_scale(looked, 0))
    assert 1 < ground.px_per_mm < 4
    held, steps = maps_of(tray(), plan, ground, 2, 60)
    *_, maps = steps
    shown = map_picture(ground, maps, 0)
    assert shown.shape == (*ground.mask.shape, 3)
    assert shown[maps.levels[0] == 2].mean() < shown[(maps.levels[0] == 0) & ground.mask].mean() - 40
    base = as_it_is(looked.small)
    after = after_picture(base, held, maps, 2)
    assert np.array_equal(after[~ground.mask], base[~ground.mask])
    assert not np.array_equal(after[ground.mask], base[ground.mask])
    picture = read_picture((ROOT / "demo/references/tavi.jpg").read_bytes())
    larger, more = enlarged_to(scaled(picture, 720), looked, 0, held, maps)
    small, large = held.after(maps).mean(axis=0), larger.after(more).mean(axis=0)
    assert larger.ground.mask.sum() > 2 * held.ground.mask.sum()
    assert np.abs(small - large).max() < 1
    assert xyz_to_lab(light_of(looked.small)).shape == ground.lab.shape
    # Before the first layer there is nothing to enlarge but the paper.
    none = Fields([], held.ground), Maps(maps.levels[:0], (), maps.amounts[:0])
    bare, nothing = enlarged_to(scaled(picture, 720), looked, 0, *none)
    assert nothing.amounts.shape == (0, *more.amounts.shape[1:])
    assert bare.ground.mask.sum() == larger.ground.mask.sum()


def test_a_face_told_from_its_places_comes_nearer_to_its_maps_than_the_reference_does() -> None:
    looked, _ = seen()
    found = suggest(looked, 0)
    ground = ground_of(looked, 0, head_scale(looked, 0))
    h, w = ground.mask.shape
    where = np.array([(spot.x, spot.y) for spot in found])
    wanted = ground.lab[(where[:, 1] * h).astype(int), (where[:, 0] * w).astype(int)].astype(float)
    places = [Spot(spot.name, spot.place, spot.role, tuple(lab)) for spot, lab in zip(found, wanted, strict=True)]
    plan = plan_figure(tray(), places, most=2).of(2)
    held, steps = maps_of(tray(), plan, ground, 2, 60)
    *_, maps = steps
    (hexes,) = ends_of(tray(), places, [plan.layers])
    gives = np.array([hex_to_lab(code) for code in hexes])
    small = sketched(looked, 0, where, wanted, gives, 240)
    assert max(small.shape) == 240
    spread = sketched(looked, 0, where, wanted, gives, WORKING_SIZE)
    # Of the skin alone, as it is cut out there: the maps are laid by other means, pixel by pixel.
    by_maps = after_picture(as_it_is(looked.small), held, maps, 2)
    rows, columns = np.nonzero(ground.mask)
    around = int(0.04 * max(np.ptp(rows), np.ptp(columns)))
    top, left = max(0, rows.min() - around), max(0, columns.min() - around)
    drawn = by_maps[top:, left:][: spread.shape[0], : spread.shape[1]]
    skin = ground.mask[top:, left:][: spread.shape[0], : spread.shape[1]]
    as_lab = [xyz_to_lab(light_of(Small(pixels, SRGB)))[skin] for pixels in (drawn, spread)]
    apart = ciede2000(*as_lab).mean()
    assert apart < 0.6 * ciede2000(as_lab[0], ground.lab[top:, left:][: skin.shape[0], : skin.shape[1]][skin]).mean()
    with pytest.raises(InputError, match="No spot"):
        sketched(looked, 0, where[:0], wanted[:0], gives[:0], 240)


def test_a_layer_in_many_small_parts_is_in_flecks() -> None:
    one = np.zeros((120, 120), dtype=bool)
    one[20:100, 20:100] = True
    flecks = np.zeros_like(one)
    for row in range(4, 116, 24):
        for column in range(4, 116, 24):
            flecks[row : row + 8, column : column + 8] = True
    assert not in_flecks(one, 2.0)
    assert in_flecks(flecks, 2.0)
    # As large as hands on the sheet, they are areas.
    assert not in_flecks(flecks, 0.5)


def test_the_rest_of_the_skin_is_regarded_where_layers_are_few() -> None:
    looked, _ = seen()
    ground = ground_of(looked, 0, head_scale(looked, 0))
    skin = skin_colours(ground)
    assert len(skin) == 12
    labs = ground.lab[ground.mask]
    nearest = np.min([np.linalg.norm(labs - np.array(colour), axis=1) for colour in skin], axis=0)
    assert nearest.mean() < 5
    laid_out = lay_out(a_range("small-tray-24"), Setup())
    plain, wider = (plan_figure(laid_out, FACE, most=3, skin=some).of(3) for some in ((), skin))
    assert wider.expected.by_hand <= 1.06 * plain.expected.by_hand
    off = [ciede2000(labs, maps_of(laid_out, plan, ground, 3, 60)[0].freely()).mean() for plan in (plain, wider)]
    assert off[1] <= off[0] + 0.05


def test_what_cannot_be_mapped_is_said() -> None:
    looked, plan = seen()
    ground = ground_of(looked, 0, head_scale(looked, 0))
    for doses, least, code in ((0, 30, "bad_doses"), (99, 30, "bad_doses"), (3, 0, "bad_area"), (3, 9999, "bad_area")):
        with pytest.raises(InputError) as caught:
            maps_of(tray(), plan, ground, doses, least)
        assert caught.value.code == code
    bare = read_picture((ROOT / "demo/references/tavi.jpg").read_bytes())
    nobody = study(scaled(bare, 64), None, [Person(), Person()])
    with pytest.raises(InputError) as caught:
        ground_of(nobody, 1, 1.0)
    assert caught.value.code == "no_skin"
