"""Why a recipe is as it is, in one or two plain sentences."""

from __future__ import annotations

from collections.abc import Sequence

from core.colour.spaces import lab_to_lch
from core.colour.words import hue_word
from core.optics.medium import TOOLS, Layered
from core.recipe.cautions import chroma_and_hue
from core.recipe.recipe import Recipe

_UNDERTONE_DEG, _UNDERTONE_C = 50.0, 8.0


def why(recipe: Recipe, kit: Layered) -> str:
    """What is base, what is undertone, what cools or deepens; and what is left over if that is much."""
    if not recipe.steps:
        return "The bare paper comes nearest here: leave it free from the start."
    names = {stick.code: stick.name for stick in kit.sticks} | TOOLS
    hidden = undertones(recipe, kit)
    base = ""
    who: dict[tuple[str, str], list[str]] = {}  # of what is done, verbs and object
    for i, step in enumerate(recipe.steps):
        name = names.get(step.pass_.stick, step.pass_.stick)
        if i in hidden:
            does = ("beneath gives", f"the {hidden[i]} undertone")
        elif not base:
            base = name
            continue
        elif step.pass_.stick in TOOLS or step.effect == "adjusts":
            does = ("evens", "it out")
        else:
            does = (step.effect, "it")
        who.setdefault(does, []).append(name)
    said = [_clause(list(dict.fromkeys(each)), *does) for does, each in who.items()]
    first = f"{base[:1].upper()}{base[1:]} is the base" if base else ""
    sentence = "; ".join(part for part in (first, *said) if part)
    return f"{sentence[:1].upper()}{sentence[1:]}." + _left_over(recipe)


def undertones(recipe: Recipe, kit: Layered) -> dict[int, str]:
    """The passes that lie under another hue and are meant to shine through: their hue in a word, by index."""
    by_code = {stick.code: stick for stick in kit.sticks}
    end_hue = float(lab_to_lch(recipe.result.lab)[2])
    found = {}
    for i, step in enumerate(recipe.steps[:-1]):
        stick = by_code.get(step.pass_.stick)
        if stick is None:
            continue
        chroma, hue_deg = chroma_and_hue(stick)
        apart = abs((hue_deg - end_hue + 180) % 360 - 180)
        if chroma >= _UNDERTONE_C and apart >= _UNDERTONE_DEG:
            found[i] = hue_word(hue_deg)
    return found


def _clause(names: Sequence[str], verbs: str, rest: str) -> str:
    """Several do it, or one "warms and deepens it"."""
    several = " and ".join(verb.removesuffix("s") for verb in verbs.split(" and "))
    return f"{_listed(names)} {verbs if len(names) == 1 else several} {rest}"


def _listed(parts: Sequence[str]) -> str:
    return parts[0] if len(parts) == 1 else ", ".join(parts[:-1]) + " and " + parts[-1] if parts else ""


def _left_over(recipe: Recipe) -> str:
    if recipe.delta_e < 3:
        return ""
    if abs(recipe.delta_v) >= 0.3:
        return f" It stays {abs(recipe.delta_v):.1f} value steps too {'light' if recipe.delta_v > 0 else 'dark'}."
    return " The value is right, the hue is as near as this tray comes."
