"""Skin, families, light and suggestions, on heads whose truth is known and on an open test photograph."""

import json
from functools import cache

import numpy as np
import pytest
from PIL import Image
from scipy import ndimage
from skimage import data

from core.colour.spaces import SRGB
from core.errors import InputError
from core.eyes.runtime import EyesError, Model, run
from core.look.balance import Balance
from core.look.faces import Face, find_faces
from core.look.families import light_family
from core.look.naming import name_of_place, outline_of
from core.look.picture import Picture, read_picture
from core.look.reading import Disc, Outline, check_region, middle_of, read_spot
from core.look.roles import PLACES, ROLES
from core.look.study import WORKING_SIZE, Person, Stroke, Study, study
from core.look.suggest import FEWEST, MOST, Suggestion, suggest
from core.look.views import Small, scaled
from tests.conftest import ROOT
from tests.crew import FACTS, crew_skin, head

HEADS = sorted(FACTS)


@cache
def seen(name: str) -> Study:
    return study(scaled(head(name).picture, WORKING_SIZE), None, [Person()])


@cache
def proposed(name: str) -> tuple[Suggestion, ...]:
    return suggest(seen(name), 0)


def pixels(rgb: np.ndarray) -> Small:
    return scaled(Picture(rgb, SRGB, ""), WORKING_SIZE)


def whole(shown: Study) -> np.ndarray:
    """The skin with what lies in it: eyes, brows, lips."""
    return np.asarray(ndimage.binary_fill_holes(shown.skin))


@pytest.mark.parametrize("name", HEADS)
def test_skin_is_found_whatever_the_complexion_and_the_light(name: str) -> None:
    truth, found = head(name).skin, whole(seen(name))
    assert (found & truth).sum() >= 0.90 * truth.sum()
    assert (found & ~truth).sum() <= 0.05 * (~truth).sum()


@pytest.mark.parametrize("name", HEADS)
def test_families_agree_with_the_light_that_was_drawn(name: str) -> None:
    truth, found = head(name), seen(name)
    both = found.skin & truth.skin
    assert ((found.light == truth.lit) & both).sum() >= 0.90 * both.sum()


@pytest.mark.parametrize("name", HEADS)
def test_the_light_is_seen_to_come_from_where_it_does(name: str) -> None:
    found = seen(name).light_from_deg
    assert found is not None
    off = (found - head(name).facts["from_deg"] + 180) % 360 - 180
    assert abs(off) < 35


@pytest.mark.parametrize("name", HEADS)
def test_suggested_spots_span_the_skin_s_values(name: str) -> None:
    spots, facts = proposed(name), head(name).facts
    assert FEWEST <= len(spots) <= MOST
    values = [read_spot(head(name).picture, Disc(s.x, s.y, s.radius)).swatch.value for s in spots]
    low, high = facts["darkest"], facts["lightest"]
    assert min(max(values), high) - max(min(values), low) >= 0.85 * (high - low)


@pytest.mark.parametrize("name", HEADS)
def test_suggested_discs_lie_on_skin_and_apart(name: str) -> None:
    truth = head(name).skin
    discs = [s for s in proposed(name) if s.outline is None and s.place != "iris"]
    h, w = truth.shape
    on_skin = [truth[int(s.y * h), int(s.x * w)] for s in discs]
    assert sum(on_skin) >= len(discs) - 2  # in deep shade a cloth of the skin's own colour cannot be told from it
    for i, one in enumerate(discs):
        for other in discs[:i]:
            apart = np.hypot((one.x - other.x) * w, (one.y - other.y) * h)
            assert apart > (one.radius + other.radius) * max(h, w)


@pytest.mark.parametrize("name", HEADS)
def test_lips_eyes_and_nostrils_are_outlined(name: str) -> None:
    outlined = {s.place for s in proposed(name) if s.outline}
    assert {"upper lip", "lower lip", "eye white", "nostril", "lash line", "lip corner"} <= outlined
    for spot in proposed(name):
        if spot.outline:
            check_region(Outline(spot.outline))


@pytest.mark.parametrize("name", HEADS)
def test_suggested_spots_have_roles_and_places(name: str) -> None:
    spots = proposed(name)
    assert {s.role for s in spots} <= set(ROLES)
    assert {s.place for s in spots} <= set(PLACES)
    assert {"highlight", "deep accent"} <= {s.role for s in spots}
    assert {"light", "middle", "shadow"} & {s.role for s in spots}
    named = {s.place for s in spots} - {"other"}
    assert len(named) >= 5
    assert spots[0].role == "highlight"


def test_the_outline_of_a_place_is_that_of_the_nearer_side() -> None:
    shown = seen("tavi-morning")
    left, right = (outline_of(shown, 0, "eye white", x, 0.36) for x in (0.3, 0.7))
    assert left is not None
    assert right is not None
    assert middle_of(Outline(left))[0] < 0.5 < middle_of(Outline(right))[0]
    assert outline_of(shown, 0, "elbow", 0.5, 0.5) is None


@pytest.mark.parametrize(("folder", "share"), [("tests/heads/large", 0.85), ("demo/references", 0.85)])
def test_places_of_heads_get_the_names_they_have(folder: str, share: float) -> None:
    """Marked places of four heads each, looking ahead and turned."""
    right = []
    for name in ("mairen", "odelo", "tavi", "senna-rue"):
        picture = read_picture((ROOT / folder / f"{name}.jpg").read_bytes())
        shown = study(scaled(picture, WORKING_SIZE), None, [Person()])
        for spot in json.loads((ROOT / folder / f"{name}.json").read_text())["spots"]:
            right.append(name_of_place(shown, 0, spot["x"], spot["y"]) == spot["place"])
    assert np.mean(right) >= share


def test_the_strangest_hues_are_among_the_suggestions() -> None:
    """A green patch painted on a cheek must be found."""
    rgb = np.asarray(Image.fromarray(head("tavi-morning").picture.pixels)).copy()
    at = next(s for s in proposed("tavi-morning") if s.place == "cheek")
    h, w = rgb.shape[:2]
    ys, xs = np.mgrid[0:h, 0:w]
    patch = np.hypot(ys - at.y * h, xs - at.x * w) < 12
    rgb[patch] = (rgb[patch] * [0.88, 1.02, 0.95]).clip(0, 255).astype(np.uint8)
    shown = study(pixels(rgb), None, [Person(seen("tavi-morning").figures[0].face)])
    assert any(patch[int(s.y * h), int(s.x * w)] for s in suggest(shown, 0))


def test_depth_and_undertone_follow_the_complexion() -> None:
    words = {name: seen(name).figures[0].complexion for name in HEADS}
    depth = {name: reading.ita_deg for name, reading in words.items() if reading}
    for light in ("lamp", "morning"):
        order = [depth[f"{person}-{light}"] for person in ("mairen", "tavi", "senna-rue", "odelo")]
        assert order == sorted(order, reverse=True)
    assert words["mairen-morning"].depth == "very light"
    assert words["mairen-morning"].undertone == "cool"
    assert words["odelo-morning"].depth == "deep"


def test_balance_takes_the_lamp_out_of_the_complexion_but_not_out_of_the_spots() -> None:
    picture = read_picture((ROOT / "demo/references/mairen.jpg").read_bytes())
    small = scaled(picture, WORKING_SIZE)
    blue_light = Balance((0.9713, 1.0, 1.4393))  # daylight of 9300 K
    plain, cool = (study(small, light, [Person()]) for light in (None, blue_light))
    white = next(offer for offer in plain.offers if offer.kind == "eye white")
    balanced = study(small, white.balance, [Person()]).figures[0]
    assert plain.figures[0].complexion is None
    assert plain.figures[0].untold in ("cast", "unbalanced")
    assert cool.figures[0].untold == "cast"
    assert balanced.complexion is not None
    foretold = plain.effects[plain.offers.index(white)][0].complexion
    assert foretold is not None
    assert (balanced.complexion.depth, balanced.complexion.undertone) == (foretold.depth, foretold.undertone)
    assert plain.figures[0].average == pytest.approx(balanced.average, abs=2)


def told_apart(path: str, truth: np.ndarray, values: float, spilt: float) -> None:
    """A lighter person on the left, a deeper one on the right, and the skin of both. truth: where skin is, 0 or 255.

    values: how much lighter the one is at least; spilt: the share of what is not skin that is taken for it at most.
    """
    both = study(scaled(read_picture((ROOT / path).read_bytes()), WORKING_SIZE), None, [Person(), Person()])
    left, right = (np.nonzero(both.of(i))[1].mean() / both.owners.shape[1] for i in (0, 1))
    assert left < 0.4 < 0.6 < right
    assert both.figures[0].lightest > both.figures[1].lightest + values
    assert all(figure.face for figure in both.figures)
    skin = np.asarray(Image.fromarray(truth).resize(both.skin.shape[::-1])) > 127
    assert (whole(both) & skin).sum() >= 0.90 * skin.sum()
    assert (whole(both) & ~skin).sum() <= spilt * (~skin).sum()


def test_two_people_are_told_apart() -> None:
    halves = [head(name).skin for name in ("mairen-lamp", "odelo-lamp")]
    told_apart("tests/heads/large/night-watch.jpg", np.concatenate(halves, axis=1).astype(np.uint8) * 255, 2, 0.05)
    told_apart("demo/references/morning-relief.jpg", crew_skin("morning-relief"), 1, 0.07)


def test_two_people_by_lamp_and_sky_are_told_apart() -> None:
    told_apart("demo/references/night-watch.jpg", crew_skin("night-watch"), 2, 0.05)


def test_the_skin_in_an_open_test_photograph_is_found() -> None:
    """The photograph of a person in an orange suit that the imaging package ships (public domain)."""
    rgb = data.astronaut()
    shown = study(pixels(rgb), None, [Person()])
    found = np.asarray(Image.fromarray(whole(shown)).resize((512, 512)))
    # Boxes laid over the photograph by hand: the face below the hair; the suit; flag and background.
    face, suit, rest = found[95:170, 190:255], found[230:, 60:420], found[:, 320:]
    assert face.mean() > 0.85
    assert suit.mean() < 0.03
    assert rest.mean() < 0.03
    assert shown.figures[0].certain
    assert FEWEST <= len(suggest(shown, 0)) <= MOST


@pytest.mark.parametrize("photograph", ["rocket", "coffee"])
def test_a_picture_without_a_face_is_never_called_certain(photograph: str) -> None:
    shown = study(pixels(getattr(data, photograph)()), None, [Person()])
    assert not shown.faces
    assert not shown.figures[0].certain


def test_a_picture_without_skin_has_none_and_proposes_nothing() -> None:
    sea = np.zeros((200, 300, 3), np.uint8) + np.array([30, 90, 140], np.uint8)
    sea[:80] = (150, 190, 220)
    shown = study(pixels(sea), None, [Person(), Person()])
    assert not shown.skin.any()
    assert not shown.figures[0].found
    assert shown.light_from_deg is None
    assert suggest(shown, 0) == ()


def test_black_and_white_has_values_but_no_complexion() -> None:
    grey = np.asarray(Image.fromarray(head("tavi-morning").picture.pixels).convert("L").convert("RGB"))
    shown = study(pixels(grey), None, [Person()])
    assert shown.colourless
    assert shown.figures[0].complexion is None


def test_strokes_add_skin_and_take_it_away() -> None:
    sea = np.full((200, 300, 3), (30, 90, 140), np.uint8)
    add = Stroke(True, 0.05, ((0.3, 0.5), (0.7, 0.5)))
    away = Stroke(False, 0.06, ((0.5, 0.4), (0.5, 0.6)))
    one = study(pixels(sea), None, [Person(strokes=(add,))])
    assert one.figures[0].found
    assert one.figures[0].certain
    assert one.owners[100, 150] == 1
    assert one.owners[20, 20] == 0
    both = study(pixels(sea), None, [Person(strokes=(add, away))])
    assert both.owners[100, 150] == 0
    assert both.owners[100, 100] == 1
    gone = study(pixels(sea), None, [Person(strokes=(add, Stroke(False, 0.2, ((0.3, 0.5), (0.7, 0.5)))))])
    assert not gone.figures[0].found
    assert suggest(gone, 0) == ()


def test_a_stroke_corrects_what_was_found_and_leaves_the_rest() -> None:
    small = scaled(head("tavi-morning").picture, WORKING_SIZE)
    jacket = Stroke(True, 0.03, ((0.2, 0.95),))
    shown = study(small, None, [Person(strokes=(jacket,))])
    added = shown.skin & ~seen("tavi-morning").skin
    assert (shown.skin >= seen("tavi-morning").skin).all()
    assert 0 < added.sum() < 0.01 * added.size


def test_a_stroke_of_one_figure_takes_nothing_from_another() -> None:
    sea = np.full((200, 300, 3), (30, 90, 140), np.uint8)
    left, right = Stroke(True, 0.05, ((0.2, 0.5),)), Stroke(True, 0.05, ((0.8, 0.5),))
    wipe = Stroke(False, 0.2, ((0.2, 0.5), (0.8, 0.5)))
    shown = study(pixels(sea), None, [Person(strokes=(left, right, wipe)), Person(strokes=(right,))])
    assert not shown.figures[0].found
    assert shown.figures[1].found


@pytest.mark.parametrize(
    "stroke", [Stroke(True, 0.3, ((0.5, 0.5),)), Stroke(True, 0.01, ()), Stroke(True, 0.01, ((0.5, 1.5),))]
)
def test_a_stroke_outside_its_limits_is_refused(stroke: Stroke) -> None:
    with pytest.raises(InputError) as caught:
        study(pixels(np.zeros((40, 40, 3), np.uint8)), None, [Person(strokes=(stroke,))])
    assert caught.value.code == "bad_stroke"


@pytest.mark.parametrize("size", [(16, 16), (16, 4000), (4000, 16), (17, 33)])
def test_tiny_and_very_long_pictures_can_be_studied(size: tuple[int, int]) -> None:
    rgb = np.random.default_rng(1).integers(0, 255, (*size, 3), dtype=np.uint8)
    shown = study(pixels(rgb), None, [Person()])
    assert shown.owners.shape == shown.light.shape
    suggest(shown, 0)


def test_a_face_given_by_hand_is_used() -> None:
    given = Face(0.3, 0.2, 0.4, 0.35)
    shown = study(scaled(head("tavi-morning").picture, WORKING_SIZE), None, [Person(given)])
    assert shown.figures[0].face == given
    assert shown.figures[0].found


def test_no_face_is_seen_where_none_is() -> None:
    assert find_faces(np.full((200, 200, 3), 128, np.uint8)) == ()


def test_flat_skin_is_all_in_the_light() -> None:
    xyz = np.full((40, 40, 3), 0.4)
    skin = np.zeros((40, 40), bool)
    skin[10:30, 10:30] = True
    assert (light_family(xyz, skin) == skin).all()
    assert not light_family(xyz, np.zeros((40, 40), bool)).any()


def test_the_same_picture_is_studied_the_same_way() -> None:
    small = scaled(head("mairen-lamp").picture, WORKING_SIZE)
    again = study(small, None, [Person()])
    assert again.owners.tobytes() == seen("mairen-lamp").owners.tobytes()
    assert suggest(again, 0) == proposed("mairen-lamp")


@pytest.mark.parametrize(
    "box", [(2.0, 2.0, 0.1, 0.1), (-0.9, 0.2, 0.4, 0.4), (0.3, 0.3, 0.0, 0.2), (np.nan, 0, 0.1, 0.1)]
)
def test_a_face_outside_the_picture_is_refused(box: tuple[float, float, float, float]) -> None:
    with pytest.raises(InputError) as refused:
        study(pixels(np.full((40, 40, 3), 150, np.uint8)), None, [Person(Face(*box))])
    assert refused.value.code == "bad_face"


@pytest.mark.parametrize(
    "box", [(-0.9, -0.9, 2.0, 2.0), (0.0, 0.0, 0.005, 0.005), (0.99, 0.99, 0.02, 0.02), (-0.5, -0.09, 2.0, 0.2)]
)
def test_a_face_whose_middle_is_in_the_picture_is_studied(box: tuple[float, float, float, float]) -> None:
    seen_ = study(scaled(head(HEADS[0]).picture, 120), None, [Person(Face(*box))])
    assert suggest(seen_, 0) is not None
    assert len(seen_.figures) == 1


@pytest.mark.parametrize("file", ["not-there.tflite", "face_landmark.tflite"], ids=["missing", "damaged"])
def test_without_a_model_skin_by_hand_still_works(file: str, monkeypatch: pytest.MonkeyPatch) -> None:
    broken = Model(file, "0" * 64, 192)
    with pytest.raises(EyesError, match="missing or damaged"):
        run(broken, np.zeros((192, 192, 3), np.float32))
    monkeypatch.setattr("core.eyes.detector.DETECTOR", broken)
    shown = study(
        scaled(head("tavi-morning").picture, WORKING_SIZE), None, [Person(strokes=(Stroke(True, 0.1, ((0.5, 0.5),)),))]
    )
    assert shown.blind
    assert shown.figures[0].certain
    assert suggest(shown, 0)


def test_a_face_of_forty_pixels_is_said_to_be_small_and_a_mirror_image_is_as_good() -> None:
    rgb = head("tavi-morning").picture.pixels
    tiny = np.full((600, 800, 3), 120, np.uint8)
    small = np.asarray(Image.fromarray(rgb).resize((72, 90)))
    tiny[200:290, 300:372] = small
    shown = study(pixels(tiny), None, [Person()])
    assert shown.figures[0].places == "small"
    mirrored = study(pixels(np.ascontiguousarray(rgb[:, ::-1])), None, [Person()])
    assert mirrored.figures[0].places is None
    assert mirrored.light_from_deg == pytest.approx((180 - seen("tavi-morning").light_from_deg) % 360, abs=15)


def test_a_wrong_find_is_not_looked_at_again() -> None:
    small = scaled(head("tavi-morning").picture, WORKING_SIZE)
    wrong = seen("tavi-morning").figures[0].face
    assert wrong is not None
    shown = study(small, None, [Person()], [wrong])
    assert shown.figures[0].face is None
    assert shown.faces == ()
