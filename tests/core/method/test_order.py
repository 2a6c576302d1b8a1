from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.look.roles import ROLES
from core.method.method import methods
from core.method.order import Task, WorkSheet, shortest_order, work_sheet
from core.optics.medium import Pass

tasks = st.lists(
    st.tuples(st.sampled_from(ROLES), st.lists(st.sampled_from("abcdef"), min_size=0, max_size=4)),
    min_size=1,
    max_size=9,
).map(lambda rows: [Task(f"s{i}", role, tuple(Pass(code) for code in codes)) for i, (role, codes) in enumerate(rows)])


def sheet(given_tasks: list[Task], method: str = "darks_first") -> WorkSheet:
    return work_sheet(given_tasks, methods()[method], ord)


@settings(max_examples=150, deadline=None)
@given(tasks, st.sampled_from(sorted(methods())))
def test_every_pass_is_done_once_and_recipes_keep_their_order(rows: list[Task], method: str) -> None:
    made = sheet(rows, method)
    done = [(job.spot, job.index) for pick_up in made.pick_ups for job in pick_up.jobs]
    assert sorted(done) == sorted((task.spot, i) for task in rows for i in range(len(task.passes)))
    for task in rows:
        assert [index for spot, index in done if spot == task.spot] == list(range(len(task.passes)))
    for pick_up in made.pick_ups:
        assert {job.pass_.stick for job in pick_up.jobs} == {pick_up.stick}


@settings(max_examples=150, deadline=None)
@given(tasks, st.sampled_from(sorted(methods())))
def test_stages_come_one_after_the_other_and_no_stick_is_picked_up_twice_in_a_row(
    rows: list[Task], method: str
) -> None:
    made = sheet(rows, method)
    school = methods()[method]
    role = {task.spot: task.role for task in rows}
    stages = [school.stage(role[job.spot], job.index) for pick_up in made.pick_ups for job in pick_up.jobs]
    assert stages == sorted(stages)
    assert all(one.stick != other.stick for one, other in pairwise(made.pick_ups))


@settings(max_examples=150, deadline=None)
@given(tasks)
def test_the_lower_bound_is_never_above_what_was_found(rows: list[Task]) -> None:
    made = sheet(rows)
    assert made.fewest <= len(made.pick_ups)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.lists(st.sampled_from("abc"), min_size=1, max_size=3), min_size=1, max_size=4))
def test_small_sheets_are_as_short_as_any_order_can_be(rows: list[list[str]]) -> None:
    given_tasks = [Task(f"s{i}", "light", tuple(Pass(code) for code in codes)) for i, codes in enumerate(rows)]
    assert len(sheet(given_tasks).pick_ups) == shortest(tuple(tuple(row) for row in rows))


def shortest(rows: tuple[tuple[str, ...], ...]) -> int:
    """Length of the shortest common supersequence of runs, by breadth-first search over all orders."""
    states, length = {rows}, 0
    while not any(all(not row for row in state) for state in states):
        following = set()
        for state in states:
            for stick in {row[0] for row in state if row}:
                following.add(tuple(drop(row, stick) for row in state))
        states, length = following, length + 1
    return length


def drop(row: tuple[str, ...], stick: str) -> tuple[str, ...]:
    while row and row[0] == stick:
        row = row[1:]
    return row


@settings(max_examples=40, deadline=None)
@given(st.lists(st.lists(st.sampled_from("abcde"), min_size=1, max_size=5), min_size=2, max_size=3))
def test_what_is_called_the_fewest_is_what_any_order_needs(rows: list[list[str]]) -> None:
    truth = shortest(tuple(tuple(row) for row in rows))
    found = shortest_order(rows, ord)
    assert len(found.sticks) == found.fewest == truth
    hurried = shortest_order(rows, ord, looked_at=1)
    assert hurried.fewest <= truth <= len(hurried.sticks)


def test_layers_of_two_figures_are_laid_in_one_go_where_both_have_the_stick() -> None:
    found = shortest_order([["umber", "sienna", "rose"], ["umber", "ochre", "rose", "cream"]], len)
    assert (found.fewest, len(found.sticks)) == (5, 5)
    assert found.sticks[0] == "umber"
    assert shortest_order(["ab", "ab", "b"], ord, in_hand="a").sticks == ("b",)


def test_shared_sticks_are_used_in_one_go() -> None:
    made = sheet(
        [Task("one", "light", (Pass("a"), Pass("b"))), Task("two", "light", (Pass("a"), Pass("c"), Pass("b")))]
    )
    assert [pick_up.stick for pick_up in made.pick_ups] == ["a", "c", "b"]
    assert made.fewest == 3


def test_darks_come_first_when_the_method_says_so() -> None:
    made = sheet([Task("bright", "highlight", (Pass("a"),)), Task("dark", "deep accent", (Pass("b"),))])
    assert [pick_up.jobs[0].spot for pick_up in made.pick_ups] == ["dark", "bright"]


def test_the_base_of_every_spot_comes_first_when_the_method_says_so() -> None:
    rows = [Task("one", "shadow", (Pass("a"), Pass("b"))), Task("two", "light", (Pass("c"), Pass("b")))]
    made = sheet(rows, "pale_base_first")
    assert [pick_up.stick for pick_up in made.pick_ups] == ["a", "c", "b"]


@pytest.mark.parametrize("rows", [[], [Task("one", "light", ())]])
def test_nothing_to_do_is_an_empty_sheet(rows: list[Task]) -> None:
    assert sheet(rows).pick_ups == ()


def test_a_whole_piece_is_sorted_well_and_the_same_way_every_time() -> None:
    codes = "abcdefghijkl"
    rows = [Task(f"s{i}", ROLES[i % 7], tuple(Pass(codes[(i * k + k) % 12]) for k in range(1, 4))) for i in range(30)]
    made = sheet(rows)
    assert made == sheet(rows)
    assert len(made.pick_ups) <= 2.2 * made.fewest
