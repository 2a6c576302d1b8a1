"""The skin of a person: which place each vertex belongs to, and the spectrum of each place."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.skin.complexion import typology_angle
from core.skin.describe import usual_offset
from core.skin.reflectance import body_reflectance
from core.skin.solve import skins_of
from tools.portraits.mesh import Body

Floats = NDArray[np.float64]

# Centre, reach and strength of each place on the mean head. The head is symmetric: x counts from the middle.
ROUND = {
    "forehead": ((0, 0.50, 1.0), (0.50, 0.26, 0.40), 1.6),
    "temple": ((0.62, 0.25, 0.55), (0.18, 0.30, 0.28), 1.1),
    "brow": ((0.28, 0.20, 1.0), (0.26, 0.085, 0.25), 1.5),
    "eye socket": ((0.27, -0.10, 0.95), (0.15, 0.06, 0.20), 1.5),
    "nose bridge": ((0, -0.02, 1.08), (0.075, 0.17, 0.20), 1.6),
    "nose side": ((0.12, -0.14, 1.02), (0.06, 0.15, 0.12), 1.5),
    "nose tip": ((0, -0.30, 1.19), (0.10, 0.10, 0.11), 2.2),
    "cheek": ((0.40, -0.34, 0.85), (0.24, 0.24, 0.35), 1.6),
    "cheekbone": ((0.50, -0.10, 0.80), (0.16, 0.09, 0.25), 1.4),
    "mouth surround": ((0, -0.45, 1.14), (0.14, 0.06, 0.12), 1.6),
    "lip corner": ((0.28, -0.59, 1.0), (0.06, 0.06, 0.12), 1.2),
    "chin": ((0, -0.85, 1.06), (0.21, 0.13, 0.25), 1.6),
    "jaw": ((0.52, -0.66, 0.45), (0.28, 0.22, 0.40), 1.3),
}
PARTING = -0.585
PLACES = (*ROUND, "upper lid", "upper lip", "lower lip", "ear", "under the chin", "neck", "chest", "hairline")

_FLUSH = {"cheek": 1.0, "cheekbone": 0.5, "nose tip": 1.0, "nose side": 0.7, "ear": 1.2, "chin": 0.5, "lower lip": 0.3,
          "upper lip": 0.3, "upper lid": 0.35}  # fmt: skip


@dataclass(frozen=True)
class Skin:
    """lab: the mean of forehead and cheek in daylight. flush: more blood where blood shows. beard: how blue the shaven
    parts are."""

    lab: tuple[float, float, float]
    flush: float = 0.0
    beard: float = 0.0

    def labs(self) -> Floats:
        """CIELAB (p, 3) in daylight of every place, before the flush."""
        angle = typology_angle(self.lab)
        rows = []
        for place in PLACES:
            offset = usual_offset(place, angle)
            if place in ("jaw", "chin", "mouth surround", "under the chin"):
                offset = offset + self.beard * np.array([-4.0, -1.5, -4.0])
            rows.append(np.array(self.lab) + offset)
        return np.array(rows)

    def reflectances(self) -> Floats:
        """Spectra (p, 31) of every place, without gloss."""
        skins = skins_of(self.labs())
        skins[:, 1] *= 1 + 1.6 * self.flush * np.array([_FLUSH.get(place, 0.08) for place in PLACES])
        return body_reflectance(skins)


def place_weights(body: Body) -> Floats:
    """How much each vertex belongs to each place (n, p); rows sum to 1."""
    x, y, z = np.abs(body.c[:, 0]), body.c[:, 1], body.c[:, 2]
    lips, ears, lids = body.masks.T
    found = {
        name: strength * np.exp(-sum(((v - c) / r) ** 2 for v, c, r in zip((x, y, z), centre, reach, strict=True)))
        for name, (centre, reach, strength) in ROUND.items()
    }
    found["upper lid"] = 3 * lids * (y > -0.05)
    found["upper lip"] = 6 * lips * np.clip((y - PARTING) / 0.01 + 0.5, 0, 1)
    found["lower lip"] = 6 * lips * np.clip((PARTING - y) / 0.01 + 0.5, 0, 1)
    found["ear"] = 4 * ears
    below = np.clip(-body.normals[:, 1] - 0.35, 0, 1) * np.clip((z - 0.1) / 0.2, 0, 1)
    found["under the chin"] = 1.6 * below * ((y < -0.85) & (y > -1.35))
    found["neck"] = 1.2 * np.clip((-0.85 - y) / 0.3, 0, 1) * np.clip((y + 1.62) / 0.15, 0, 1)
    found["chest"] = 1.2 * np.clip((-1.45 - y) / 0.2, 0, 1)
    behind = np.clip((0.12 - z) / 0.2, 0, 1) * np.clip((y + 0.35) / 0.2, 0, 1)
    found["hairline"] = np.clip((y - 0.62 - 0.25 * x) / 0.12, 0, 1) + behind + 1e-3
    weights = np.stack([found[place] for place in PLACES], axis=1)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True))
