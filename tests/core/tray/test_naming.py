"""Colours told from names, against the colour keywords of CSS Color Module Level 3 (published, as colour-science holds
them): colours of screens, so that hue and order count for more than the last unit."""

import numpy as np
import pytest
from colour.notation import keyword_to_RGB_CSSColor3

from core.colour.difference import ciede2000
from core.colour.spaces import Floats, hex_to_lab, lab_to_lch
from core.tray.naming import guess

KEYWORDS = (
    "beige", "brown", "coral", "crimson", "dark blue", "dark green", "dark olive green", "dark orange", "dark red",
    "dark slate gray", "deep pink", "firebrick", "forest green", "gold", "gray", "green", "hot pink", "indigo", "ivory",
    "lavender", "light coral", "light pink", "light salmon", "light yellow", "linen", "maroon", "midnight blue", "navy",
    "olive", "orange", "pink", "purple", "red", "royal blue", "salmon", "sandy brown", "sienna", "sky blue",
    "slate gray", "snow", "steel blue", "tan", "teal", "tomato", "turquoise", "wheat", "white", "yellow",
)  # fmt: skip


def said(name: str) -> Floats:
    found = guess(name)
    assert found, name
    return hex_to_lab(found.hex)


def published(keyword: str) -> Floats:
    pixels = np.rint(np.array(keyword_to_RGB_CSSColor3(keyword.replace(" ", ""))) * 255).astype(int)
    return hex_to_lab("#" + "".join(f"{part:02x}" for part in pixels))


def test_names_say_about_the_colours_that_are_published_for_them() -> None:
    words = [word for word in KEYWORDS if word != "firebrick"]
    ours, theirs = np.array([said(word) for word in words]), np.array([published(word) for word in words])
    off = ciede2000(ours, theirs)
    assert np.median(off) < 12
    assert np.quantile(off, 0.9) < 25
    strong = (lab_to_lch(theirs)[:, 1] > 25) & (lab_to_lch(ours)[:, 1] > 15)
    turned = np.abs((lab_to_lch(ours)[strong, 2] - lab_to_lch(theirs)[strong, 2] + 180) % 360 - 180)
    assert strong.sum() > 25
    assert np.quantile(turned, 0.9) < 30
    # Which of two is lighter, where it is no near thing.
    apart = theirs[:, None, 0] - theirs[None, :, 0]
    right = np.sign(ours[:, None, 0] - ours[None, :, 0]) == np.sign(apart)
    assert right[np.abs(apart) > 20].mean() > 0.97


@pytest.mark.parametrize(
    ("name", "like", "than"),
    [
        # Common practice: what the words of a stick's name say of it.
        ("clay 50%", "lighter", "clay"),
        ("clay 10%", "lighter", "clay 50%"),
        ("light ochre", "lighter", "ochre"),
        ("dark sepia", "darker", "sepia"),
        ("warm grey 5", "darker", "warm grey 2"),
        ("cool grey VI", "darker", "cool grey II"),
        ("very pale blue", "lighter", "pale blue"),
    ],
)
def test_tints_and_numbers_change_the_lightness(name: str, like: str, than: str) -> None:
    apart = said(name)[0] - said(than)[0]
    assert apart > 3 if like == "lighter" else apart < -3


def test_the_last_word_is_what_it_is_and_those_before_colour_it() -> None:
    grey, blue, both = said("grey"), said("blue"), said("blue grey")
    assert ciede2000(both, grey) < ciede2000(both, blue)
    assert said("warm grey")[2] > said("cool grey")[2] + 5
    assert said("reddish brown")[1] > said("brown")[1] + 5
    assert said("sandy brown")[0] > said("brown")[0] + 5
    assert guess("Payne’s gray") == guess("paynes grey")
    assert guess("BURNT-SIENNA") == guess("burnt sienna")
    assert guess("W5 rose, nearly gone").words == ("rose",)  # type: ignore[union-attr]


@pytest.mark.parametrize("name", ["", "12", "wibble", "😀", "x" * 500])
def test_what_says_no_colour_is_not_made_one(name: str) -> None:
    assert guess(name) is None
