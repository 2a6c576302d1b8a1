"""Light on skin against geometry, energy and what drawing books say; no truth here is made by the formula it judges."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, xyz_to_lab
from core.light.directions import frames, towards
from core.light.falling import falling, visible
from core.light.families import FAMILIES, families_of
from core.light.lamps import Lamp
from core.light.picture import as_it_is
from core.light.raster import rasterise
from core.light.scene import Around, Key, Scene
from core.light.shade import Lit, light
from core.light.view import view
from core.optics.spectra import reflectance_to_lab
from core.skin.describe import Description, skins_at
from core.skin.reflectance import skin_reflectance
from tests.core.light.conftest import DEEP, MIDDLE, PALE, scene

SIZE = 192
PLAIN = ("forehead", "cheek", "cheekbone", "temple", "jaw", "chin", "neck")


def plain(lit: Lit) -> Floats:
    return np.isin(lit.view.place, [i for i, name in enumerate(lit.view.model.places) if name in PLAIN])


def mean_lab(lit: Lit, which: Floats) -> Floats:
    return xyz_to_lab(lit.xyz[which].mean(axis=0, dtype=float))


def by_family(lit: Lit, name: str) -> Floats:
    return mean_lab(lit, plain(lit) & (families_of(lit) == FAMILIES.index(name)))


def test_the_same_scene_gives_the_same_bytes(head: Scene) -> None:
    first = as_it_is(light(head, 0, SIZE)).tobytes()
    view.cache_clear()
    assert as_it_is(light(replace(head), 0, SIZE)).tobytes() == first


def test_light_from_the_right_is_light_from_the_left_in_a_mirror(head: Scene) -> None:
    other = replace(
        head, key=replace(head.key, azimuth=-head.key.azimuth), sitters=(replace(head.sitters[0], turn=-8.0),)
    )
    left, right = (as_it_is(light(one, 0, SIZE)).astype(int) for one in (head, other))
    off = np.abs(left - right[:, ::-1]).max(axis=2)
    assert np.percentile(off, 99) <= 3
    assert off.mean() < 0.3


def shadow_map(to_lamp: Floats, model_vertices: Floats, triangles: Floats, at: Floats, side: int = 1400) -> Floats:
    """Whether points (n, 3) see a lamp in that direction, by what lies nearest to it: another way than horizons."""
    one, other = (held[0] for held in frames(to_lamp[None]))
    across = np.stack([one, other, to_lamp])
    wide = 6.6

    def seen(points: Floats) -> Floats:
        told = points @ across.T
        return np.stack([told[:, 0] * side / wide + side / 2, side / 2 - told[:, 1] * side / wide, told[:, 2]], axis=1)

    shown = rasterise(seen(model_vertices).astype(float), triangles, side, side)
    nearest = np.full(side * side, -np.inf)
    corners = seen(model_vertices)[triangles[shown.triangle]][:, :, 2]
    weights = np.stack([1 - shown.u - shown.v, shown.u, shown.v], axis=1)
    nearest[shown.pixel] = (corners * weights).sum(axis=1)
    place = seen(at)
    pixel = place[:, 1].astype(int) * side + place[:, 0].astype(int)
    return nearest[pixel] <= place[:, 2] + 0.02


@pytest.mark.parametrize(
    ("azimuth", "height"), [(-58, 40), (-80, 10), (-30, 60), (0, 80), (-44, -12), (20, 30), (70, 45), (110, 30)]
)
@pytest.mark.parametrize("shown", ["head", "bust"])
def test_shadows_fall_where_something_stands_in_the_way(shown: str, azimuth: float, height: float) -> None:
    seen = view(shown, 8.0, 0.0, SIZE)
    hard = scene(key=Key(Lamp(), azimuth, height, 1.0), around=())
    falls = falling(hard, 0, seen)
    mine = visible(seen.to_pixels @ falls.above, np.radians(1.0)) > 0.5
    facing = seen.to_pixels @ falls.cosine > 0.05
    to_lamp = towards(azimuth, height) @ seen.rotation
    at = (seen.position + 0.012 * seen.normal) @ seen.rotation
    truth = shadow_map(to_lamp, seen.model.vertices, seen.model.triangles, at)
    assert (facing & (mine != truth)).sum() <= 0.025 * facing.sum()


def test_even_light_reaches_a_place_by_how_open_it_is() -> None:
    seen = view("head", 0.0, 0.0, SIZE)
    falls = falling(scene(around=(Around("even", level=0.5),)), 0, seen)
    assert falls.around[:, 0] == pytest.approx(0.5 * seen.model.openness[seen.vertex], abs=0.01)


@pytest.mark.parametrize("kind", ["sky", "side", "bounce"])
def test_a_card_that_faces_a_light_from_around_receives_its_level(kind: str) -> None:
    one = Around(kind, azimuth=40, height=20)
    rng = np.random.default_rng(2)
    ways = rng.normal(size=(200_000, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    received = 4 * (one.radiance(ways) * np.clip(ways @ one.axis, 0, None)).mean()
    assert received == pytest.approx(1.0, abs=0.02)


def test_no_place_gets_more_of_the_key_than_one_that_faces_it(head: Scene) -> None:
    lit = light(head, 0, SIZE)
    assert lit.key.max() <= 1.0 + 1e-5
    assert lit.key[lit.cosine < -0.2].max(initial=0) < 1e-6
    assert (lit.xyz >= -1e-4).all()


@pytest.mark.parametrize("skin", [PALE, MIDDLE, DEEP])
def test_a_place_that_faces_white_light_has_the_colour_that_was_described(skin: Description) -> None:
    """As an instrument measures it, which takes the surface's gloss along."""
    front = replace(scene(skin, turn=0.0, around=(), sheen=0.0, settled=1.0), key=Key(Lamp("daylight", 6504), 0, 0, 6))
    lit = light(front, 0, SIZE)
    forehead = lit.view.model.places.index("forehead")
    at = (lit.view.place == forehead) & (lit.cosine > 0.97)
    told = skins_at(skin, lit.view.model.places)
    body = mean_lab(lit, at)
    wanted = reflectance_to_lab(told.reflectance[forehead] * 0.9)
    assert ciede2000(body, wanted) < 2.5
    assert ciede2000(reflectance_to_lab(skin_reflectance(told.held[forehead])), skin.lab) < 2.5


def test_a_white_card_is_exposed_alike_by_every_lamp() -> None:
    for lamp in (Lamp("glow", 1900), Lamp("daylight", 9000), Lamp("glow", 3200, "red")):
        for azimuth in (-60, 150):
            lit = light(scene(PALE, key=Key(lamp, azimuth, 30)), 0, 96)
            assert 0.08 < np.percentile(lit.xyz[:, 1], 99.5) < 1.2
    brighter, darker = (light(scene(exposure=stop), 0, 96).xyz[:, 1].mean() for stop in (1.0, -1.0))
    assert brighter / darker == pytest.approx(4, rel=0.01)


# Common practice of the trade (drawing books), no published figures: warm light, cool shade, and the reverse.
@pytest.mark.parametrize("skin", [PALE, MIDDLE, DEEP])
def test_under_a_warm_key_shade_is_cooler_and_under_a_cool_key_warmer(skin: Description) -> None:
    warm = light(scene(skin, 2900, 9000, settled=1.0), 0, SIZE)
    cool = light(scene(skin, 7500, 2900, settled=1.0), 0, SIZE)
    neutral = light(scene(skin, settled=1.0), 0, SIZE)
    ratio = {}
    for name, lit in (("warm", warm), ("cool", cool), ("neutral", neutral)):
        bright, shade = by_family(lit, "light"), by_family(lit, "core shadow")
        assert shade[0] < 0.7 * bright[0]
        ratio[name] = (shade[2] / shade[0]) / (bright[2] / bright[0])
    assert ratio["warm"] < ratio["neutral"] < ratio["cool"]
    assert by_family(warm, "core shadow")[2] < 0.75 * by_family(warm, "light")[2]


def test_light_is_least_colourful_for_its_lightness_and_the_terminator_most() -> None:
    """Common practice: chroma per lightness rises from the light to the edge of the shadow."""
    lit = light(scene(PALE, settled=1.0, sheen=1.0), 0, SIZE)
    edge = plain(lit) & (np.abs(lit.cosine) < 0.1) & (lit.visible > 0.5)
    strength = [
        np.hypot(*lab[1:]) / lab[0]
        for lab in (by_family(lit, "light"), by_family(lit, "half-tone"), mean_lab(lit, edge))
    ]
    assert strength == sorted(strength)


def test_the_deeper_the_skin_the_more_its_highlights_stand_out() -> None:
    """Published: surface reflection of skin hardly depends on melanin (Jacques), its body does."""
    ratios = []
    for skin in (PALE, MIDDLE, DEEP):
        lit = light(scene(skin), 0, SIZE)
        bright = lit.xyz[:, 1] >= np.quantile(lit.xyz[:, 1], 0.997)
        ratios.append(lit.xyz[bright, 1].mean() / lit.xyz[families_of(lit) == FAMILIES.index("light"), 1].mean())
    assert ratios == sorted(ratios)
    assert ratios[0] < 2.0 < ratios[-1]


def test_red_light_creeps_over_the_edge_of_a_shadow() -> None:
    """Published: red light travels farthest under the skin (Jensen and others 2001)."""
    edges = {}
    for bleeding in (0.0, 1.0, 2.0):
        lit = light(scene(PALE, bleeding=bleeding, sheen=0.0, key=Key(Lamp("daylight", 5500), -58, 40, 1)), 0, SIZE)
        edge = plain(lit) & (np.abs(lit.cosine) < 0.06)
        edges[bleeding] = float(mean_lab(lit, edge)[1])
    assert edges[0.0] < edges[1.0] < edges[2.0]


def test_a_lamp_inside_the_picture_falls_off_and_lights_neighbours_from_its_own_side() -> None:
    two = replace(scene(turn=0.0), sitters=scene(turn=0.0).sitters * 2)
    far = light(two, 0, 96)
    near = replace(two, key=Key(Lamp(), 0, 0, 3, 1.0, 40.0))
    left, right = light(near, 0, 96), light(near, 1, 96)
    columns = left.view.pixel % 96
    for lit, towards_lamp in ((left, columns > 56), (right, columns < 40)):
        assert lit.key[towards_lamp].mean() > 1.5 * lit.key[~towards_lamp].mean()
    assert abs(far.key[columns > 48].mean() - far.key[columns < 48].mean()) > 0.05
    tip, ear = (near_of(light(replace(near, sitters=near.sitters[:1]), 0, 96), name) for name in ("nose tip", "ear"))
    assert tip > 1.3 * ear


def near_of(lit: Lit, place: str) -> float:
    """What arrives of the key at a place, over the cosine."""
    mine = (lit.view.place == lit.view.model.places.index(place)) & (lit.cosine > 0.2) & (lit.visible > 0.9)
    return float((lit.key[mine] / lit.cosine[mine]).mean())


def test_a_red_cloth_below_reddens_the_underside_most() -> None:
    red, grey = (
        light(scene(MIDDLE, around=(Around("bounce", level=0.4, cloth=cloth),)), 0, SIZE)
        for cloth in ("c02010", "808080")
    )
    more = xyz_to_lab(red.xyz)[:, 1] - xyz_to_lab(grey.xyz)[:, 1]
    places = red.view.model.places
    under, brow = (more[red.view.place == places.index(name)].mean() for name in ("under the chin", "forehead"))
    assert under > brow + 3


def test_skin_lights_skin_in_creases_redder_than_in_the_open() -> None:
    """Published: light between surfaces takes on their colour squared (radiosity, Goral and others 1984)."""
    lit = light(scene(PALE, sheen=0.0), 0, SIZE)
    lab = xyz_to_lab(lit.xyz)
    shade = plain(lit) & (lit.key < 0.02)
    open_ = lit.view.openness > np.quantile(lit.view.openness[shade], 0.7)
    strength = np.hypot(lab[:, 1], lab[:, 2]) / lab[:, 0]
    assert strength[shade & ~open_].mean() > strength[shade & open_].mean()
