"""Cards filled by a nature of other physics (tools.nature), and photographed by a camera that is not there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from core.colour.spaces import Floats
from core.exchange.card_sheet import write_card
from core.look.picture import Picture, read_picture
from core.optics.kit import Kit
from core.optics.medium import Pass
from core.optics.stack import colours_after
from core.optics.support import supports
from core.trial.card import Asked, Card, make_card
from core.trial.joint import Learnt, learn
from core.trial.teaching import Stack
from tests.core.photo.sheets import filled_page
from tools.bench_trial import setup_of, tray_of
from tools.camera import Camera, photograph
from tools.nature import Nature


@dataclass(frozen=True)
class Desk:
    """An artist with eight sticks of a medium, a plan, and a card."""

    medium: str = "pencil"
    seed: int = 3

    @cached_property
    def nature(self) -> Nature:
        return Nature(self.seed, tray_of(self.medium, 8), supports()[setup_of(self.medium).paper])

    @cached_property
    def kit(self) -> Kit:
        return Kit(self.nature.sticks, self.nature.support, self.medium)

    @cached_property
    def untried(self) -> Learnt:
        return learn(self.nature.sticks, self.nature.support, self.medium, [])

    @cached_property
    def stacks(self) -> tuple[tuple[str, Stack], ...]:
        """A plan for eighteen places, pale sticks last."""
        rng = np.random.default_rng(1)
        by_depth = sorted(self.nature.sticks, key=lambda stick: float(stick.lab[0]))
        pressures = ("light",) if self.medium == "marker" else ("light", "medium", "heavy")
        rows = []
        for number in range(18):
            chosen = sorted(rng.choice(8, 1 + number % 3, replace=False))
            passes = tuple(
                Pass(by_depth[i].code, pressures[rng.integers(len(pressures))], int(rng.integers(1, 3))) for i in chosen
            )
            rows.append((f"place {number + 1}", passes))
        return tuple(rows)

    def asked(self, count: int = 20) -> Asked:
        return Asked(self.nature.sticks, self.stacks, self.untried, self.kit, count)

    def card(self, kind: str = "teach", size: str = "A5", count: int = 20, number: int = 7) -> Card:
        return make_card(kind, size, number, self.asked(count))

    def foreseen(self, card: Card) -> Floats:
        return np.array([colours_after(self.kit, cell.passes)[-1] for cell in card.cells])

    def laid(self, card: Card) -> list[list[float]]:
        """What the hand has made of its boxes: the same whatever was asked of nature before."""
        nature = Nature(self.seed, self.nature.sticks, self.nature.support)
        return [nature.lab(cell.passes, hand=0.15).tolist() for cell in card.cells]

    def photo(self, card: Card, labs: Sequence[Sequence[float]], camera: Camera, page: int = 0) -> Picture:
        """Its page with these colours laid."""
        return self.photographed(card, labs, camera, page)[0]

    def taken(self, card: Card, labs: Sequence[Sequence[float]], camera: Camera, page: int = 0) -> tuple[bytes, Floats]:
        """The file of a photograph of that, and the CIELAB (n, 3) that it shows, since paper shines through."""
        pdf = write_card(card, self.foreseen(card))
        sheet = card.pages()[page]
        xyz, true = filled_page(pdf, sheet, page, labs[sheet.first :], camera.seed, self.nature.support.lab)
        return photograph(xyz, camera)[0], true

    def photographed(
        self, card: Card, labs: Sequence[Sequence[float]], camera: Camera, page: int = 0
    ) -> tuple[Picture, Floats]:
        """As `taken`, opened."""
        data, true = self.taken(card, labs, camera, page)
        return read_picture(data), true
