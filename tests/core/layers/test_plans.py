"""Plans of a figure: what they promise, what they are measured against, and what is said where none can be made."""

import itertools
from dataclasses import replace

import numpy as np
import pytest

from core.errors import InputError
from core.layers.curve import Curve
from core.layers.doses import NONE, Dose, scale_of
from core.layers.draft import Draft
from core.layers.natural import Spot, areas_of
from core.layers.plan import Expected, Layer, Plan, recommended
from core.layers.school import Wishes, frame_for
from core.layers.search import NEW_STICK_COST, PLACE_COST, Search
from core.limits import LIMITS
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.plan.layered import Planning, figures_of, plan_figure
from core.plan.setup import LaidOutTray, Setup, lay_out
from tests.conftest import a_range

FACE = [
    Spot("brow", "brow", "highlight", (78.0, 9.0, 16.0)), Spot("cheek", "cheek", "light", (70.0, 17.0, 20.0)),
    Spot("nose", "nose side", "middle", (60.0, 15.0, 19.0)), Spot("jaw", "jaw", "half-shadow", (48.0, 13.0, 15.0)),
    Spot("neck", "neck", "shadow", (36.0, 12.0, 12.0)), Spot("chin", "under the chin", "deep accent", (25.0, 8.0, 7.0)),
]  # fmt: skip
CODES = ("L01", "L05", "L11", "L27", "L44", "L52", "L60")


def few(big_range: Tray, *codes: str, setup: Setup | None = None) -> LaidOutTray:
    sticks = tuple(stick for stick in big_range.sticks if stick.code in (codes or CODES))
    return lay_out(Tray("few", sticks), setup or Setup())


def test_a_plan_is_read_at_every_place_and_foreseen_by_the_exact_model(big_range: Tray) -> None:
    laid_out = few(big_range)
    plan = plan_figure(laid_out, FACE, most=4).of(4)
    assert len(plan.layers) == 4
    off = []
    for place, spot in enumerate(FACE):
        passes = plan.passes_at(place)
        assert passes == tuple(
            Pass(layer.stick, dose.pressure, dose.repeats) for layer in plan.layers if (dose := layer.levels[place])
        )
        seen = colours_after(laid_out.kit, passes)[-1]
        off.append(abs(float(seen[0]) - spot.lab[0]))
    assert np.mean(off) < 4
    assert plan.expected.planned < plan.expected.by_hand < plan.expected.on_paper


def test_more_layers_never_make_it_worse_and_the_same_question_has_the_same_answer(big_range: Tray) -> None:
    plans = plan_figure(few(big_range), FACE, most=4)
    curve = [plan.expected.by_hand for plan in plans.by_count.values()]
    assert curve == sorted(curve, reverse=True)
    assert list(plans.by_count) == sorted(plans.by_count)
    assert plan_figure(few(big_range), FACE, most=4) == plans


def test_a_plan_is_there_after_the_first_step_and_gets_no_worse(big_range: Tray) -> None:
    work = Planning(few(big_range), FACE)
    steps = work.run(5)
    next(steps)
    first = work.plans()
    assert first.by_count
    for _ in steps:
        pass
    last = work.plans()
    assert min(p.expected.by_hand for p in last.by_count.values()) <= min(
        p.expected.by_hand for p in first.by_count.values()
    )


def test_small_cases_come_near_the_best_of_all(big_range: Tray) -> None:
    """Every list of two of four sticks, every dose at every place: worked out here one by one."""
    laid_out, spots = few(big_range, "L05", "L27", "L44", "L52"), FACE[1:5]
    search = _search(laid_out, spots)
    best = np.inf
    for pair in itertools.permutations(range(4), 2):
        every = np.array(list(itertools.product(range(10), repeat=2)), dtype=np.intp)
        costs = np.full((len(every), 4), np.inf)
        for row, doses in enumerate(every):
            draft = Draft(pair, (0, 1), np.repeat(doses[:, None], 4, axis=1))
            costs[row] = _each(search, draft)
            for place in range(4):
                at_one = np.zeros((2, 4), dtype=np.intp)
                at_one[:, place] = doses
                if not _may(search, replace(draft, doses=at_one), place):
                    costs[row, place] = np.inf
        best = min(best, float(costs.min(axis=0).sum()) + 2 * NEW_STICK_COST)
    curve = Curve(search)
    for _ in curve.steps(2):
        pass
    assert curve.best[2][0] <= 1.02 * best


def test_layers_are_put_in_another_order_where_that_is_cheaper(big_range: Tray) -> None:
    """With two sticks and two layers an exchange can be nothing else."""
    search = _search(few(big_range, "L27", "L44"), FACE)
    starts = [np.full((2, len(FACE)), dose) for dose in range(1, 4)]
    bare = np.zeros((2, len(FACE)), dtype=np.intp)
    both = [search.begun_anew(Draft(pair, (0, 1), bare), starts) for pair in ((0, 1), (1, 0))]
    worse, better = sorted(both, key=search.total, reverse=True)
    changed = search.exchanged(worse)
    assert changed.sticks == better.sticks
    assert search.lawful(changed) and search.total(changed) <= 1.02 * search.total(better) < search.total(worse)
    assert search.total(search.exchanged(better)) <= search.total(better)


def test_doses_begun_anew_come_near_the_best_of_all_and_keep_the_rules(big_range: Tray) -> None:
    search = _search(few(big_range), FACE)
    sticks, m = (search.usable[4], search.usable[2], search.usable[6]), len(FACE)
    every = np.array(list(itertools.product(range(len(search.scale.doses) + 1), repeat=len(sticks))))
    costs = np.full((len(every), m), np.inf)
    for row, doses in enumerate(every):
        draft = Draft(sticks, (0, 1, 2), np.repeat(doses[:, None], m, axis=1))
        may = np.array([_may(search, draft, place) for place in range(m)])
        assert (search.lawful_at(draft) == may).all(), doses
        costs[row, may] = _each(search, draft)[may]
    rng = np.random.default_rng(3)
    bare = Draft(sticks, (0, 1, 2), np.zeros((3, m), dtype=np.intp))
    draft = search.begun_anew(bare, [rng.integers(len(search.scale.doses) + 1, size=(3, m)) for _ in range(12)])
    assert search.lawful(draft) and search.lawful_at(draft).all()
    assert _each(search, draft).sum() <= 1.02 * costs.min(axis=0).sum()
    # Nothing is lost by beginning from what is worse.
    again = search.begun_anew(draft, [np.zeros((3, m), dtype=np.intp)])
    assert (_each(search, again) <= _each(search, draft) + 1e-9).all()


def test_what_the_rules_forbid_is_told_place_by_place(big_range: Tray) -> None:
    search = _search(few(big_range), FACE)
    heavy = search.scale.index(Dose("heavy", 1))
    pale, dark = (int(f(search.usable, key=lambda i: search.box.sticks[i].lab[0])) for f in (max, min))
    doses = np.zeros((2, len(FACE)), dtype=np.intp)
    doses[0, :3], doses[1, 1] = heavy, search.scale.index(Dose("light", 1))
    draft = Draft((dark, pale), (0, 1), doses)
    # By the usual method darks keep out of the lights, and nothing comes over what was laid heavily.
    kept = search.lawful_at(draft)
    assert not kept[:2].any() and kept[3:].all()
    assert not search.lawful(draft) and search.lawful(draft.laid(0, np.zeros_like(doses[0])).laid(1, doses[1] * 0))


def _search(laid_out: LaidOutTray, spots: list[Spot]) -> Search:
    aims = laid_out.aims(np.array([spot.lab for spot in spots]))
    frame = frame_for(laid_out.box, laid_out.method, [spot.role for spot in spots], aims, Wishes(black="free"))
    nowhere = np.zeros((0, len(spots)), dtype=bool)
    return Search(laid_out.box.coarse(), scale_of(laid_out.setup.medium), aims, frame, nowhere)


def _each(search: Search, draft: Draft) -> np.ndarray:
    state = search.places.start()
    for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
        state = search.places.lay(state, slot, stick, doses)
    return search.places.costs(state)[0] + PLACE_COST * (draft.doses != NONE).sum(axis=0)


def _may(search: Search, draft: Draft, place: int) -> bool:
    """Whether the doses of one place keep the rules."""
    frame, state, passes, soft_so_far = search.frame, search.steady.start(), list[int](), True
    for slot, stick, doses in zip(draft.slots, draft.sticks, draft.doses, strict=True):
        if (dose := doses[place]) == NONE:
            continue
        hard = search.scale.hard[dose]
        # What begins may begin there and is no harder than the first; what goes on follows all before, none heavy.
        fits = (
            all(frame.follow[below, stick] for below in passes) and soft_so_far
            if passes
            else (frame.may_begin[place, stick] and hard <= frame.first_hardest)
        )
        tooth = search.box.tooth_left_at(state.filled)[place]
        if not (fits and frame.may_lie[place, stick] and tooth >= frame.least_tooth):
            return False
        passes.append(int(stick))
        soft_so_far &= hard < 2
        state = search.steady.lay(state, slot, stick, doses)
    return True


def test_the_second_figure_is_glad_of_the_sticks_of_the_first(big_range: Tray) -> None:
    laid_out = lay_out(big_range, Setup())
    other = [replace(spot, lab=(spot.lab[0] - 3, spot.lab[1] + 1, spot.lab[2] + 1)) for spot in FACE]
    together = figures_of(laid_out, [FACE, other], most=5)
    first, second = (set(plans.of(plans.recommended).sticks) for plans in together)
    assert len(first & second) >= 2


def test_a_layer_is_worth_it_as_long_as_it_brings_more_than_the_hand_spoils() -> None:
    def curve(*by_hand: float) -> dict[int, Plan]:
        return {n: Plan((), Expected(e - 1, e, e + 2)) for n, e in enumerate(by_hand, start=1)}

    assert recommended(curve(6.0, 4.0, 3.0, 2.5, 2.45, 2.41)) == 4
    assert recommended(curve(6.0, 5.99)) == 1
    # A flat step before a fall is no reason to stop.
    assert recommended(curve(6.0, 4.0, 3.95, 3.0, 2.98)) == 4


def test_fewer_layers_are_worth_it_as_long_as_nobody_has_tried_the_sticks() -> None:
    """The same plans: what a layer brings is seen on paper only where more is known of the sticks than that."""

    def curve(untried: float) -> dict[int, Plan]:
        by_hand = (6.0, 4.0, 3.0, 2.6, 2.35, 2.15, 2.1)
        return {n: Plan((), Expected(e - 0.9, e, float(np.hypot(e, untried)))) for n, e in enumerate(by_hand, start=1)}

    counts = [recommended(curve(untried)) for untried in (0.0, 1.5, 4.0, 8.0)]
    assert counts == sorted(counts, reverse=True) and counts[0] > counts[2] > counts[3]


def test_what_lies_out_of_reach_keeps_the_order_of_its_values(big_range: Tray) -> None:
    """Five shadows darker than the darkest stick: any of them would do for all, and yet the deeper is to be the darker
    one; practice: values before all else."""
    places = ("neck", "jaw", "under the chin", "temple", "ear")
    deep = [Spot(place, place, "shadow", (6.0 + 4 * i, 7.0, 6.0)) for i, place in enumerate(places)]
    brown = [replace(spot, lab=(spot.lab[0] - 34, 13.0, 17.0)) for spot in FACE[:3]]
    laid_out = lay_out(Tray("every fifth", big_range.sticks[::5]), Setup())
    plans = plan_figure(laid_out, [*brown, *deep], most=5)
    for count in (4, 5):
        seen = [float(colours_after(laid_out.kit, plans.of(count).passes_at(place))[-1][0]) for place in range(3, 8)]
        assert np.diff(seen).min() > 0.05, (count, seen)


def test_areas_have_plain_names() -> None:
    areas = areas_of(FACE)

    def called(*places: str) -> str:
        return areas.called(np.array([spot.place in places for spot in FACE]))

    every = [spot.place for spot in FACE]
    assert called(*every) == "all the skin"
    assert called(*every[1:]) == "all but the highlights"
    assert called("neck", "under the chin") == "the shadows"
    assert called("jaw", "neck", "under the chin") == "half-tone and darker"
    assert called("cheek") == "the blood places"
    assert called("nose side") == "the middle tones"
    assert called("jaw", "neck", "under the chin", "brow") == "half-tone and darker and brow"
    assert called() == "nowhere"
    assert called("under the chin") == "the deepest accents"
    shades = areas_of([replace(spot, role="shadow") for spot in FACE[3:]])
    assert [shades.called(np.arange(3) == place) for place in range(3)] == [
        "the cool places",
        "the neck",
        "under the chin",
    ]


@pytest.mark.parametrize(
    ("spots", "setup", "most", "code"),
    [
        ([], Setup(), 4, "no_spots"),
        (FACE * 34, Setup(), 4, "too_many_spots"),
        (FACE, Setup(), 0, "bad_layers"),
        (FACE, Setup(), 40, "bad_layers"),
    ],
)
def test_what_cannot_be_planned_is_said(spots: list[Spot], setup: Setup, most: int, code: str, big_range: Tray) -> None:
    with pytest.raises(InputError) as caught:
        plan_figure(few(big_range, setup=setup), spots, most=most)
    assert caught.value.code == code
    assert caught.value.hint


def test_one_spot_one_stick_and_two_hundred_spots_have_plans(big_range: Tray) -> None:
    one = plan_figure(few(big_range), FACE[1:2], most=3)
    assert one.of(3).expected.planned < 3
    alone = plan_figure(few(big_range, "L27"), FACE, most=3)
    assert alone.of(1).sticks == ("L27",)
    rng = np.random.default_rng(4)
    many = [
        replace(FACE[i % 6], name=f"s{i}", lab=tuple(np.array(FACE[i % 6].lab) + rng.normal(0, 2, 3)))
        for i in range(LIMITS.spots)
    ]
    assert plan_figure(few(big_range, "L05", "L52"), many, most=1).of(1).layers


def test_a_tray_too_light_for_its_targets_still_has_a_plan_of_markers() -> None:
    pale = Tray("pale", tuple(stick for stick in a_range("breakwater-60").sticks if stick.lab[0] > 75)[:6])
    laid_out = lay_out(pale, Setup("marker", "marker-card", "light_to_dark"))
    plan = plan_figure(laid_out, FACE[3:], most=3).of(3)
    assert plan.expected.planned > 10
    assert all(layer.most == Dose("light", 3) for layer in plan.layers[:1])


def test_layers_are_values() -> None:
    layer = Layer("L27", Dose("medium", 2), (Dose("light", 1), None), "the lights")
    assert layer == replace(layer)
    assert Plan((layer,), Expected(1.0, 2.0, 4.5)).passes_at(1) == ()
