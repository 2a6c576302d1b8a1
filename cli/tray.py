"""python -m cli tray read|nearest …: lists of sticks from anywhere, and what stands in for a stick."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any

from core.colour.spaces import lab_to_hex
from core.errors import InputError, NotFoundError
from core.exchange.formats import get_format
from core.exchange.stick_list import read_list
from core.look.picture import read_picture
from core.optics.stick import Tray
from core.optics.support import supports
from core.photo.squared import Box
from core.photo.swatches import grid, read_swatches
from core.plan.setup import usual_setup
from core.tray.stand_in import stand_ins, under_skin

Read = Callable[[str, str], bytes]


def add_commands(tray: argparse.ArgumentParser, read: Read) -> None:
    """The commands about trays. read: the bytes of a file, by its name and the option that names it."""
    commands = tray.add_subparsers(required=True, metavar="read|nearest")
    listed = commands.add_parser("read", help="a list of sticks from anywhere, with what is guessed and what is wrong")
    listed.add_argument("file", metavar="FILE")
    listed.add_argument("--medium", default="", help="of sticks that do not say theirs")
    listed.add_argument("--range", metavar="FILE.csv", help="whose numbers they are")
    listed.add_argument("--grid", metavar="ROWSxCOLUMNS", help="FILE is a photograph with swatches in rows and columns")
    listed.add_argument(
        "--corners", metavar="X,Y,…", help="of the sheet in it, in parts, clockwise from the upper left"
    )
    listed.add_argument("--frame", metavar="L,T,R,B", help="the part of the sheet with the swatches, all if not given")
    listed.add_argument("--names", metavar="FILE", help="a list of the sticks, row by row")
    listed.add_argument("--json", action="store_true", help="on one line")
    listed.set_defaults(run=lambda options: _read(options, read))
    nearest = commands.add_parser("nearest", help="which sticks do in use what this one does")
    nearest.add_argument("code", metavar="CODE")
    nearest.add_argument("--tray", required=True, metavar="FILE", help="CSV or JSON, that holds it")
    nearest.add_argument("--among", action="append", metavar="FILE", help="lists to look in, this one if none is given")
    nearest.add_argument("--paper", metavar="ID", help="the medium's usual one, if not given")
    nearest.add_argument("--json", action="store_true", help="on one line")
    nearest.set_defaults(run=lambda options: _nearest(options, read))


def _tray(name: str, field: str, read: Read) -> Tray:
    file_format = get_format("tray", name)
    assert file_format.read is not None  # trays go both ways
    held: Tray = file_format.read(read(name, field), Path(name).stem)
    return held


def _read(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    if options.grid:
        return _photographed(options, read)
    within = _tray(options.range, "range", read) if options.range else None
    return asdict(read_list(read(options.file, "file"), options.medium, within=within))


def _photographed(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    """Swatches in rows and columns on a photograph, named by a list if there is one."""
    rows, _, columns = options.grid.partition("x")
    if not (rows.isdigit() and columns.isdigit()):
        raise InputError("bad_grid", f"“{options.grid}” is no grid.", "Write rows x columns, such as 4x6.", "--grid")
    at = _numbers(options.corners, 8, "--corners")
    frame = Box(*(_numbers(options.frame, 4, "--frame") or (0, 0, 1, 1)))
    names = read_list(read(options.names, "names"), options.medium).sticks if options.names else ()
    boxes = grid(int(rows), int(columns), frame)[: len(names) or None]
    photo = read_picture(read(options.file, "file"))
    corners = list(zip(at[::2], at[1::2], strict=True)) if at else None
    found = []
    for i, reading in enumerate(read_swatches(photo, corners, boxes)):
        named = {"code": names[i].code, "name": names[i].name} if names else {}
        found.append({**named, "hex": lab_to_hex(reading.lab), **asdict(reading)})
    return {"swatches": found}


def _numbers(text: str | None, count: int, field: str) -> list[float]:
    """So many numbers divided by commas; none if there is no text. Raises InputError (`bad_numbers`)."""
    if not text:
        return []
    try:
        found = [float(part) for part in text.split(",")]
    except ValueError:
        found = []
    if len(found) != count:
        raise InputError("bad_numbers", f"“{text[:40]}” are not {count} numbers.", "Divide them by commas.", field)
    return found


def _nearest(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    tray = _tray(options.tray, "tray", read)
    wanted = next((stick for stick in tray.sticks if stick.code == options.code), None)
    if wanted is None:
        raise NotFoundError("no_stick", f"{options.code} is not in {options.tray}.", "Name one that is.", "code")
    paper = options.paper or usual_setup(wanted.medium).paper
    if paper not in supports():
        raise InputError("unknown_paper", f"There is no paper {paper}.", f"Use {', '.join(supports())}.", "--paper")
    rows = []
    for name in options.among or [options.tray]:
        others = [stick for stick in _tray(name, "among", read).sticks if stick != wanted]
        for found in stand_ins(wanted, others, supports()[paper], under_skin(tray.sticks)):
            rows.append(
                {
                    "in": Path(name).stem,
                    "code": found.stick.code,
                    "name": found.stick.name,
                    "off": round(found.off, 2),
                    "worst": round(found.worst, 2),
                    "words": found.words,
                }
            )
    return {"code": wanted.code, "name": wanted.name, "nearest": sorted(rows, key=lambda row: row["off"])}
