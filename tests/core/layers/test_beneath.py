"""Plans of several media: another one beneath, and body colour over all, against the exact model of the kit."""

from collections.abc import Sequence
from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.layers.doses import Dose
from core.layers.ground import Ground
from core.layers.plan import Layer, Plan, Plans
from core.optics.kit import Kit
from core.optics.media import get_medium
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.plan.edited import Edited
from core.plan.layer_questions import FigureTask, first_plans
from core.plan.layered import Planning, plan_figure
from core.plan.mapped import maps_of
from core.plan.questions import Owned
from core.plan.setup import LaidOutTray, Setup, lay_out
from tests.conftest import a_range
from tests.core.layers.test_plans import CODES, FACE

SETUP = Setup(paper="medium-white", under="marker")
ON = (Dose("light", 1),) * len(FACE)


@cache
def tray(setup: Setup = SETUP) -> LaidOutTray:
    pencils = [stick for stick in a_range("long-pier-72").sticks if stick.code in CODES]
    pen = [stick for stick in a_range("lantern-16").sticks if stick.code == "N01"]
    return lay_out(Tray("all", (*pencils, *a_range("breakwater-60").sticks[::7], *pen)), setup)


@cache
def plans(setup: Setup = SETUP) -> Plans:
    return plan_figure(tray(setup), FACE, most=4)


def media_of(kit: Kit, layers: Sequence[Layer]) -> list[str]:
    return [kit.medium_of(layer.stick) for layer in layers]


def off(kit: Kit, plan: Plan) -> float:
    """Mean ΔE00 over the places, by the exact model."""
    seen = np.array([colours_after(kit, plan.passes_at(i))[-1] for i in range(len(FACE))])
    return float(ciede2000(np.array([spot.lab for spot in FACE]), seen).mean())


@pytest.mark.parametrize("finish", ["layer", "burnish"])
def test_markers_lie_beneath_pencils_and_what_is_promised_is_what_the_kit_gives(finish: str) -> None:
    setup = replace(SETUP, finish=finish, reserve=True)
    every, broken = plans(setup).by_count.values(), []
    first = next(i for i, spot in enumerate(FACE) if spot.role == "highlight")
    assert len(every) >= 2
    for plan in every:
        media = media_of(tray(setup).kit, plan.layers)
        inked = [layer for layer, its in zip(plan.layers, media, strict=True) if its == "marker"]
        if not inked or media != sorted(media, key=["marker", "pencil", ""].index):
            broken.append(("8a", media))
        if any(layer.levels[first] for layer in inked):
            broken.append(("8a", "what is kept free"))
        if max(len(plan.passes_at(i)) for i in range(len(FACE))) > setup.max_passes:
            broken.append(("8b", media))
        assert plan.expected.planned == pytest.approx(off(tray(setup).kit, plan), abs=0.15)
    assert broken == []
    # Markers that nobody has tried are less certain than pencils.
    longest = plans(setup).of(4)
    untried = [get_medium(its).id for its in media_of(tray(setup).kit, longest.layers) if its]
    assert longest.expected.on_paper > np.hypot(longest.expected.by_hand, 4.0) - 0.1
    assert set(untried) == {"marker", "pencil"}


def test_what_is_locked_beneath_stays_and_what_lies_over_it_is_planned_anew() -> None:
    kept = replace(plans().of(4).layers[0], id="kept")
    work = Planning(tray(), FACE, kept=(kept,))
    for _ in work.run(2):
        pass
    for plan in work.plans().by_count.values():
        assert plan.layers[0] == kept
        assert set(media_of(tray().kit, plan.layers[1:])) == {"pencil"}


def test_layers_of_all_media_are_judged_and_changed_by_hand() -> None:
    layers = tuple(replace(layer, id=f"l{i}") for i, layer in enumerate(plans().of(4).layers))
    touch = Layer("N01", ON[0], (Dose("medium", 1), *[None] * (len(FACE) - 1)), "", id="touch")
    held = Edited(tray(), FACE, (*layers, touch))
    plan = held.plan()
    assert [layer.id for layer in plan.layers] == [layer.id for layer in (*layers, touch)]
    assert plan.expected.planned == pytest.approx(off(tray().kit, plan), abs=0.15)
    again = held.fitted()
    assert again.layers[-1] == touch
    assert again.layers[0] == layers[0]
    swaps = held.other_sticks("l0")
    assert all(media_of(tray().kit, swap.layers)[0] == "marker" for swap in swaps)
    assert len({swap.stick for swap in swaps} | {layers[0].stick}) == len(swaps) + 1
    with pytest.raises(InputError) as caught:
        Edited(tray(), FACE, (*layers, touch), locked={"l0"}).other_sticks("l0")
    assert caught.value.code == "all_locked"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"medium": "marker", "method": "light_to_dark", "paper": "marker-card", "under": "pencil"}, "cannot_lie_over"),
        ({"under": "pastel"}, "cannot_lie_over"),
        ({"under": "opaque"}, "cannot_lie_over"),
        ({"under": "oil_pastel"}, "nothing_beneath"),
        ({"under": "chalk"}, "unknown_medium"),
        ({"banned": tuple(stick.code for stick in a_range("breakwater-60").sticks)}, "all_banned"),
    ],
)
def test_what_cannot_lie_beneath_is_said(change: dict[str, str], said: str) -> None:
    with pytest.raises(InputError) as caught:
        lay_out(Tray("all", tray().kit.sticks), replace(SETUP, **change))
    assert caught.value.code == said


def test_markers_over_pencils_are_refused_by_layer() -> None:
    marker, pencil = plans().of(4).layers[0], plans().of(4).layers[-1]
    with pytest.raises(InputError, match="Layer 2 cannot lie there") as caught:
        Edited(tray(), FACE, (pencil, marker))
    assert (caught.value.code, caught.value.field) == ("cannot_lie_over", "layers[1].stick")


@pytest.mark.parametrize("finish", ["layer", "burnish"])
def test_maps_of_several_media_and_of_their_end_are_what_the_kit_lays(finish: str) -> None:
    setup = replace(SETUP, finish=finish, reserve=True)
    plan, kit = plans(setup).of(6), tray(setup).kit
    assert {layer.technique for layer in plan.layers} >= ({"burnish"} if finish == "burnish" else set())
    bands = np.repeat(np.linspace([78, 10, 16], [34, 13, 12], 4), 30, axis=0)
    lab = np.repeat(bands[:, None], 40, axis=1).astype(np.float32)
    ground = Ground(lab, np.ones(lab.shape[:2], dtype=bool), 1.0, np.zeros(lab.shape[:2], dtype=bool))
    fields, steps = maps_of(tray(setup), plan, ground, 2, 30.0)
    *_, maps = steps
    seen = fields.after(maps).reshape(lab.shape)
    assert ciede2000(lab.reshape(-1, 3), seen.reshape(-1, 3)).mean() < 8
    compared = 0
    for y in range(8, len(bands) - 8):
        level = maps.levels[:, y, 20]
        if (maps.levels[:, y - 7 : y + 8, 12:28] == level[:, None, None]).all():
            doses = [its[number - 1] if number else None for its, number in zip(maps.doses, level, strict=True)]
            laid = [replace(layer, levels=(dose,)) for layer, dose in zip(plan.layers, doses, strict=True)]
            exact = colours_after(kit, replace(plan, layers=tuple(laid)).passes_at(0))[-1]
            assert ciede2000(seen[y, 20], np.array(exact)) < 0.8
            compared += 1
    assert compared >= 20


def test_what_lies_beneath_is_known_where_a_job_is_asked() -> None:
    owned = Owned(tray().kit.sticks, SETUP)
    assert owned.laid_out().under is not None
    first = first_plans(FigureTask(owned, tuple(FACE), most=3))
    for plan in first.by_count.values():
        assert media_of(tray().kit, plan.layers)[0] == "marker"
