"""Neighbours: areas that nobody can tell apart, and a surround that raises skin."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from core.surround.touching import Area, borders, looks, raised


def side_by_side(*labs: tuple[float, float, float]) -> tuple[NDArray[np.float64], NDArray[np.uint8]]:
    """Upright bands of these colours, with some tooth."""
    rng = np.random.default_rng(1)
    owner = np.repeat(np.arange(1, len(labs) + 1), 40)[None].repeat(90, axis=0).astype(np.uint8)
    lab = np.array(labs)[owner - 1] + ndimage.gaussian_filter(rng.normal(size=(*owner.shape, 3)), (1, 1, 0))
    return lab, owner


HAIR, COAT = Area("Ria’s hair", False), Area("the coat", False)


def test_what_is_half_a_step_and_a_little_hue_apart_melts_and_what_is_farther_does_not() -> None:
    lab, owner = side_by_side((30, 8, 10), (32, 9, 12))
    (row,) = borders(lab, owner, [HAIR, COAT])
    assert row.melts > 0.9 and row.length > 0.5 and abs(row.steps) < 0.5
    assert row.said.startswith("Ria’s hair and the coat melt into each other along most of their border")
    assert "Lay Ria’s hair a step darker" in row.said and "the same hue" in row.said
    for other in ((45, 9, 12), (31, -18, -20)):
        lab, owner = side_by_side((30, 8, 10), other)
        (row,) = borders(lab, owner, [HAIR, COAT])
        assert row.melts < 0.2 and row.said == ""


def test_skin_stays_and_its_neighbour_gives_way() -> None:
    lab, owner = side_by_side((60, 14, 18), (61, 13, 17))
    (row,) = borders(lab, owner, [Area("Ria", True), Area("the wall", False)])
    assert "Lay the wall a step lighter where it meets Ria" in row.said


def test_areas_that_hardly_touch_are_not_spoken_of() -> None:
    lab, owner = side_by_side((30, 8, 10), (60, 0, 0), (31, 8, 10))
    assert [(row.one, row.other) for row in borders(lab, owner, [HAIR, Area("wall", False), COAT])] == [(1, 2), (2, 3)]


def test_a_surround_is_moved_away_from_lights_that_come_out_wrong() -> None:
    lab, owner = side_by_side((60, 14, 18), (70, 0, 4))
    for off, way in ((-0.6, "darker"), (0.6, "lighter")):
        areas = [Area("Ria", True, off), Area("the wall", False)]
        rows = borders(lab, owner, areas)
        (said,) = raised(lab, owner, areas, rows)
        assert f"the wall some 2.5 steps {way}" in said.said or f"the wall some 2 steps {way}" in said.said
    areas = [Area("Ria", True, 0.1), Area("the wall", False)]
    assert raised(lab, owner, areas, borders(lab, owner, areas)) == []
    # Beside white paper nothing can be laid lighter.
    lab, owner = side_by_side((60, 14, 18), (92, 0, 2))
    areas = [Area("Ria", True, 0.6), Area("the paper", False)]
    assert raised(lab, owner, areas, borders(lab, owner, areas)) == []


def test_what_a_neighbour_does_in_the_eye_is_said_of_skin_alone() -> None:
    lab, owner = side_by_side((50, 20, 25), (92, 0, 2), (20, 0, 0))
    areas = [Area("Ria", True), Area("the paper", False), Area("the door", False)]
    said = looks(lab, owner, areas, borders(lab, owner, areas))
    assert len(said) == 1 and said[0].said.startswith("Ria beside the paper looks darker")
