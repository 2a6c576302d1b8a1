"""Directions, surfaces and what of them shows, each against something that was not made here."""

import numpy as np
import pytest
from scipy.spatial import ConvexHull
from scipy.special import sph_harm_y
from skimage.draw import polygon2mask

from core.light.directions import HARMONICS, even_directions, frames, harmonics, towards, turned
from core.light.raster import rasterise
from core.light.surface import normals_of, smoother

CUBE = np.array([[x, y, z] for x in (-1.0, 1) for y in (-1.0, 1) for z in (-1.0, 1)])
SIDES = np.array([[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]])


def test_harmonics_are_those_of_an_independent_library() -> None:
    """As spaces: each of ours is a mixture of theirs of its own degree, and all are orthonormal."""
    ways = even_directions(4000)
    ours = harmonics(ways)
    gram = ours.T @ ours * 4 * np.pi / len(ways)
    assert gram == pytest.approx(np.eye(HARMONICS), abs=5e-3)
    polar, around = np.arccos(ways[:, 2]), np.arctan2(ways[:, 1], ways[:, 0])
    for degree in range(4):
        theirs = np.stack([sph_harm_y(degree, m, polar, around) for m in range(-degree, degree + 1)], axis=1)
        mine = ours[:, degree**2 : (degree + 1) ** 2]
        rest = mine - (theirs @ np.linalg.lstsq(theirs, mine.astype(complex), rcond=None)[0]).real
        assert np.abs(rest).max() < 1e-4


def test_frames_stand_square_and_mirrored_normals_have_mirrored_frames() -> None:
    normals = even_directions(500)
    one, other = frames(normals)
    basis = np.stack([one, other, normals], axis=1)
    assert basis @ basis.transpose(0, 2, 1) == pytest.approx(np.broadcast_to(np.eye(3), (500, 3, 3)), abs=1e-9)
    aside = normals[np.abs(normals[:, 0]) > 1e-6]
    for mine, mirrored in zip(frames(aside), frames(aside * [-1, 1, 1]), strict=True):
        assert mirrored == pytest.approx(mine * [-1, 1, 1], abs=1e-12)


def test_directions_are_as_the_picture_says() -> None:
    assert towards(0, 0) == pytest.approx([0, 0, 1])
    assert towards(90, 0) == pytest.approx([1, 0, 0], abs=1e-12)
    assert towards(0, 90) == pytest.approx([0, 1, 0], abs=1e-12)
    nose = np.array([0.0, 0, 1])
    assert (turned(30, 0) @ nose)[0] > 0
    assert (turned(0, 20) @ nose)[1] < 0


def test_a_cube_is_smoothed_as_published_and_goes_towards_a_ball() -> None:
    """Catmull and Clark 1978: a corner of the cube goes to 5/9, the middle of an edge to 3/4, of a face stays."""
    values, quads = smoother(CUBE, SIDES, 3)
    assert (len(values), len(quads)) == (26, 24)
    assert np.abs(values[:8]) == pytest.approx(np.full((8, 3), 5 / 9))
    on_edges = np.sort(np.abs(values[8:20]), axis=1)
    assert on_edges == pytest.approx(np.broadcast_to([0, 0.75, 0.75], (12, 3)))
    assert np.sort(np.abs(values[20:]), axis=1) == pytest.approx(np.broadcast_to([0, 0, 1], (6, 3)))
    for _ in range(2):
        values, quads = smoother(values, quads, 3)
    far = np.linalg.norm(values, axis=1)
    assert np.ptp(far) / far.mean() < 0.12


def test_the_normals_of_a_ball_point_outwards() -> None:
    rng = np.random.default_rng(3)
    ball = rng.normal(size=(400, 3))
    ball /= np.linalg.norm(ball, axis=1, keepdims=True)
    triangles = ConvexHull(ball).simplices.copy()
    a, b, c = (ball[triangles[:, i]] for i in range(3))
    inwards = np.einsum("ni,ni->n", np.cross(b - a, c - a), a) < 0
    triangles[inwards] = triangles[inwards][:, ::-1]
    assert np.einsum("ni,ni->n", normals_of(ball, triangles), ball).min() > 0.97


def test_what_is_no_length_is_interpolated() -> None:
    values, _ = smoother(np.hstack([CUBE, np.arange(8.0)[:, None]]), SIDES, 3)
    assert values[:8, 3] == pytest.approx(np.arange(8.0))
    assert set(values[8:20, 3]) <= {(a + b) / 2 for a in range(8) for b in range(8)}


def test_a_triangle_fills_the_pixels_that_an_independent_library_fills() -> None:
    corners = np.array([[3.2, 4.1, 0], [5.7, 27.4, 0], [29.9, 12.3, 0]])
    shown = rasterise(corners, np.array([[0, 1, 2]]), 40, 30)
    mask = np.zeros(40 * 30, bool)
    mask[shown.pixel] = True
    theirs = polygon2mask((30, 40), corners[:, 1::-1] - 0.5)
    assert (mask.reshape(30, 40) ^ theirs).sum() <= 2
    backs = rasterise(corners, np.array([[0, 2, 1]]), 40, 30)
    assert len(backs.pixel) == 0


def test_the_nearest_triangle_shows_and_weights_give_the_place_back() -> None:
    near = np.array([[2.0, 2, 1], [2, 18, 1], [18, 2, 1]])
    far = near + np.array([1, 1, -2])
    shown = rasterise(np.vstack([far, near]), np.array([[0, 1, 2], [3, 4, 5]]), 24, 24)
    inside = (shown.pixel // 24 < 8) & (shown.pixel % 24 < 8)
    assert (shown.triangle[inside & (shown.pixel // 24 > 2) & (shown.pixel % 24 > 2)] == 1).all()
    mine = shown.triangle == 1
    weights = np.stack([1 - shown.u - shown.v, shown.u, shown.v], axis=1)[mine]
    place = weights @ near
    assert place[:, 0] == pytest.approx(shown.pixel[mine] % 24 + 0.5)
    assert place[:, 1] == pytest.approx(shown.pixel[mine] // 24 + 0.5)


def test_nothing_shows_of_what_lies_outside() -> None:
    assert len(rasterise(CUBE + 100, SIDES[:, :3], 20, 20).pixel) == 0
