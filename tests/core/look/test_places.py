import pytest

from core.colour.munsell import lab_to_value
from core.look.places import SeenSpot, doubt, measured_note, notes
from core.look.roles import PLACES


def spot(place: str, lightness: float, role: str = "middle", hue: tuple[float, float] = (14, 18)) -> SeenSpot:
    lab = (lightness, *hue)
    return SeenSpot(place, role, lab, float(lab_to_value(lab)))


def test_every_place_has_a_note_that_is_a_sentence() -> None:
    assert set(notes()) == set(PLACES)
    for place, note in notes().items():
        assert place == "other" or (note.text.endswith(".") and len(note.text) < 115)
        assert note.source in ("measured", "practice")
        assert "measured" not in note.text


def test_what_was_measured_is_said_with_its_spread() -> None:
    assert "14 L* lighter" in measured_note("palm", -60)
    assert "less red, 3 yellower" in measured_note("neck", 46)
    assert "15 people" not in measured_note("forehead", 0)
    assert measured_note("forehead", -49).startswith("no different (± 3/1/2")
    assert measured_note("upper lip", 0) == ""


FACE = [
    spot("forehead", 70, "light"),
    spot("chin", 62),
    spot("jaw", 45, "shadow"),
    spot("nose bridge", 72, "highlight"),
]

CONTRADICTIONS = {
    "upper lip lighter than lower": (spot("upper lip", 60), [spot("lower lip", 50)], "lower lip"),
    "eye white on a catchlight": (spot("eye white", 95, hue=(0, 2)), FACE, "catchlight"),
    "eye white lighter than any light": (spot("eye white", 80, hue=(0, 2)), FACE, "catchlight"),
    "teeth at paper white": (spot("teeth", 96, hue=(0, 2)), FACE, "catchlight"),
    "nostril at its rim": (spot("nostril", 60), [spot("nose side", 45)], "darkest"),
    "light under the chin": (spot("under the chin", 75), FACE, "shadow"),
    "reflected light as light as light": (spot("jaw", 72, "reflected light"), FACE, "darker than any"),
    "iris on its light": (spot("iris", 90), [spot("eye white", 70)], "catchlight"),
    "a light darker than the shadows": (spot("cheek", 30, "light"), FACE, "darker than every shadow"),
    "an accent that is the lightest": (spot("other", 90, "deep accent"), FACE, "lightest"),
    "a yellow cheek": (spot("cheek", 60, hue=(4, 26)), [*FACE, spot("neck", 55)], "Yellower than this place"),
    "a red forehead": (spot("forehead", 60, hue=(22, 8)), [spot("cheek", 60), spot("chin", 60)], "Redder than this"),
    "yellow knuckles": (spot("knuckles", 60, hue=(4, 26)), [*FACE, spot("neck", 55)], "redder"),
}


@pytest.mark.parametrize("name", CONTRADICTIONS)
def test_a_reading_that_contradicts_what_usually_holds_is_pointed_out(name: str) -> None:
    seen, others, word = CONTRADICTIONS[name]
    said = doubt(seen, others)
    assert word in said
    assert said.endswith((".", "?"))


AGREEING = {
    "upper lip darker": (spot("upper lip", 45), [spot("lower lip", 50)]),
    "a grey eye white": (spot("eye white", 66, hue=(0, 2)), FACE),
    "a dark nostril": (spot("nostril", 15), [spot("nose side", 45)]),
    "dark under the chin": (spot("under the chin", 30, "shadow"), FACE),
    "reflected light in the shade": (spot("jaw", 50, "reflected light"), FACE),
    "a red cheek": (spot("cheek", 60, hue=(16, 15)), [*FACE, spot("neck", 55)]),
    "a yellow neck": (spot("neck", 62, hue=(9, 18)), [spot("forehead", 64), spot("cheek", 62, hue=(14, 15))]),
    "red in shadow": (spot("cheek", 30, "shadow", hue=(20, 6)), [*FACE, spot("neck", 55)]),
    "alone": (spot("cheek", 60), []),
}


@pytest.mark.parametrize("name", AGREEING)
def test_a_reading_that_agrees_is_left_alone(name: str) -> None:
    assert doubt(*AGREEING[name]) == ""


def test_light_from_below_turns_the_lips_round() -> None:
    assert doubt(spot("upper lip", 60), [spot("lower lip", 50)], lit_from_above=False) == ""
