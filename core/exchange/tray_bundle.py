"""The tray of a bundle, and a bundle with nothing but a tray: see docs/piece-format.md."""

from __future__ import annotations

import hashlib
import io
from uuid import UUID

from core.errors import InputError
from core.exchange.bundle import Bundle, head, written
from core.exchange.tray_json import read_tray_json, write_tray_json
from core.optics.stick import Tray


def name_of(data: bytes) -> UUID:
    """What a bundle calls a part, by what is in it, so that the same things make the same bundle."""
    return UUID(hex=hashlib.sha256(data).hexdigest()[:32])


def tray_of_bundle(data: bytes, name: str) -> Tray:
    """The only tray of a bundle, whatever else is in it. Raises InputError (`bad_bundle`, `no_tray`,
    `several_trays`)."""
    bundle = Bundle(io.BytesIO(data), len(data))
    found = bundle.names("trays/")
    if not found:
        raise InputError("no_tray", "There is no tray in this bundle.", "Use one that holds a tray.", "file")
    if len(found) > 1:
        raise InputError(
            "several_trays",
            f"There are {len(found)} trays in this bundle.",
            "Use one that holds a single tray.",
            "file",
        )
    return read_tray_json(bundle.data(found[0]), name)


def bundle_of_tray(tray: Tray) -> bytes:
    """A bundle that `tray_of_bundle` gives back the same."""
    data = write_tray_json(tray)
    name = str(name_of(data))
    return b"".join(written([head("", trays=[name]), (f"trays/{name}.json", data)]))
