"""Hair, brows, lashes and stubble: every one a curve."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from tools.portraits.mesh import Body
from tools.portraits.noise import clouds, noise, step

Floats = NDArray[np.float64]
Curves = tuple[Floats, Floats]
"""Points (m, k, 3) and radii (m, k)."""

_ROUND_DEG = [0, 18, 32, 48, 60, 70, 80, 90, 105, 125, 180]
_HAIRLINE = [0.62, 0.66, 0.66, 0.50, 0.30, 0.02, -0.12, -0.02, -0.08, -0.36, -0.56]
"""How high the hair begins, by the angle from the front, on the mean head."""


def above_hairline(points: Floats) -> Floats:
    """How far points (n, 3) of the mean head lie above the hairline."""
    angle = np.degrees(np.arctan2(np.abs(points[:, 0]), points[:, 2] - 0.05))
    return np.asarray(points[:, 1] - np.interp(angle, _ROUND_DEG, _HAIRLINE))


def brow(points: Floats, thick: float = 1.0) -> Floats:
    """How thick a brow grows at points (n, 3) of the mean head, 0–1."""
    x = np.abs(points[:, 0])
    s = (x - 0.10) / 0.46
    middle = np.interp(s, [0, 0.25, 0.6, 0.8, 1], [0.200, 0.225, 0.258, 0.248, 0.190])
    wide = thick * np.interp(s, [-0.05, 0.10, 0.3, 0.65, 1.02], [0.022, 0.044, 0.046, 0.032, 0.008])
    t = (points[:, 1] - middle) / np.maximum(wide, 0.002)
    ends = (0.15 + 0.85 * step(-0.02, 0.28, s)) * step(-0.08, -0.02, s) * step(1.06, 0.80, s)
    return np.asarray(np.clip(1.25 - np.abs(t), 0, 1) * ends * (points[:, 2] > 0.45))


class Grower:
    """Strands rooted in the skin of one person."""

    def __init__(self, body: Body, seed: int) -> None:
        self.body, self.rng = body, np.random.default_rng(seed)
        self._tree = cKDTree(body.v)

    def roots(self, density: Floats, count: int) -> tuple[Floats, Floats, Floats]:
        """Places, normals and places on the mean head, (count, 3) each, where a density (n,) of vertices is high."""
        triangles = self.body.triangles[density[self.body.triangles].min(axis=1) > 0.02]
        a, b, c = (self.body.v[triangles[:, i]] for i in range(3))
        weight = np.linalg.norm(np.cross(b - a, c - a), axis=1) * density[triangles].mean(axis=1)
        chosen = triangles[self.rng.choice(len(triangles), count, p=weight / weight.sum())]
        u = self.rng.random((count, 2))
        u = np.where(u.sum(axis=1, keepdims=True) > 1, 1 - u, u)
        share = np.column_stack([1 - u.sum(axis=1), u])

        def at(values: Floats) -> Floats:
            return np.einsum("nk,nki->ni", share, values[chosen])

        normals = at(self.body.normals)
        return at(self.body.v), normals / np.linalg.norm(normals, axis=1, keepdims=True), at(self.body.c)

    def above_skin(self, points: Floats, least: Floats | float, most: Floats | float) -> Floats:
        """Points moved along the nearest normal until they are within two heights above the skin."""
        shape = points.shape
        flat = points.reshape(-1, 3)
        _, near = self._tree.query(flat, workers=-1)
        normal = self.body.normals[near]
        height = np.einsum("ni,ni->n", flat - self.body.v[near], normal)
        wanted = np.clip(height, np.broadcast_to(least, shape[:-1]).ravel(), np.broadcast_to(most, shape[:-1]).ravel())
        return (flat + normal * (wanted - height)[:, None]).reshape(shape)

    def grown(self, roots: Floats, direction: Floats, length: Floats, pull: Floats, points: int,
              least: float, most: Floats | float) -> Floats:  # fmt: skip
        """Strands (m, points, 3) that start in a direction and are pulled another way, along the skin."""
        here, way = roots - 0.01 * direction, direction
        found = [here]
        part = (length / (points - 1))[:, None]
        for k in range(1, points):
            way = way + pull * (1.6 / points)
            way = way / np.linalg.norm(way, axis=1, keepdims=True)
            moved = self.above_skin(here + way * part, least * min(1.0, k / 2), most)
            step_ = moved - here
            here = here + step_ / np.maximum(np.linalg.norm(step_, axis=1, keepdims=True), 1e-9) * part
            found.append(here)
        return np.stack(found, axis=1)

    def clumped(self, strands: Floats, clumps: int, strength: float) -> Floats:
        """Strands drawn towards some of their number, more at the tips."""
        guides = self.rng.choice(len(strands), clumps, replace=False)
        _, mine = cKDTree(strands[guides, 0]).query(strands[:, 0])
        along = np.linspace(0, 1, strands.shape[1]) ** 1.3 * strength
        to = strands[guides][mine]
        own = (self.rng.random((len(strands), 1)) * 0.5 + 0.5) * along
        return strands + (to - strands) * own[..., None]

    def tapered(self, strands: Floats, radius: float, tip: float = 0.35) -> Curves:
        """With radii that fall towards the tips."""
        radii = radius * np.linspace(1, tip, strands.shape[1]) * (0.75 + 0.5 * self.rng.random((len(strands), 1)))
        return strands, radii

    def pulled_back(self, count: int) -> list[Curves]:
        """Long hair drawn back into a knot."""
        c = self.body.c
        density = step(-0.03, 0.10, above_hairline(c) + 0.05 * (noise(c * 40) - 0.5)) * (c[:, 1] > -0.62)
        density = density * (1 - self.body.masks[:, 1])
        roots, normals, _ = self.roots(density, count)
        knot = np.array([0.0, 0.30, -1.16])
        points, here, found = 14, roots - 0.02 * normals, []
        wave = 0.03 * (clouds(roots * 3.0, 2) - 0.5)
        for k in range(points):
            found.append(here)
            left = np.linalg.norm(knot - here, axis=1, keepdims=True)
            way = (knot - here) / np.maximum(left, 1e-6)
            height = 0.03 + 0.055 * np.sin(np.pi * min(1.0, (k + 1) / points)) + wave
            here = self.above_skin(here + way * left / (points - k), height * 0.7, height + 0.03)
        hair = self.clumped(np.stack(found, axis=1), 260, 0.72)
        m = count // 3
        axis = self.rng.normal(size=(m, 3)) * [1.0, 0.35, 0.35] + [0, 0.9, 0.5]
        axis /= np.linalg.norm(axis, axis=1, keepdims=True)
        first = np.cross(axis, self.rng.normal(size=(m, 3)))
        first /= np.linalg.norm(first, axis=1, keepdims=True)
        second = np.cross(axis, first)
        turn = np.linspace(0, 1.3 * np.pi, 14)[None, :, None] + self.rng.random((m, 1, 1)) * 2 * np.pi
        ring = np.cos(turn) * first[:, None] + np.sin(turn) * second[:, None]
        size = 0.80 + 0.20 * np.round(self.rng.random((m, 1, 1)) * 6) / 6 + 0.03 * self.rng.random((m, 1, 1))
        bun = knot + [0, 0.03, -0.16] + ring * size * np.array([0.36, 0.34, 0.28])
        wisps, normals, _ = self.roots(density * step(0.14, 0.02, above_hairline(c)), 320)
        back = knot - wisps
        start = 0.25 * normals + back / np.linalg.norm(back, axis=1, keepdims=True)
        start += 0.25 * self.rng.normal(size=start.shape)
        start /= np.linalg.norm(start, axis=1, keepdims=True)
        loose = self.grown(wisps, start, 0.15 + 0.30 * self.rng.random(len(wisps)), np.array([0, 0.1, -0.9]), 8, 0.005,
                           0.05)  # fmt: skip
        return [self.tapered(hair, 0.0042, 0.8), self.tapered(bun, 0.0045, 0.9), self.tapered(loose, 0.0016)]

    def swept(self, count: int) -> list[Curves]:
        """Short thick hair, swept back and to one side."""
        c = self.body.c
        over = above_hairline(c)
        density = (
            step(-0.04, 0.08, over + 0.06 * (noise(c * 40) - 0.5)) * (c[:, 1] > -0.55) * (1 - self.body.masks[:, 1])
        )
        roots, normals, mean = self.roots(density, count)
        # The sides are cut short.
        top = step(0.1, 0.75, mean[:, 1] + 0.2 * mean[:, 2]) * step(0.68, 0.40, np.abs(mean[:, 0]))
        length = 0.07 + 0.55 * top + 0.10 * self.rng.random(count)
        side = clouds(roots * 1.7, 2)[:, None] - 0.5
        pull = np.array([0.45, -0.15, -0.85]) + side * [1.8, 0.6, 0.8]
        # On the far side it would stand off the temple.
        pull[:, 0] *= step(0.40, 0.0, mean[:, 0])
        pull = pull * top[:, None] + np.array([0, -0.55, -0.80]) * (1 - top)[:, None]
        start = normals + 0.55 * np.array([0.2, 0.5, -0.5]) * top[:, None] + [0, -0.3, -0.9] * (1 - top)[:, None]
        start /= np.linalg.norm(start, axis=1, keepdims=True)
        hair = self.grown(roots, start, length, pull * 1.5, 10, 0.012, 0.03 + 0.20 * top)
        return [self.tapered(self.clumped(hair, 420, 0.85), 0.0042, 0.5)]

    def coils(self, count: int) -> list[Curves]:
        """Short hair of tight coils, standing off the head."""
        c = self.body.c
        over = above_hairline(c) + 0.05 * (noise(c * 30) - 0.5)
        density = step(-0.04, 0.10, over) * (c[:, 1] > -0.60) * (1 - self.body.masks[:, 1])
        roots, normals, mean = self.roots(density, count)
        full = step(-0.02, 0.25, above_hairline(mean))
        length = (0.10 + 0.26 * full * step(-0.4, 0.7, mean[:, 1])) * (0.8 + 0.4 * self.rng.random(count))
        out = normals + 0.25 * self.rng.normal(size=(count, 3)) + [0, 0.10, 0]
        out /= np.linalg.norm(out, axis=1, keepdims=True)
        first = np.cross(out, self.rng.normal(size=(count, 3)))
        first /= np.linalg.norm(first, axis=1, keepdims=True)
        second = np.cross(out, first)
        k = np.linspace(0, 1, 26)[None, :, None]
        turns = (length / 0.055)[:, None, None]
        phase = 2 * np.pi * (turns * k + self.rng.random((count, 1, 1)))
        wide = 0.020 * (0.7 + 0.6 * self.rng.random((count, 1, 1))) * np.minimum(1.0, 6 * k)
        coil = wide * (np.cos(phase) * first[:, None] + np.sin(phase) * second[:, None])
        hair = (roots - 0.01 * normals)[:, None] + out[:, None] * (k * length[:, None, None]) + coil
        return [self.tapered(self.clumped(hair, max(count // 14, 1), 0.45), 0.0030, 0.7)]

    def cropped(self, count: int, below: float) -> list[Curves]:
        """Hair of a few millimetres, seen below a cap."""
        c = self.body.c
        density = (
            step(-0.05, 0.08, above_hairline(c)) * (c[:, 1] < below) * (c[:, 1] > -0.55) * (1 - self.body.masks[:, 1])
        )
        roots, normals, _ = self.roots(density, count)
        hair = self.grown(roots, normals, np.full(count, 0.045), np.array([0, -1.2, -0.8]), 4, 0.002, 0.03)
        return [self.tapered(hair, 0.0034)]

    def brows(self, count: int, thick: float) -> list[Curves]:
        """Both brows."""
        roots, normals, mean = self.roots(brow(self.body.c, thick), count)
        side = np.sign(mean[:, :1])
        s = np.clip((np.abs(mean[:, :1]) - 0.10) / 0.46, 0, 1)
        way = np.hstack([side * (0.25 + 0.9 * s), 0.95 - 1.25 * s, -0.10 - 0.4 * s])
        start = 0.45 * normals + way + 0.18 * self.rng.normal(size=(count, 3))
        start /= np.linalg.norm(start, axis=1, keepdims=True)
        hair = self.grown(roots, start, 0.050 + 0.040 * self.rng.random(count), way * 0.8, 5, 0.003, 0.02)
        return [self.tapered(hair, 0.0016, 0.25)]

    def stubble(self, weight: Floats, count: int) -> list[Curves]:
        """Beard of a day, where a weight (n,) of vertices says."""
        roots, normals, _ = self.roots(weight, count)
        start = normals + [0, -0.9, 0] + 0.3 * self.rng.normal(size=(count, 3))
        start /= np.linalg.norm(start, axis=1, keepdims=True)
        hair = self.grown(roots, start, 0.012 + 0.012 * self.rng.random(count), np.zeros(3), 4, 0.0, 0.02)
        return [self.tapered(hair, 0.0019)]

    def lashes(self) -> list[Curves]:
        """Upper and lower lashes of both eyes."""
        found = []
        for number, (roots, tips) in enumerate(self.body.lashes):
            upper = number % 2 == 1
            order = np.argsort(roots[:, 0])
            roots, tips = roots[order], tips[order]
            count = 90 if upper else 40
            at = np.sort(self.rng.random(count)) * (len(roots) - 1)
            i, t = np.floor(at).astype(int), (at % 1)[:, None]
            j = np.minimum(i + 1, len(roots) - 1)
            root, tip = roots[i] * (1 - t) + roots[j] * t, tips[i] * (1 - t) + tips[j] * t
            k = np.linspace(0, 1, 6)[None, :, None]
            share = (0.75 if upper else 0.5) * (0.8 + 0.3 * self.rng.random((count, 1, 1)))
            bend = np.array([0, 0.03 if upper else -0.012, 0.0]) * k**2
            jitter = 0.010 * self.rng.normal(size=(count, 1, 3)) * k
            found.append(self.tapered(root[:, None] + (tip - root)[:, None] * k * share + bend + jitter, 0.0026, 0.2))
        return found
