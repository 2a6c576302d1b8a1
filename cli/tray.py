"""python -m cli tray read|nearest|buy …: lists of sticks from anywhere, what stands in for a stick, what to buy."""

from __future__ import annotations

import argparse
from collections import Counter
from collections.abc import Callable
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

from core.colour.spaces import lab_to_hex
from core.errors import InputError, NotFoundError
from core.exchange.formats import get_format
from core.exchange.json_files import read_spots
from core.exchange.list_file import list_in
from core.exchange.stick_list import read_list
from core.look.picture import read_picture
from core.look.reading import read_spot
from core.optics.media import MEDIA
from core.optics.stick import Tray
from core.optics.support import supports
from core.photo.squared import Box
from core.photo.swatches import grid, read_sheet
from core.plan.buying import to_buy
from core.plan.questions import Owned
from core.plan.setup import usual_setup
from core.tray.purchase import cheapest
from core.tray.shelf import not_owned, same_in_use, shelf_of
from core.tray.stand_in import stand_ins, under_skin

Read = Callable[[str, str], bytes]
_PHOTOGRAPHS = {".jpg", ".jpeg", ".png", ".webp", ".tif", ".tiff", ".heic", ".heif"}


def add_commands(tray: argparse.ArgumentParser, read: Read) -> None:
    """The commands about trays. read: the bytes of a file, by its name and the option that names it."""
    commands = tray.add_subparsers(required=True, metavar="read|nearest|buy")
    listed = commands.add_parser("read", help="a list of sticks from anywhere, with what is guessed and what is wrong")
    listed.add_argument("file", metavar="FILE")
    listed.add_argument("--medium", default="", help="of sticks that do not say theirs")
    listed.add_argument("--range", metavar="FILE.csv", help="whose numbers they are")
    listed.add_argument("--grid", metavar="ROWSxCOLUMNS", help="of a photograph: how its swatches lie; else looked for")
    listed.add_argument(
        "--corners", metavar="X,Y,…", help="of the sheet in it, in parts, clockwise from the upper left"
    )
    listed.add_argument("--frame", metavar="L,T,R,B", help="the part of the sheet with the swatches, all if not given")
    listed.add_argument("--chart", metavar="X,Y,…", help="corners of a chart of 24 patches, in parts of the sheet")
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
    buy = commands.add_parser("buy", help="the cheapest way to these sticks; or which would help most with a drawing")
    buy.add_argument("codes", nargs="*", metavar="CODE")
    buy.add_argument("--among", action="append", required=True, metavar="FILE", help="ranges, with price and sets")
    buy.add_argument("--tray", metavar="FILE", help="what is owned, if it is about a drawing")
    buy.add_argument("--reference", metavar="FILE")
    buy.add_argument("--spots", metavar="FILE.json")
    buy.add_argument("--count", type=int, default=6, metavar="N", help="how many sticks at most")
    buy.add_argument("--paper", metavar="ID", help="the medium's usual one, if not given")
    buy.add_argument("--json", action="store_true", help="on one line")
    buy.set_defaults(run=lambda options: _buy(options, read))


def _tray(name: str, field: str, read: Read) -> Tray:
    file_format = get_format("tray", name)
    assert file_format.read is not None  # trays go both ways
    held: Tray = file_format.read(read(name, field), Path(name).stem)
    return held


def _read(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    if options.grid or Path(options.file).suffix.lower() in _PHOTOGRAPHS:
        return _photographed(options, read)
    within = _tray(options.range, "range", read) if options.range else None
    file = list_in(read(options.file, "file"))
    return asdict(read_list(file.text, options.medium, within=within)) | {"said": file.said}


def _photographed(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    """Swatches on a photograph, in rows and columns or wherever they are found, named by a list if there is one."""
    names = read_list(read(options.names, "names"), options.medium).sticks if options.names else ()
    boxes = None
    if options.grid:
        rows, _, columns = options.grid.partition("x")
        if not (rows.isdigit() and columns.isdigit()):
            wrong = f"“{options.grid}” is no grid."
            raise InputError("bad_grid", wrong, "Write rows x columns, such as 4x6.", "--grid")
        frame = Box(*(_numbers(options.frame, 4, "--frame") or (0, 0, 1, 1)))
        boxes = grid(int(rows), int(columns), frame)[: len(names) or None]
    photo = read_picture(read(options.file, "file"))
    corners, chart = (_corners(options, option) for option in ("corners", "chart"))
    seen = read_sheet(photo, corners, boxes, chart)
    found = []
    for i, reading in enumerate(seen.readings):
        named = {"code": names[i].code, "name": names[i].name} if i < len(names) else {}
        found.append({**named, "hex": lab_to_hex(reading.lab), **asdict(reading)})
    return {"corners": seen.corners, "swatches": found, "said": seen.said}


def _corners(options: argparse.Namespace, option: str) -> list[tuple[float, float]] | None:
    at = _numbers(getattr(options, option), 8, f"--{option}")
    return list(zip(at[::2], at[1::2], strict=True)) if at else None


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
    paper = _paper_of(options.paper, wanted.medium)
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


def _buy(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    ranges = [_tray(name, "among", read) for name in options.among]
    if options.codes:
        return _cheapest(options, ranges)
    if not (options.tray and options.reference and options.spots):
        raise InputError("what_for", "What is it for?", "Name codes, or --tray, --reference and --spots.", "buy")
    owned = _tray(options.tray, "tray", read)
    medium = Counter(stick.medium for stick in owned.sticks).most_common(1)[0][0]
    photo = read_picture(read(options.reference, "reference"))
    spots = read_spots(read(options.spots, "spots"))
    wanted = [[read_spot(photo, spot.disc).swatch.lab for spot in spots]]
    own = tuple(stick for stick in owned.usable(medium) if not stick.colourless)
    shelf, sets = not_owned(shelf_of(ranges, medium), own)
    setup = replace(usual_setup(medium), paper=_paper_of(options.paper, medium))
    best = to_buy(Owned(own, setup), wanted, [row.stick for row in shelf], options.count, [s.members for s in sets])
    return {
        "off": best.before[0],
        "buy": [
            {**asdict(shelf[row.number].offer), "name": shelf[row.number].stick.name, "off_then": row.after[0]}
            for row in best.bought
        ],
        "sets": [
            {"place": one.place, "name": one.name, "price": one.price, "size": one.size, "used": used}
            for one, used in zip(sets, best.used, strict=True)
        ],
    }


def _cheapest(options: argparse.Namespace, ranges: list[Tray]) -> dict[str, Any]:
    shelves = [shelf_of(ranges, medium) for medium in MEDIA]
    offers = []
    for code in options.codes:
        found = [(shelf, i) for shelf in shelves for i, row in enumerate(shelf) if row.stick.code == code]
        if not found:
            raise NotFoundError("no_stick", f"{code} is in none of these.", "Name one that is.", "code")
        shelf, number = found[0]
        support = supports()[_paper_of(options.paper, shelf[number].stick.medium)]
        offers.append([shelf[i].offer for i in same_in_use(shelf, number, support)])
    best = cheapest(offers, [row.offer for shelf in shelves for row in shelf])
    return {
        "total": best.total,
        "alone": best.alone,
        "sets": [asdict(one) | {"covers": [options.codes[i] for i in one.covers]} for one in best.sets],
        "singles": [asdict(offer) | {"for": options.codes[i]} for i, offer in best.singles],
        "unpriced": [options.codes[i] for i in best.unpriced],
    }


def _paper_of(name: str | None, medium: str) -> str:
    """Raises InputError (`unknown_paper`)."""
    paper = name or usual_setup(medium).paper
    if paper not in supports():
        raise InputError("unknown_paper", f"There is no paper {paper}.", f"Use {', '.join(supports())}.", "--paper")
    return paper
