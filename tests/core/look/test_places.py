import pytest

from core.colour.munsell import lab_to_value
from core.look.places import SeenSpot, doubt, notes
from core.look.roles import PLACES


def spot(place: str, lightness: float, role: str = "middle", hue: tuple[float, float] = (14, 18)) -> SeenSpot:
    lab = (lightness, *hue)
    return SeenSpot(place, role, lab, float(lab_to_value(lab)))


def test_every_place_has_a_note_that_is_a_sentence() -> None:
    assert set(notes()) == set(PLACES)
    for place, note in notes().items():
        assert place == "other" or (note.endswith(".") and len(note) < 110)


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
    "a yellow cheek": (spot("cheek", 60, hue=(4, 26)), [*FACE, spot("neck", 55)], "redder"),
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
    "a red cheek": (spot("cheek", 60, hue=(20, 14)), [*FACE, spot("neck", 55)]),
    "alone": (spot("cheek", 60), []),
}


@pytest.mark.parametrize("name", AGREEING)
def test_a_reading_that_agrees_is_left_alone(name: str) -> None:
    assert doubt(*AGREEING[name]) == ""


def test_light_from_below_turns_the_lips_round() -> None:
    assert doubt(spot("upper lip", 60), [spot("lower lip", 50)], lit_from_above=False) == ""
