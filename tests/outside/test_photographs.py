"""Faces, places, skin and honest words on open photographs that nobody here made; truths set by hand."""

from __future__ import annotations

import json
from collections import Counter
from functools import cache
from typing import Any

import numpy as np
import pytest
from PIL import Image
from skimage import data

from core.colour.spaces import SRGB, hex_to_lab, lab_to_xyz, srgb_decode, srgb_encode
from core.eyes.areas import distance_to, place_at
from core.look.faces import FaceMap, find_faces
from core.look.picture import Picture
from core.look.study import WORKING_SIZE, Person, Study, study
from core.look.suggest import suggest
from core.look.views import Small, as_it_is, scaled
from tests.conftest import ROOT

pytestmark = pytest.mark.xdist_group("photographs")
"""One process, since what was found once in a picture is asked for by several tests."""

Entry = dict[str, Any]

TRUTHS: list[Entry] = json.loads((ROOT / "tests/photographs/truths.json").read_text())
WITH_PEOPLE = [entry for entry in TRUTHS if entry["faces"]]
WITHOUT = [entry for entry in TRUTHS if not entry["faces"]]
PORTRAITS = [entry for entry in WITH_PEOPLE if len(entry["faces"]) == 1]
EYE = {"iris", "pupil", "eye white", "upper lid", "lash line"}
NEAR = 0.1
"""A point this near to its place, in distances between the eyes, counts as in it: setting it by hand is off by half."""
FAR = {"nose tip": 0.4, "upper lip": 0.4, "lower lip": 0.4, "chin": 0.5, "forehead": 1.0, "cheek": 0.9}
"""A proposed spot may lie this far from the middle of its place, in distances between the eyes."""


@cache
def photograph(number: int) -> Picture:
    entry = TRUTHS[number]
    kind, *rest = entry["package"].split()
    if kind == "PyPI":
        return Picture(data.astronaut(), SRGB, "")
    name, version = rest
    path = ROOT / ".cache/photographs" / f"{name.split('/')[-1]}@{version}" / entry["file"]
    rgb = np.asarray(Image.open(path).convert("RGB"))
    assert list(rgb.shape[1::-1]) == entry["size"]
    return Picture(rgb, SRGB, "")


def looked(entry: Entry) -> Small:
    return scaled(photograph(TRUTHS.index(entry)), WORKING_SIZE)


@cache
def faces(number: int) -> tuple[FaceMap, ...]:
    return find_faces(as_it_is(looked(TRUTHS[number])))


@cache
def shown(number: int) -> Study:
    return study(looked(TRUTHS[number]), None, [Person() for _ in TRUTHS[number]["faces"]])


def points(entry: Entry, face: Entry, width: int) -> dict[str, np.ndarray]:
    return {name: np.array(at, float) * width / entry["size"][0] for name, at in face["points"].items()}


def at_hand(marked: dict[str, np.ndarray], found: tuple[FaceMap, ...]) -> FaceMap | None:
    middle = np.mean(list(marked.values()), axis=0)
    return next((one for one in found if np.hypot(*(one.middle - middle)) < 0.4 * one.side), None)


def between_eyes(marked: dict[str, np.ndarray], face: FaceMap) -> float:
    eyes = [at for name, at in marked.items() if name.startswith("eye")]
    return float(np.hypot(*(eyes[0] - eyes[1]))) if len(eyes) == 2 else 0.3 * face.side


def test_the_photographs_are_of_many_complexions_and_poses() -> None:
    skins = Counter(face["skin"] for entry in TRUTHS for face in entry["faces"])
    poses = [face["pose"] for entry in TRUTHS for face in entry["faces"]]
    assert len(WITH_PEOPLE) >= 15
    assert sum(skins.values()) >= 25
    assert min(skins["deep"], skins["pale"]) >= 6
    assert sum("profile" in pose for pose in poses) >= 4


def test_faces_are_found_whatever_the_complexion_and_the_pose() -> None:
    seen: Counter[str] = Counter()
    there: Counter[str] = Counter()
    for number, entry in enumerate(TRUTHS):
        for face in entry["faces"]:
            marked = points(entry, face, looked(entry).width)
            there[face["skin"]] += 1
            seen[face["skin"]] += at_hand(marked, faces(number)) is not None
    assert seen.total() >= 0.9 * there.total()
    for skin, count in there.items():
        assert seen[skin] >= count - 1, skin


def test_no_face_is_found_where_nobody_is() -> None:
    pictures = [as_it_is(looked(entry)) for entry in WITHOUT]
    pictures += [data.coffee(), data.rocket(), data.chelsea(), data.hubble_deep_field()]
    assert len(pictures) >= 8
    assert [find_faces(picture) for picture in pictures] == [()] * len(pictures)


def test_marked_places_get_their_names() -> None:
    right: Counter[str] = Counter()
    there: Counter[str] = Counter()
    for number, entry in enumerate(TRUTHS):
        for face in entry["faces"]:
            marked = points(entry, face, looked(entry).width)
            found = at_hand(marked, faces(number))
            if found is None or not found.areas:
                continue
            for name, at in marked.items():
                wanted = EYE if name.startswith("eye") else {name}
                beside = [distance_to(area.outline, at) for area in found.areas if area.place in wanted]
                near = min(beside, default=np.inf) < NEAR * between_eyes(marked, found)
                right[face["skin"]] += near or place_at(found.areas, at, 0.0) in wanted
                there[face["skin"]] += 1
    assert right.total() >= 0.93 * there.total()
    for skin, count in there.items():
        assert right[skin] >= 0.9 * count, skin


def test_proposed_spots_lie_where_their_names_say() -> None:
    right: Counter[str] = Counter()
    said: Counter[str] = Counter()
    for number, entry in enumerate(TRUTHS):
        if entry not in PORTRAITS and number % 3:
            continue
        seen = shown(number)
        for figure, face_map in enumerate(seen.maps):
            if face_map is None or not face_map.areas:
                continue
            for face in entry["faces"]:
                marked = points(entry, face, seen.small.width)
                if at_hand(marked, (face_map,)) is None:
                    continue
                for spot in suggest(seen, figure):
                    if spot.doubt or spot.place not in FAR or spot.place not in marked:
                        continue
                    at = np.array([spot.x * seen.small.width, spot.y * seen.small.height])
                    # One cheek was marked; the other lies as far on the other side of the nose.
                    near = [marked[spot.place]]
                    if spot.place == "cheek" and "nose tip" in marked:
                        near.append(2 * marked["nose tip"] - marked["cheek"])
                    off = min(float(np.hypot(*(at - one))) for one in near) / between_eyes(marked, face_map)
                    right[face["skin"]] += off < FAR[spot.place]
                    said[face["skin"]] += 1
    assert said.total() >= 80
    assert right.total() >= 0.9 * said.total()
    for skin, count in said.items():
        assert right[skin] >= 0.85 * count, skin


@pytest.mark.parametrize("turn", [1, 2, 3])
def test_pictures_may_lie_on_their_side_or_head(turn: int) -> None:
    found = 0
    for entry in PORTRAITS[::4]:
        marked = points(entry, entry["faces"][0], looked(entry).width)
        rgb = as_it_is(looked(entry))
        for face in find_faces(np.ascontiguousarray(np.rot90(rgb, turn))):
            x, y = face.middle
            h, w = rgb.shape[:2]
            back = {1: (w - y, x), 2: (w - x, h - y), 3: (y, h - x)}[turn]
            middle = np.mean(list(marked.values()), axis=0)
            found += bool(np.hypot(*(np.array(back) - middle)) < 0.4 * face.side)
    assert found >= len(PORTRAITS[::4]) - 1


def changed(entry: Entry, linear_of: Any) -> Small:
    """The picture with its linear light (h, w, 3) changed."""
    light = linear_of(srgb_decode(np.asarray(as_it_is(looked(entry)), float) / 255))
    return Small(np.rint(np.clip(srgb_encode(np.clip(light, 0, 1)), 0, 1) * 255).astype(np.uint8), SRGB)


def sepia(light: np.ndarray) -> np.ndarray:
    tone = lab_to_xyz(hex_to_lab("#704214")) @ np.linalg.inv(SRGB.to_xyz)
    grey = light.mean(axis=-1, keepdims=True)
    return np.asarray(grey ** (0.5 + 0.5 * tone / tone.max()))


SPOILT = {
    "one hue": sepia,
    "near black": lambda light: 0.012 * light,
    "burnt out": lambda light: 7.0 * light,
    "cast": lambda light: light * [1.0, 0.55, 0.16],
    "a cold cast": lambda light: light * [0.45, 0.75, 1.2],
}


@pytest.mark.parametrize("fault", SPOILT)
def test_what_cannot_be_read_is_said_and_no_words_are_made_up(fault: str) -> None:
    for entry in PORTRAITS[1::6]:
        seen = study(changed(entry, SPOILT[fault]), None, [Person()])
        figure = seen.figures[0]
        assert figure.complexion is None, entry["file"]
        if "cast" not in fault:
            assert fault in seen.conditions or seen.colourless or (fault == "burnt out" and figure.untold), entry[
                "file"
            ]


def test_words_come_only_with_something_neutral_in_the_picture() -> None:
    """Of the portraits as they are, the few that get words show eye whites as in daylight."""
    told = [shown(TRUTHS.index(entry)).figures[0] for entry in PORTRAITS]
    assert all(figure.complexion or figure.untold for figure in told)
    assert sum(figure.complexion is not None for figure in told) >= 3


@pytest.mark.parametrize("light", [(1.0, 0.8, 0.5), (0.85, 0.95, 1.0)], ids=["warm", "cool"])
def test_balanced_on_the_eyes_a_person_gets_the_same_words_in_another_light(light: tuple[float, float, float]) -> None:
    depths = ["deep", "brown", "tan", "intermediate", "light", "very light"]
    told = 0
    for entry in PORTRAITS:
        plain = shown(TRUTHS.index(entry)).figures[0].complexion
        if plain is None or told == 4:
            continue
        seen = study(changed(entry, lambda held: held * light), None, [Person()])
        whites = [i for i, offer in enumerate(seen.offers) if offer.kind == "eye white"]
        balanced = seen.effects[whites[0]][0].complexion if whites else None
        if balanced:
            told += 1
            assert abs(depths.index(balanced.depth) - depths.index(plain.depth)) <= 1, entry["file"]
    assert told >= 3


def test_of_a_crowd_the_largest_dozen_is_taken() -> None:
    face = np.asarray(Image.fromarray(photograph(TRUTHS.index(PORTRAITS[0])).pixels).resize((180, 144)))
    crowd = np.tile(face, (8, 5, 1))
    seen = study(Small(crowd, SRGB), None, [Person()])
    assert len(seen.faces) + len(seen.figures) == 12
    assert seen.more >= 20
