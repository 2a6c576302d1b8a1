"""Papers in words: every word makes a paper that can be, in the order in which the words are said."""

from core.optics.paper_words import SHADES, TEETH, USUAL_SHADE, USUAL_TOOTH, USUAL_WEIGHT, WEIGHTS
from core.optics.support import own_support


def test_every_word_makes_a_paper() -> None:
    for shade in SHADES:
        for tooth in TEETH:
            for weight in WEIGHTS:
                made = own_support("x", "x", shade.lab, tooth.number, weight.number, ["pencil"])
                assert made.tooth == tooth.number and made.coats == weight.number
    for words in (TEETH, WEIGHTS):
        numbers = [word.number for word in words]
        assert numbers == sorted(set(numbers)) and all(word.hint for word in words)


def test_the_usual_words_are_among_them_and_white_is_lighter_than_tan() -> None:
    labs = {shade.name: shade.lab for shade in SHADES}
    assert USUAL_SHADE in labs and labs["white"][0] > labs["cream"][0] > labs["tan"][0] > labs["black"][0]
    assert USUAL_TOOTH in {word.name for word in TEETH} and USUAL_WEIGHT in {word.name for word in WEIGHTS}
