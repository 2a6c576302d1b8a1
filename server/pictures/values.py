"""What goes in and out about pictures."""

from __future__ import annotations

from uuid import UUID

from core.look.reading import Disc
from server.api.schema import example
from server.api.values import value


@value
class Picture:
    id: UUID
    width: int
    height: int
    profile: str


@example({"paper": {"x": 0.7, "y": 0.5, "radius": 0.1}, "white": {"x": 0.2, "y": 0.5, "radius": 0.1}})
@value
class Patch:
    """Where a paper and a white sheet lie on a photograph."""

    paper: Disc
    white: Disc
