import numpy as np
import pytest

from core.look.borders import KINDS, border_lines
from core.look.study import WORKING_SIZE, Person, study
from core.look.views import scaled
from tests.crew import head


@pytest.fixture(scope="module")
def lines() -> tuple:
    return border_lines(study(scaled(head("tavi-morning").picture, WORKING_SIZE), None, [Person()]), 5)


def test_every_kind_of_border_is_drawn_inside_the_reference(lines: tuple) -> None:
    assert {line.kind for line in lines} == set(KINDS)
    points = np.concatenate([line.points for line in lines])
    assert points.min() >= 0
    assert points.max() <= 1


def test_the_outline_of_the_skin_follows_the_skin(lines: tuple) -> None:
    truth = head("tavi-morning").skin
    h, w = truth.shape
    # The outer outline; eyes, brows and lips are holes in it.
    line = max((line for line in lines if line.kind == "skin"), key=lambda line: len(line.points))
    for x, y in line.points[::5]:
        rows = slice(max(0, int(y * h) - 6), int(y * h) + 7)
        columns = slice(max(0, int(x * w) - 6), int(x * w) + 7)
        near = truth[rows, columns]
        assert near.any()
        assert not near.all()


def test_shadow_and_value_borders_lie_in_the_skin(lines: tuple) -> None:
    truth = head("tavi-morning").skin
    h, w = truth.shape
    points = np.concatenate([line.points for line in lines if line.kind in ("shadow", "value")])
    inside = truth[(points[:, 1] * h).astype(int).clip(0, h - 1), (points[:, 0] * w).astype(int).clip(0, w - 1)]
    assert inside.mean() > 0.97


def test_more_values_give_more_borders() -> None:
    seen = study(scaled(head("tavi-morning").picture, WORKING_SIZE), None, [Person()])
    counts = [sum(len(line.points) for line in border_lines(seen, n) if line.kind == "value") for n in (2, 5, 9)]
    assert counts == sorted(counts)
    assert counts[0] > 0
