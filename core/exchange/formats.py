"""File formats by one contract: what each holds, what its files are called, how it is read and how it is written."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from core.errors import InputError
from core.exchange.card_json import read_card_json, write_card_json
from core.exchange.cells import write_cells, write_ods
from core.exchange.colour_files import write_cgats, write_cxf, write_palette
from core.exchange.json_files import read_passes, read_spots, write_passes, write_spots
from core.exchange.list_file import tray_in
from core.exchange.method_toml import read_method, write_method
from core.exchange.scene_json import read_complexions, read_scene, write_complexions, write_scene
from core.exchange.tray_bundle import bundle_of_tray, tray_of_bundle
from core.exchange.tray_csv import read_tray, write_tray
from core.exchange.tray_json import read_tray_json, write_tray_json


@dataclass(frozen=True, slots=True)
class FileFormat:
    """One format. holds: `tray`, `spots`, `passes`, `card`, `complexions`, `scene` or `method`; suffixes: of its
    files, the usual one first.

    read: the bytes of a file and the name to give to what is in it, to the value; raises InputError. write: the value
    to the bytes of a file that `read` gives back the same. Either is None where it cannot be done. whole: whether a
    file holds all of the value, and is the same to the byte when it is written again; else it is for other programs,
    and holds what they know.
    """

    id: str
    holds: str
    name: str
    suffixes: tuple[str, ...]
    media_type: str
    read: Callable[[bytes, str], Any] | None = None
    write: Callable[[Any], bytes] | None = None
    whole: bool = True


_ODS = "application/vnd.oasis.opendocument.spreadsheet"
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

FORMATS: dict[str, FileFormat] = {
    row.id: row
    for row in (
        FileFormat("tray-csv", "tray", "List of sticks", (".csv",), "text/csv", read_tray, write_tray),
        FileFormat(
            "tray-json",
            "tray",
            "List of sticks with everything about them",
            (".json",),
            "application/json",
            read_tray_json,
            write_tray_json,
        ),
        FileFormat("tray-xlsx", "tray", "Spreadsheet", (".xlsx",), _XLSX, tray_in, write_cells, False),
        FileFormat("tray-ods", "tray", "Spreadsheet", (".ods", ".xls", ".xlsm"), _ODS, tray_in, write_ods, False),
        FileFormat("tray-gpl", "tray", "Plain-text palette", (".gpl",), "text/plain", tray_in, write_palette, False),
        FileFormat("tray-cgats", "tray", "CGATS.17", (".txt",), "text/plain", tray_in, write_cgats, False),
        FileFormat("tray-cxf", "tray", "CxF3", (".cxf",), "application/xml", tray_in, write_cxf, False),
        FileFormat(
            "spots-json",
            "spots",
            "Spots",
            (".json",),
            "application/json",
            lambda data, _: read_spots(data),
            write_spots,
        ),
        FileFormat(
            "passes-json",
            "passes",
            "Passes",
            (".json",),
            "application/json",
            lambda data, _: read_passes(data),
            write_passes,
        ),
        FileFormat(
            "tray-zip", "tray", "Bundle with a tray", (".zip",), "application/zip", tray_of_bundle, bundle_of_tray
        ),
        FileFormat(
            "complexions-json",
            "complexions",
            "Complexions",
            (".json",),
            "application/json",
            lambda data, _: read_complexions(data),
            write_complexions,
        ),
        FileFormat(
            "scene-json",
            "scene",
            "Imagined light",
            (".json",),
            "application/json",
            lambda data, _: read_scene(data),
            write_scene,
        ),
        FileFormat("method-toml", "method", "Method", (".toml",), "application/toml", read_method, write_method),
        FileFormat(
            "card-json",
            "card",
            "Trial card",
            (".json",),
            "application/json",
            lambda data, _: read_card_json(data),
            write_card_json,
        ),
    )
}
"""By id."""


def get_format(holds: str, file_name: str) -> FileFormat:
    """The format of a file that holds a thing of a kind (see FileFormat). Raises InputError (`unknown_format`)."""
    suffix = "." + file_name.rpartition(".")[2].lower()
    fitting = [row for row in FORMATS.values() if row.holds == holds]
    for row in fitting:
        if suffix in row.suffixes:
            return row
    known = ", ".join(suffix for row in fitting for suffix in row.suffixes)
    raise InputError("unknown_format", f"{file_name[-40:]} is of no known kind.", f"Use {known}.", holds)
