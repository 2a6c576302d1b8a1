"""What is in the way of reading a picture, in sentences: what it is, and what still works."""

from __future__ import annotations

from core.look.study import SMALLEST_FACE, FigureStudy, Study, Told, Trouble
from core.look.suggest import Doubt

NO_SKIN = "No skin was found in this picture. Mark it by hand: choose Add skin and paint over it."
UNCERTAIN = (
    "No face was found (one narrower than a thirtieth of the picture is too small: crop it). What is marked as skin is "
    "guessed from its colour: check it, and paint it right."
)
COLOURLESS = "The picture is black and white: values work as always, there is no temperature and no hue to find."
BLIND = (
    "Faces cannot be looked for: a file of Caltin is missing or damaged. Install it again. Meanwhile paint the skin by "
    "hand; everything else works."
)
_CONDITIONS = {
    "one hue": "The picture is toned in one hue, like an old print: values work as always, its colours are no skin's.",
    "near black": "The skin is nearly black here: noise tells more of its colour than skin does. Values work, roughly.",
    "burnt out": "Much of the skin is burnt out to white: its colour is lost there. The darker places can be read.",
    "compressed": "The file was pressed so hard that its colours lie in blocks. Values work; hue needs a better copy.",
    "filtered": "The colours are far stronger than any skin's: a filter seems to lie over the picture. Values work.",
}
_UNTOLD: dict[Trouble, str] = {
    "cast": "cannot tell: the light is coloured. Balance on something grey or white, under Light.",
    "unbalanced": "cannot tell yet: point at something grey or white, under Light.",
    "one hue": "cannot tell from one hue.",
    "near black": "cannot tell: too dark.",
    "burnt out": "cannot tell: too much is burnt out.",
    "compressed": "cannot tell from so coarse a file.",
    "filtered": "cannot tell through the filter.",
}
_PLACES: dict[Trouble, str] = {
    "profile": "In profile the places of the face are not found: mark the forehead, nose, lips and cheek yourself.",
    "small": f"This face is under {SMALLEST_FACE} pixels wide: too small to tell its places apart. Crop the picture.",
}
DOUBTS: dict[Doubt, str] = {
    "small": "It is only a few pixels wide.",
    "turned away": "It is seen at a slant.",
    "covered": "Hair, a hat or a shadow seems to lie over it.",
    "mixed": "Two colours meet there.",
    "dark glasses": "It is as dark as the darkest skin, or behind glass.",
}


def trouble_of(seen: Study) -> str:
    """What the artist should know of the picture as a whole; empty if there is nothing."""
    said = [BLIND] if seen.blind else []
    if seen.colourless:
        said.append(COLOURLESS)
    said += [_CONDITIONS[condition] for condition in seen.conditions]
    if not seen.skin.any():
        said.append(NO_SKIN)
    elif not any(figure.certain for figure in seen.figures):
        said.append(UNCERTAIN)
    if seen.more:
        faces = "One more face was" if seen.more == 1 else f"{seen.more} more faces were"
        said.append(f"{faces} found; the largest are shown.")
    return " ".join(said)


def untold_of(figure: FigureStudy | Told) -> str:
    """Why a complexion is not told; empty if it is, or there is nothing to tell."""
    return _UNTOLD.get(figure.untold, "") if figure.untold else ""


def places_of(figure: FigureStudy) -> str:
    """Why the places of a face are not known; empty if they are."""
    return _PLACES.get(figure.places, "") if figure.places else ""
