"""What each action does to the colour beneath it, learnt from stacks, so that it can be turned round."""

from __future__ import annotations

import numpy as np

from core.colour.spaces import Floats

_DAMPING = 0.002
"""An action that covers leaves nearly nothing of the ground; undamped, its inverse would ask for impossible grounds."""


class GroundEffects:
    """Linear in CIELAB, and the less the less tooth is left (least squares)."""

    def __init__(self, before: Floats, tooth: Floats, after: Floats) -> None:
        """before (g, 3): colours; tooth (g,): what was left of it there; after (g, a, 3): what every action made of
        them."""
        changes = (after - before[:, None]).reshape(len(before), -1)
        self._effects = (np.linalg.pinv(_features(before, tooth), rcond=1e-6) @ changes).reshape(8, -1, 3)

    def at(self, tooth: float) -> tuple[Floats, Floats]:
        """What the actions do to a colour where so much tooth is left: matrices (a, 3, 3) and offsets (a, 3); a colour
        goes to matrixᵀ · colour + offset."""
        local = (np.sqrt(tooth) * self._effects[:4] + tooth * self._effects[4:]).transpose(1, 0, 2)
        return local[:, :3] + np.eye(3), local[:, 3]

    def expected(self, labs: Floats, tooth: Floats) -> Floats:
        """CIELAB (g, a, 3) that the actions will give over colours (g, 3), about."""
        return np.asarray(labs[:, None] + np.einsum("gf,fak->gak", _features(labs, tooth), self._effects))


def _features(labs: Floats, tooth: Floats) -> Floats:
    """(g, 8): (L, a, b, 1) times √tooth, and times tooth, of colours (g, 3)."""
    # A pass takes what tooth it finds: its effect fades with it, at first fast and then evenly. The two terms span
    # both, and neither leaves anything where no tooth is left.
    plain = np.column_stack([labs, np.ones(len(labs))])
    return np.column_stack([plain * np.sqrt(tooth)[:, None], plain * tooth[:, None]])


def inverted(matrix: Floats) -> Floats:
    """(a, 3, 3) by which what was missed above tells how to move the ground; damped least squares."""
    return np.linalg.solve(matrix @ matrix.transpose(0, 2, 1) + _DAMPING * np.eye(3), matrix)
