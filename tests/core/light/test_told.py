"""What is told of a lit sitter: families, targets, proposals, jobs, words, ways of seeing, and maps."""

import io
from dataclasses import replace
from xml.etree import ElementTree

import numpy as np
import pypdfium2
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import SRGB
from core.errors import InputError
from core.exchange.shading_map import Plate, write_map
from core.light.families import FAMILIES, FEWEST_SPOTS, MOST_SPOTS, families_of, proposed, targets
from core.light.jobs import JOBS, jobs
from core.light.lamps import NAMED, Lamp
from core.light.lines import HATCHES, arrow, hatched, line_study
from core.light.questions import proposals
from core.light.scene import MOST_SITTERS, Around, Key, Scene, Sitter, check_scene
from core.light.shade import Lit, light
from core.light.sheet import SheetMasks, drawn, lit_of, target_at, tiles
from core.light.ways import WAYS, get_way
from core.light.words import PRESETS, edge_of, lamp_words, where_from
from core.look.picture import Picture
from core.look.reading import Disc, check_region, read_spot
from core.look.study import Person, study
from core.look.views import Small
from tests.core.light.conftest import DEEP, MIDDLE, PALE, scene

SIZE = 256


@pytest.fixture(scope="module")
def lit() -> Lit:
    return light(scene(), 0, SIZE)


def test_families_lie_where_drawing_books_put_them(lit: Lit) -> None:
    """Common practice: light from the upper left leaves the right of the face in shade, the nose throws a shadow."""
    family, places = families_of(lit), lit.view.model.places
    columns = lit.view.pixel % SIZE
    grey = {name: lit.xyz[family == i, 1].mean() for i, name in enumerate(FAMILIES) if (family == i).any()}
    assert grey["highlight"] > grey["light"] > grey["half-tone"] > max(grey["core shadow"], grey["cast shadow"])
    assert columns[family == FAMILIES.index("light")].mean() < columns[family == FAMILIES.index("core shadow")].mean()
    cast = family == FAMILIES.index("cast shadow")
    assert cast.any()
    shaded = {places[number] for number in np.unique(lit.view.place[cast])}
    assert shaded & {"cheek", "under-eye", "upper lip", "philtrum"}


def test_with_the_lamp_on_the_other_side_light_and_shade_change_sides(lit: Lit) -> None:
    other = light(scene(key=Key(Lamp("daylight", 5500), 58, 40, 6), turn=-8.0), 0, SIZE)
    for name in ("light", "core shadow"):
        at = [float((one.view.pixel % SIZE)[families_of(one) == FAMILIES.index(name)].mean()) for one in (lit, other)]
        assert sum(at) == pytest.approx(SIZE, abs=SIZE * 0.04)


def test_targets_are_the_means_of_what_shows_and_marked_inside_it(lit: Lit) -> None:
    rows = targets(lit)
    assert 60 <= len(rows) <= 140
    assert sum(row.share for row in rows) <= 1.0
    by_pixel = dict(zip(lit.view.pixel.tolist(), range(len(lit.xyz)), strict=True))
    family = families_of(lit)
    for row in rows:
        at = by_pixel[int(row.y * SIZE) * SIZE + int(row.x * SIZE)]
        assert lit.view.model.places[lit.view.place[at]] == row.place
        assert FAMILIES[family[at]] == row.family


@pytest.mark.parametrize("skin", [PALE, MIDDLE, DEEP])
@pytest.mark.parametrize("shown", ["head", "bust", "hand-flat", "hand-bent"])
@pytest.mark.parametrize("preset", ["window", "overcast", "candle", "stage"])
def test_twelve_to_eighteen_different_spots_are_proposed(skin: object, shown: str, preset: str) -> None:
    lit = light(PRESETS[preset].on(scene(skin, shown=shown)), 0, SIZE)
    rows = proposed(lit, targets(lit))
    least = FEWEST_SPOTS if shown in ("head", "bust") else 7
    assert least <= len(rows) <= MOST_SPOTS
    assert len({(row.place, row.family, row.role) for row in rows}) == len(rows)
    assert {"light", "shadow"} <= {row.role for row in rows}
    lightness = [row.lab[0] for row in rows]
    assert lightness == sorted(lightness, reverse=True)


def test_what_is_the_same_light_is_no_second_spot() -> None:
    """In flat light hardly any two places differ, so no more are proposed than are needed."""
    flat = light(scene(key=Key(level=0.0), around=(Around("even", level=1.0),)), 0, SIZE)
    rows = proposed(flat, targets(flat))
    assert len(rows) <= FEWEST_SPOTS + 2


def test_jobs_share_out_all_that_shows_and_grow_with_the_steps(lit: Lit) -> None:
    for steps, names in (
        (2, {"base", "shade"}),
        (3, {"light", "base", "shade"}),
        (4, {"light", "base", "bridge", "shade"}),
    ):
        rows = jobs(lit, steps)
        assert names <= {row.name for row in rows}
        assert sum(row.share for row in rows) == pytest.approx(1, abs=0.03)
    rows = {row.name: row for row in jobs(lit)}
    assert set(rows) <= set(JOBS)
    assert (
        rows["light"].lab[0]
        > rows["base"].lab[0]
        > rows["bridge"].lab[0]
        > rows["shade"].lab[0]
        > rows["deepest"].lab[0]
    )
    hue = {name: np.degrees(np.arctan2(row.lab[2], row.lab[1])) for name, row in rows.items()}
    assert hue["blood"] < hue["base"] - 2
    with pytest.raises(InputError, match="steps"):
        jobs(lit, 6)


def test_a_sheet_holds_everybody_and_says_whose_skin_is_where() -> None:
    two = replace(scene(), sitters=(Sitter("Mairen", PALE, "head", 10), Sitter("Odelo", DEEP, "hand-flat")))
    pixels = drawn(two)
    owners, bright = SheetMasks(two).masks(400, 200)
    assert pixels.shape == (800, 1600, 3)
    assert set(np.unique(owners)) == {0, 1, 2}
    assert (owners[:, :200] != 2).all()
    assert (owners[:, 200:] != 1).all()
    assert bright[owners > 0].mean() > 0.2
    small = Small(pixels, SRGB)
    seen = study(small, None, [Person(), Person()], known=SheetMasks(two))
    shown = (pixels != 119).any(axis=2)
    assert (seen.owners > 0).mean() == pytest.approx(shown.mean(), abs=0.01)
    assert all(figure.found for figure in seen.figures)


def test_a_spot_aims_for_what_the_sheet_shows_there() -> None:
    both = replace(scene(MIDDLE), sitters=(Sitter("One", PALE), Sitter("Two", MIDDLE)))
    picture = Picture(drawn(both), SRGB, "")
    for number, said in enumerate(proposals(both)):
        for target, disc in zip(said.proposed, said.discs, strict=True):
            check_region(disc)
            there = target_at(both, number, disc)
            assert there is not None
            assert (there.place, there.family) == (target.place, target.family)
            read = read_spot(picture, disc).swatch.lab
            assert ciede2000(np.array(there.lab), np.array(read)) < 4
    assert target_at(both, 0, Disc(0.01, 0.01, 0.01)) is None


@pytest.mark.parametrize("count", range(1, MOST_SITTERS + 1))
def test_tiles_lie_beside_each_other(count: int) -> None:
    held = tiles(count)
    sheet = np.zeros((held[0].height, held[0].width), int)
    for tile in held:
        sheet[tile.top : tile.top + tile.side, tile.left : tile.left + tile.side] += 1
    assert len(held) == count
    assert sheet.max() == 1


@pytest.mark.parametrize(
    ("wrong", "code"),
    [
        ({"key": Key(level=0.0), "around": ()}, "no_light"),
        ({"key": Key(level=0.0), "around": (Around("bounce", level=1.0),)}, "no_light"),
        ({"sitters": (Sitter(),) * 7}, "too_many_sitters"),
        ({"sitters": ()}, "no_sitter"),
        ({"around": (Around(),) * 5}, "too_much_around"),
    ],
)
def test_an_impossible_scene_is_refused(wrong: dict, code: str) -> None:
    with pytest.raises(InputError) as caught:
        check_scene(replace(Scene(), **wrong))
    assert caught.value.code == code
    with pytest.raises(InputError):
        lit_of(replace(Scene(), **wrong))


@pytest.mark.parametrize(
    ("key", "words"),
    [
        (Key(azimuth=-50, height=40), "from the front left, high"),
        (Key(azimuth=90, height=0), "from the right, level"),
        (Key(azimuth=-140, height=20), "from behind left, a little high"),
        (Key(azimuth=0, height=-40), "from the front, from below"),
        (Key(azimuth=77, height=85), "from above"),
    ],
)
def test_a_direction_is_said_as_one_would(key: Key, words: str) -> None:
    assert where_from(key) == words


def test_lamps_and_edges_have_words() -> None:
    assert lamp_words(NAMED["candle"]) == "candle, 1900 K"
    assert lamp_words(Lamp("led", 3100)) == "warm LED, 3100 K"
    assert lamp_words(Lamp("glow", 3200, "red")) == "stage lamp through a red gel"
    assert [edge_of(Key(softness=angle)) for angle in (1, 6, 20)] == ["hard", "soft", "very soft"]


def test_every_way_of_seeing_shows_the_sitter_on_the_same_ground(lit: Lit) -> None:
    pictures = {way: WAYS[way].see(lit) for way in WAYS}
    ground = np.ones(SIZE * SIZE, bool)
    ground[lit.view.pixel] = False
    for pixels in pictures.values():
        assert (pixels.reshape(-1, 3)[ground] == 119).all()
    assert len(np.unique(pictures["values"].reshape(-1, 3)[~ground], axis=0)) <= 5
    assert len(np.unique(pictures["families"].reshape(-1, 3)[~ground], axis=0)) == len(np.unique(families_of(lit)))
    assert 20 <= len(np.unique(pictures["planes"].reshape(-1, 3)[~ground], axis=0)) <= 60
    with pytest.raises(InputError):
        get_way("upside down")


def test_hatches_tell_every_family_apart_without_colour() -> None:
    shapes = {
        (hatch.angles, hatch.apart, hatch.dots) for name, hatch in HATCHES.items() if name not in ("light", "highlight")
    }
    assert len(shapes) == 4
    square = np.zeros((200, 200), bool)
    square[50:150, 50:150] = True
    for name in ("half-tone", "core shadow", "cast shadow", "reflected light"):
        for line in hatched(square, HATCHES[name]):
            assert (line >= 0.24).all() and (line <= 0.76).all()


def test_the_arrow_comes_from_where_the_light_does() -> None:
    tail, tip = arrow(Key(azimuth=-60, height=40))
    assert tail[0] < tip[0] < 0.5
    assert tail[1] < tip[1] < 0.5
    front, aside = (np.linalg.norm(np.subtract(*arrow(Key(azimuth=angle, height=0)))) for angle in (0, 90))
    assert front < aside


def test_a_shading_map_is_at_its_true_size_on_paper_and_on_screen(lit: Lit) -> None:
    plate = Plate("Tavi", line_study(lit), arrow(Key()), "from the front left, high")
    pdf = write_map([plate, plate], 90, "Shading map")
    page = pypdfium2.PdfDocument(io.BytesIO(pdf))[0]
    assert page.get_width() / 72 * 25.4 == pytest.approx(2 * 90 + 3 * 6, abs=0.1)
    words = page.get_textpage().get_text_bounded()
    assert all(family in words for family in FAMILIES)
    inked = np.asarray(page.render(scale=1).to_pil().convert("L"))
    assert 0.02 < (inked < 128).mean() < 0.4
    svg = ElementTree.fromstring(write_map([plate], 90, "Shading map", "svg"))
    assert svg.get("width") == "102mm"
    kinds = {stroke.kind for stroke in plate.strokes}
    assert {"outline", "feature", "border", "half-tone", "core shadow"} <= kinds
    assert len(svg.findall(".//{http://www.w3.org/2000/svg}polyline")) >= len(plate.strokes)
