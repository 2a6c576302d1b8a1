"""python -m cli card|read-card …: a trial card as PDF, and what its photograph teaches."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

import numpy as np

from core.colour.spaces import lab_to_hex
from core.errors import InputError
from core.exchange.card_json import CardFile, read_card_json, write_card_json
from core.exchange.card_sheet import write_card
from core.exchange.formats import get_format
from core.exchange.json_files import read_spots
from core.look.picture import MAX_BYTES, read_picture
from core.look.reading import read_spot
from core.optics.media import facts_of
from core.optics.stack import colours_after
from core.optics.stick import Tray
from core.optics.support import get_support
from core.photo.swatch_sheet import papers
from core.plan.setup import lay_out, usual_setup
from core.plan.trying import asked_of
from core.trial.calibration import calibrate
from core.trial.card import KINDS, MOST_BOXES, NUMBERS, Card, make_card
from core.trial.joint import MeasuredBox, learn
from core.trial.reading import FINE, read_card

Read = Callable[..., bytes]


def add_commands(commands: Any, read: Read) -> None:
    """`card` and `read-card`. read: the bytes of a file, by its name and the option that names it."""
    card = commands.add_parser("card", help="a trial card as PDF, and beside it as JSON to read it back by")
    card.add_argument("out", metavar="OUT.pdf")
    card.add_argument("--tray", required=True, metavar="FILE", help="CSV or JSON")
    card.add_argument("--medium", default="pencil")
    card.add_argument("--paper", metavar="ID", help="the medium's usual one, if not given")
    card.add_argument("--kind", default="teach", choices=tuple(KINDS), help="the card that teaches most, if not given")
    card.add_argument("--boxes", type=int, default=48, metavar="N", help=f"at most, 1 to {MOST_BOXES}")
    card.add_argument("--size", default="A4", choices=papers())
    card.add_argument("--number", type=int, default=0, metavar="N", help=f"what its marks tell, 0 to {NUMBERS - 1}")
    card.add_argument("--reference", metavar="FILE", help="of a piece; else for skins of all complexions")
    card.add_argument("--spots", metavar="FILE.json")
    card.add_argument("--json", action="store_true", help="on one line")
    card.set_defaults(run=lambda options: _card(options, read))
    back = commands.add_parser("read-card", help="the boxes of a filled card, and what they teach of its tray")
    back.add_argument("photo", metavar="PHOTO")
    back.add_argument("--card", required=True, metavar="FILE.json", help="as `card` has written it")
    back.add_argument("--tray", metavar="FILE", help="learn from it: CSV or JSON")
    back.add_argument("--leave-out", default="", metavar="N,N…", help="numbers of boxes not to learn from")
    back.add_argument("--page", type=int, default=1, metavar="N", help="if --corners are given")
    back.add_argument(
        "--corners", metavar="X,Y,…", help="of the field of marks, in parts, clockwise from the upper left"
    )
    back.add_argument("--chart", metavar="X,Y,…", help="corners of a chart of 24 patches, in parts of that field")
    back.add_argument("--json", action="store_true", help="on one line")
    back.set_defaults(run=lambda options: _read_card(options, read))


def _tray(name: str, read: Read) -> Tray:
    file_format = get_format("tray", name)
    assert file_format.read is not None  # trays go both ways
    held: Tray = file_format.read(read(name, "tray"), Path(name).stem)
    return held


def _card(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    setup = usual_setup(options.medium)
    setup = replace(setup, paper=options.paper or setup.paper)
    laid_out = lay_out(_tray(options.tray, read), setup)
    names, seen = [], np.zeros((0, 3))
    if options.reference or options.spots:
        if not (options.reference and options.spots):
            raise InputError("what_for", "A piece is both.", "Name --reference and --spots.", "--spots")
        picture = read_picture(read(options.reference, "reference", MAX_BYTES))
        spots = read_spots(read(options.spots, "spots"))
        names = [spot.name for spot in spots]
        seen = np.array([read_spot(picture, spot.disc).swatch.lab for spot in spots]).reshape(-1, 3)
    card = make_card(options.kind, options.size, options.number, asked_of(laid_out, names, seen, options.boxes))
    foreseen = np.array([colours_after(laid_out.kit, cell.passes)[-1] for cell in card.cells])
    out = Path(options.out)
    try:
        out.write_bytes(write_card(card, foreseen, KINDS[card.kind].name, facts_of(setup.medium).caution))
        out.with_suffix(".json").write_bytes(write_card_json(CardFile(card, setup.medium, setup.paper)))
    except OSError as error:
        raise InputError("no_file", f"{out} cannot be written ({error.strerror}).", "Check the path.", "out") from error
    return {
        "card": card.number,
        "boxes": len(card.cells),
        "pages": len(card.pages()),
        "bands": None if card.bands is None else [round(band, 1) for band in card.bands],
        "written": [str(out), str(out.with_suffix(".json"))],
        "caution": facts_of(setup.medium).caution,
    }


def _read_card(options: argparse.Namespace, read: Read) -> dict[str, Any]:
    held = read_card_json(read(options.card, "card"))
    support = get_support(held.paper)
    card, count = held.card, len(held.card.cells)
    tray = _tray(options.tray, read) if options.tray else None
    foreseen, bands = np.zeros((count, 3)), np.full(count, np.inf)
    if tray:
        untried = learn(tray.usable(held.medium), support, held.medium, [])
        taught = [i for i, cell in enumerate(card.cells) if untried.space.teaches(cell.passes)]
        stacks = [card.cells[i].passes for i in taught]
        foreseen[taught], bands[taught] = untried.labs(stacks), untried.bands(stacks)
    corners, chart = _corners(options.corners, "--corners"), _corners(options.chart, "--chart")
    if not 1 <= options.page <= len(card.pages()):
        raise InputError("bad_page", f"The card has no page {options.page}.", f"It has {len(card.pages())}.", "--page")
    photo = read_picture(read(options.photo, "photo", MAX_BYTES))
    found = read_card(photo, card, foreseen, bands, support.lab, options.page - 1, corners, chart)
    left_out = _numbers(options.leave_out)
    kept = [row for row in found.boxes if row.verdict == FINE and row.cell + 1 not in left_out]
    answer: dict[str, Any] = {
        "card": card.number,
        "page": found.page + 1,
        "said": found.said,
        "boxes": [
            {"box": row.cell + 1, "hex": lab_to_hex(row.lab), **asdict(row), "learnt": row in kept}
            for row in found.boxes
        ],
    }
    if tray:
        answer["learnt"] = _learnt(card, tray, held, [(row.cell, row.lab, row.doubt) for row in kept])
    return answer


def _learnt(
    card: Card, tray: Tray, held: CardFile, rows: list[tuple[int, tuple[float, float, float], float]]
) -> dict[str, Any]:
    boxes = [MeasuredBox(card.cells[cell].passes, lab, doubt) for cell, lab, doubt in rows]
    numbers = [cell + 1 for cell, _, _ in rows]
    calibration = calibrate(tray.usable(held.medium), get_support(held.paper), held.medium, boxes, numbers)
    return {
        "errors": None if calibration.errors is None else asdict(calibration.errors),
        "disagree": [rows[i][0] + 1 for i in calibration.disagree],
        "left_out": [rows[i][0] + 1 for i in calibration.left_out],
        "words": list(calibration.words),
        "sticks": {stick.code: asdict(stick.fit) for stick in calibration.learnt.sticks},
        "touch": asdict(calibration.learnt.support.touch(held.medium)),
    }


def _corners(text: str | None, field: str) -> list[tuple[float, float]] | None:
    if not text:
        return None
    try:
        at = [float(part) for part in text.split(",")]
    except ValueError:
        at = []
    if len(at) != 8:
        raise InputError("bad_numbers", f"“{text[:40]}” are not 8 numbers.", "Divide them by commas.", field)
    return list(zip(at[::2], at[1::2], strict=True))


def _numbers(text: str) -> set[int]:
    parts = [part.strip() for part in text.split(",") if part.strip()]
    if not all(part.isdigit() for part in parts):
        raise InputError(
            "bad_numbers", f"“{text[:40]}” are no numbers of boxes.", "Divide them by commas.", "--leave-out"
        )
    return {int(part) for part in parts}
