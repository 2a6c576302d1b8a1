import json
from dataclasses import replace

import pytest

from core.errors import InputError
from core.exchange.scene_json import (
    MAX_BYTES,
    NamedComplexion,
    read_complexions,
    read_scene,
    write_complexions,
    write_scene,
)
from core.light.lamps import Lamp
from core.light.scene import Around, Key, Scene, Sitter, check_scene
from core.light.words import PRESETS
from core.skin.describe import Description

SCENE = Scene(
    (Sitter("Tavi", Description(57, 85, 50, 0.2), "bust", -20, 5), Sitter("Odelo", Description(29))),
    Key(Lamp("glow", 3200, "own", "c04020"), 30, -10, 2, 1.5, 60),
    (Around("sky"), Around("bounce", cloth="3060a0")),
    0.3, 0.5, 1.2, 0.8,
)  # fmt: skip


def test_a_scene_goes_out_and_comes_back_the_same() -> None:
    assert read_scene(write_scene(SCENE)) == SCENE
    for preset in PRESETS.values():
        lit = preset.on(Scene())
        assert read_scene(write_scene(lit)) == lit
    assert read_scene(b"{}") == Scene()


def _told(change: dict) -> bytes:
    return json.dumps(json.loads(write_scene(SCENE)) | change).encode()


@pytest.mark.parametrize(
    ("data", "code", "field"),
    [
        (b"", "bad_json", "scene"),
        (b"[]", "bad_field", "scene"),
        (b"\xff\xfe", "bad_json", "scene"),
        (b" " * (MAX_BYTES + 1), "file_too_large", "scene"),
        (_told({"sitters": [{"skin": {"depth": 90}}]}), "bad_field", "scene.sitters.0.skin.depth"),
        (_told({"sitters": [{"skin": {"depth": "NaN"}}]}), "bad_field", "scene.sitters.0.skin.depth"),
        (_told({"sitters": [{"skin": {"undertone": 99}}]}), "bad_field", "scene.sitters.0.skin.undertone"),
        (_told({"sitters": [{}] * 7}), "bad_field", "scene.sitters"),
        (_told({"key": {"lamp": {"kelvin": 50}}}), "bad_field", "scene.key.lamp.kelvin"),
        (_told({"key": {"lamp": {"gel": "plaid"}}}), "bad_field", "scene.key.lamp.gel"),
        (_told({"lamp": {}}), "bad_field", "scene.lamp"),
        (_told({"key": {"heigth": 3}}), "bad_field", "scene.key.heigth"),
        (_told({"around": [{"cloth": "red"}]}), "bad_hex", "around"),
        (_told({"key": {"level": 0}, "around": []}), "no_light", "key.level"),
    ],
)
def test_a_bad_scene_is_refused_with_the_field_it_is_in(data: bytes, code: str, field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_scene(data)
    assert caught.value.code == code
    assert caught.value.field.startswith(field)


def test_complexions_go_out_and_come_back_the_same() -> None:
    rows = (NamedComplexion("Brá", Description(44, 30)), NamedComplexion("Deckhand", Description(70, 20), "sunburnt"))
    assert read_complexions(write_complexions(rows)) == rows


@pytest.mark.parametrize(
    "held",
    [{}, {"complexions": []}, {"complexions": [{"name": "x"}]}, {"complexions": [{"name": " ", "skin": {}}]},
     {"complexions": [{"name": "x" * 61, "skin": {}}]}, {"complexions": [{"name": "x", "skin": {"depth": 12}}]},
     {"complexions": [{"name": "x", "skin": {}}] * 201}],
)  # fmt: skip
def test_bad_complexions_are_refused(held: dict) -> None:
    with pytest.raises(InputError) as caught:
        read_complexions(json.dumps(held).encode())
    assert "complexions" in caught.value.field


def test_a_colour_that_is_none_is_refused_whoever_asks() -> None:
    with pytest.raises(InputError, match="colour"):
        check_scene(replace(SCENE, key=replace(SCENE.key, lamp=Lamp("glow", 3000, "own", "grün"))))
