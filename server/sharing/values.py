"""What goes in and out about plans that are shown to others."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from server.api.schema import example
from server.api.values import value

Days = Literal[1, 7, 30, 365]


@example({"days": 7, "reference": False})
@value
class AskShare:
    """days: how long the link works; reference: whether the reference is shown to whoever has it."""

    days: Days = 30
    reference: bool = False


@value
class SharedLink:
    """path: behind the address of this Caltin; empty where nobody can tell it any more, since the secret of the data
    folder is another one."""

    id: UUID
    path: str
    reference: bool
    made: datetime
    expires: datetime
