"""What holds for every medium in the registry; a new one is tested by being registered."""

import itertools
from typing import Any

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.errors import InputError
from core.limits import LIMITS
from core.method.method import methods
from core.optics.film import film, over
from core.optics.media import MEDIA, counted, facts_of, get_medium
from core.optics.medium import HOW_HARD, MAX_REPEATS, PRESSURES, STEADY, Box, Hand, Medium, Pass
from core.optics.spectra import N_BANDS, reflectance_to_lab
from core.optics.stack import HANDS, colours_after, states_after, tooth_left_after
from core.optics.stick import Stick
from core.optics.support import get_support, supports
from tests.conftest import SWATCHES, pencil

CASES = [(medium, paper) for medium in MEDIA.values() for paper in supports().values() if medium.id in paper.media]


@pytest.fixture(params=CASES, ids=[f"{medium.id}-{paper.id}" for medium, paper in CASES])
def laid(request: pytest.FixtureRequest) -> tuple[Medium, Box]:
    medium, paper = request.param
    sticks = tuple(Stick(code, code, medium.id, pencil(code, lab).hex) for code, lab in SWATCHES.items())
    return medium, medium.prepare(sticks, paper)


def passes_of(medium: Medium) -> list[Pass]:
    return [
        Pass(code, pressure, repeats, technique)
        for code in ("peach", "brown", "blue", "white")
        for pressure in medium.pressures
        for repeats in (1, MAX_REPEATS)
        for technique in medium.techniques
    ]


def test_no_pass_makes_or_eats_more_light_than_there_is(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    state = box.start()
    for pass_ in passes_of(medium):
        state = box.apply(state, pass_)
        seen = box.reflectance(state)
        assert seen.shape == (N_BANDS,)
        assert (seen >= 0).all()
        assert (seen <= 1).all()
        assert 0 <= box.tooth_left(state) <= 1


def test_room_never_grows(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    rooms = tooth_left_after(box, passes_of(medium)[: LIMITS.passes])
    assert rooms[0] == 1
    assert all(later <= earlier for earlier, later in itertools.pairwise(rooms))


def test_more_pressure_and_more_repeats_change_the_paper_more(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    paper = colours_after(box, [])[0, 0]
    grid = np.array(
        [
            [abs(colours_after(box, [Pass("brown", pressure, n)])[-1, 0] - paper) for n in (1, 2, 3)]
            for pressure in medium.pressures
        ]
    )
    # Body colour hides at once, so that later steps of it are as good as nothing.
    assert (np.diff(grid, axis=0) > -0.01).all()
    assert (np.diff(grid, axis=1) > -0.01).all()
    assert grid[-1, -1] > grid[0, 0] + 1


def test_each_repeat_of_a_stick_adds_less_than_the_one_before(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    seen = colours_after(box, [Pass("sienna", medium.pressures[-1])] * 4)
    steps = np.linalg.norm(np.diff(seen, axis=0), axis=1)
    assert (np.diff(steps) < 0).all()


def test_order_counts_as_the_medium_lies(laid: tuple[Medium, Box]) -> None:
    """Of crumbs, of body colour and of films on a tooth that still holds them the one on top decides; ink has no
    top; in paste the dark takes over; on smooth paper the first film takes the place, and order counts at all."""
    medium, box = laid
    hand = medium.pressures[0]
    for dark, pale in (("sienna", "lightblue"), ("violet", "peach"), ("brown", "ochre")):
        on_top, beneath = (
            colours_after(box, [Pass(a, hand), Pass(b, hand)])[-1] for a, b in ((dark, pale), (pale, dark))
        )
        alone = colours_after(box, [Pass(pale, hand)])[-1]
        if medium.lies == "ink":
            assert ciede2000(on_top, beneath) < 3
        elif medium.lies == "paste":
            assert max(on_top[0], beneath[0]) < alone[0] - 5
        elif medium.lies == "film" and box.support.tooth < 0.5:
            assert ciede2000(on_top, beneath) > 0.1
        else:
            assert ciede2000(on_top, alone) < ciede2000(beneath, alone)


@pytest.mark.parametrize("medium", [m for m in MEDIA.values() if m.lies != "ink"], ids=lambda m: m.id)
def test_two_half_films_of_a_stick_are_one_film(medium: Medium) -> None:
    sticks = tuple(Stick(code, code, medium.id, pencil(code, lab).hex) for code, lab in SWATCHES.items())
    box: Any = medium.prepare(sticks, get_support("medium-white"))
    ground = np.full(N_BANDS, 0.4)
    half = film(box.k, box.s, 0.5)
    assert np.allclose(over(over(ground, *half), *half), over(ground, *film(box.k, box.s, 1.0)), atol=1e-9)


def test_the_same_passes_give_the_same_bytes(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    chosen = passes_of(medium)[:6]
    again = medium.prepare(box.sticks, box.support)
    assert colours_after(box, chosen).tobytes() == colours_after(again, chosen).tobytes()


def test_the_search_sees_what_the_exact_model_sees(laid: tuple[Medium, Box]) -> None:
    _, box = laid
    blank, bare = box.blank()
    roots, _ = box.expand(blank, bare)
    assert roots.shape[:2] == (1, len(box.actions))
    assert box.seen(roots).shape == (1, len(box.actions), N_BANDS)
    chosen = np.arange(0, len(box.actions), 7)
    second = (chosen * 5 + 3) % len(box.actions)
    if box.once_a_stick:
        others = np.array([box.actions[a].stick != box.actions[b].stick for a, b in zip(chosen, second, strict=True)])
        chosen, second = chosen[others], second[others]
    assert len(chosen) > 5
    for hand in (STEADY, *HANDS):
        started, filled = box.advance(np.repeat(blank, len(chosen), axis=0), np.full(len(chosen), bare), chosen, hand)
        advanced, _ = box.advance(started, filled, second, hand)
        seen = reflectance_to_lab(box.seen(advanced).astype(float))
        for row, one, two in zip(seen, chosen, second, strict=True):
            actions = [box.actions[one], box.actions[two]]
            passes = [Pass(box.sticks[a.stick].code, PRESSURES[a.pressure], a.repeats, a.technique) for a in actions]
            assert np.allclose(row, colours_after(box, passes, hand)[-1], atol=0.01)


def test_strokes_at_many_places_are_passes_at_each(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    hard = {"light": 1.0} if medium.lies == "ink" else dict(zip(PRESSURES, HOW_HARD, strict=True))
    places = [(hand, times) for hand in medium.pressures for times in (1, 2, MAX_REPEATS)]
    pressure, times = np.array([hard[hand] for hand, _ in places]), np.array([times for _, times in places])
    roots, bare = box.blank()
    state = np.repeat(roots, len(places), axis=0), np.full(len(places), float(bare))
    one_by_one = state
    for code in ("peach", "brown"):
        stick = list(SWATCHES).index(code)
        state = box.strokes(*state, stick, pressure, times)
        for number in range(MAX_REPEATS):
            on = times > number
            more = box.strokes(
                *(part[on] for part in one_by_one), stick, pressure[on], np.ones(on.sum(), int), before=number
            )
            for part, changed in zip(one_by_one, more, strict=True):
                part[on] = changed
    assert np.allclose(state[0], one_by_one[0], atol=1e-4)
    for seen, (hand, repeats) in zip(reflectance_to_lab(box.seen(state[0])), places, strict=True):
        passes = [Pass("peach", hand, repeats), Pass("brown", hand, repeats)]
        assert np.allclose(seen, colours_after(box, passes)[-1], atol=0.15)


def test_pressure_fades_evenly_to_nothing(laid: tuple[Medium, Box]) -> None:
    _, box = laid
    roots, bare = box.blank()
    pressure = np.linspace(0.025, 1, 40)
    start = np.repeat(roots, 40, axis=0), np.full(40, float(bare))
    after, _ = box.strokes(*start, list(SWATCHES).index("brown"), pressure, np.ones(40, int))
    seen = np.concatenate([reflectance_to_lab(box.seen(roots)), reflectance_to_lab(box.seen(after))])
    steps = np.diff(seen[:, 0]) * np.sign(seen[-1, 0] - seen[0, 0])
    assert (steps > -0.1).all()
    assert steps.max() < 0.3 * abs(seen[-1, 0] - seen[0, 0])


def test_each_place_may_have_a_hand_of_its_own(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    hands = [STEADY, *HANDS]
    roots, bare = box.blank()
    state = np.repeat(roots, len(hands), axis=0), np.full(len(hands), float(bare))
    thickness, coverage = np.array([(hand.thickness, hand.coverage) for hand in hands]).T
    stick, twice = list(SWATCHES).index("terracotta"), np.full(len(hands), 2)
    roots, _ = box.strokes(*state, stick, np.ones(len(hands)), twice, hand=Hand(thickness, coverage))
    alone = [colours_after(box, [Pass("terracotta", medium.pressures[-1], 2)], hand)[-1] for hand in hands]
    assert np.allclose(reflectance_to_lab(box.seen(roots)), alone, atol=0.15)


def test_going_on_from_many_stacks_at_once_is_going_on_from_each(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    *others, last = (stick.code for stick in box.sticks)
    may = [i for i, action in enumerate(box.actions) if box.sticks[action.stick].code != last]
    paths = np.array([(i, j) for i in may[::7] for j in may[3::11] if box.actions[i].stick != box.actions[j].stick])
    pile = box.pile(paths)
    assert len(others) > 1 < len(paths)
    some = np.arange(0, len(paths), 5)
    tools = [(tool, technique) for tool, fit in medium.tools.items() for technique in fit]
    for stick, technique in [*((last, technique) for technique in medium.techniques), *tools]:
        ending = Pass(stick, medium.pressures[-1], 1, technique)
        seen = reflectance_to_lab(box.reflectance(box.apply(box.rows(pile, some), ending)))
        for row, path in zip(seen, paths[some], strict=True):
            actions = [box.actions[i] for i in path]
            passes = [Pass(box.sticks[a.stick].code, PRESSURES[a.pressure], a.repeats, a.technique) for a in actions]
            assert np.allclose(row, colours_after(box, [*passes, ending])[-1], atol=0.02)


def test_several_hands_at_once_lay_what_each_lays_by_itself(laid: tuple[Medium, Box]) -> None:
    medium, box = laid
    passes = passes_of(medium)[:6]
    together = states_after(box, passes, Hand.together([STEADY, *HANDS]))
    for state, *alone in zip(together[1:], *(states_after(box, passes, h)[1:] for h in (STEADY, *HANDS)), strict=True):
        assert np.allclose(box.reflectance(state), [box.reflectance(one) for one in alone], rtol=1e-12)


def test_expanding_and_advancing_agree(laid: tuple[Medium, Box]) -> None:
    _, box = laid
    blank, bare = box.blank()
    roots, deposits = box.expand(blank, bare)
    start = 11
    onward, filled = box.expand(roots[0, start][None], float(deposits[start]))
    every = np.arange(len(box.actions))
    repeated = np.repeat(roots[0, start][None], len(every), axis=0)
    advanced, filled_too = box.advance(repeated, np.full(len(every), deposits[start]), every)
    assert np.allclose(onward[0], advanced, atol=1e-5)
    assert np.allclose(filled, filled_too)


@pytest.mark.parametrize(
    ("wrong", "code", "field"),
    [
        (Pass("nothing"), "unknown_stick", "stick"),
        (Pass("brown", "crushing"), "bad_pressure", "pressure"),
        (Pass("brown", "light", 1, "pour"), "bad_technique", "technique"),
        (Pass("brown", "light", 0), "bad_repeats", "repeats"),
        (Pass("brown", "light", MAX_REPEATS + 1), "bad_repeats", "repeats"),
    ],
    ids=lambda v: v if isinstance(v, str) else "",
)
def test_what_cannot_be_done_is_refused_by_name(laid: tuple[Medium, Box], wrong: Pass, code: str, field: str) -> None:
    _, box = laid
    with pytest.raises(InputError) as caught:
        colours_after(box, [Pass("brown", "light"), wrong])
    assert caught.value.code == code
    assert caught.value.field == f"passes[1].{field}"


def test_too_many_passes_are_refused(laid: tuple[Medium, Box]) -> None:
    _, box = laid
    with pytest.raises(InputError, match="too many"):
        colours_after(box, [Pass("brown")] * (LIMITS.passes + 1))


def test_a_steady_hand_has_no_tolerance_to_pay(laid: tuple[Medium, Box]) -> None:
    _, box = laid
    chosen = [Pass("peach", "light", 2), Pass("sienna")]
    steady, varied = (
        reflectance_to_lab(box.reflectance(states_after(box, chosen, Hand.together(hands))[-1]))
        for hands in ([STEADY] * 2, [STEADY, *HANDS])
    )
    assert ciede2000(steady[0], steady[1]) == 0
    assert 0.2 < ciede2000(varied[0], varied[1:]).mean() < 8


def test_an_unknown_medium_is_refused_with_the_choice() -> None:
    with pytest.raises(InputError) as caught:
        get_medium("watercolour")
    assert caught.value.code == "unknown_medium"
    assert "pencil" in caught.value.hint


def test_every_medium_has_a_paper_a_method_and_a_caution_for_its_sheet() -> None:
    for medium in MEDIA.values():
        assert any(medium.id in paper.media for paper in supports().values())
        assert any(method.medium == medium.id for method in methods().values())
        assert facts_of(medium.id).caution
        assert medium.techniques[0] == "lay"


def test_there_are_papers_enough_with_words_for_each() -> None:
    papers = supports().values()
    assert len(papers) >= 10
    for paper in papers:
        assert paper.note.endswith(".")
        assert set(paper.media) <= set(MEDIA)
        assert list(paper.coverage) == sorted(paper.coverage)


@pytest.mark.parametrize(
    ("count", "media", "said"),
    [(3, ["pencil"] * 3, "3 pencils"), (1, ["marker"], "1 marker"), (2, ["pencil", "marker"], "2 sticks")],
)  # fmt: skip
def test_what_is_of_one_medium_is_called_by_it(count: int, media: list[str], said: str) -> None:
    assert counted(count, media) == said
