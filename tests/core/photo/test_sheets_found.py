"""Sheets, swatches, marks and charts looked for in simulated photographs (tools.camera), and true on printed pages."""

import io
from dataclasses import replace

import colour
import numpy as np
import pypdfium2
import pytest
from PIL import Image

from core.colour.difference import ciede2000
from core.colour.spaces import lab_to_xyz
from core.errors import InputError
from core.exchange.swatch_page import write_swatch_sheet
from core.exchange.tray_csv import read_tray
from core.look.picture import read_picture
from core.photo.chart import patches
from core.photo.found import found_sheet
from core.photo.squared import Box
from core.photo.swatch_sheet import pages_for, papers
from core.photo.swatches import grid, read_sheet, read_swatches
from tests.conftest import ROOT, a_range
from tests.core.photo.sheets import filled_page, sheet
from tests.core.photo.test_swatches import LABS, photo_of
from tools.camera import Camera, photograph

STICKS = a_range("gangway-36").sticks


def test_the_sheet_and_its_swatches_are_found_without_a_word() -> None:
    for seed in (3,):
        photo, corners, boxes, true = photo_of(Camera(seed, "mild"))
        found = read_sheet(photo)
        assert np.abs(np.array(found.corners) - corners).max() < 0.014
        assert len(found.boxes) == len(boxes)
        # Row by row, as they were laid.
        assert np.median(ciede2000(np.array([reading.lab for reading in found.readings]), true)) < 5
        middles = [((box.left + box.right) / 2, (box.top + box.bottom) / 2) for box in found.boxes]
        laid = [((box.left + box.right) / 2, (box.top + box.bottom) / 2) for box in boxes]
        assert np.abs(np.array(middles) - laid).max() < 0.03


def test_where_no_sheet_is_plain_all_of_the_photograph_is_it() -> None:
    photo, *_ = photo_of(Camera(0))
    noise = np.random.default_rng(1).integers(0, 255, (300, 400, 3), dtype=np.uint8)
    assert found_sheet(replace(photo, pixels=noise)) is None
    even = np.full((300, 400, 3), 200, dtype=np.uint8)
    found = read_sheet(replace(photo, pixels=even))
    assert found.readings == () and np.allclose(found.corners, ((0, 0), (1, 0), (1, 1), (0, 1)), atol=0.02)


def page_of(paper: str, count: int, number: int = 0) -> np.ndarray:
    """A page as it would be printed, (h, w, 3) in parts of 1, 100 pixels an inch."""
    document = pypdfium2.PdfDocument(write_swatch_sheet(paper, STICKS[:count], "The old tin"))
    return np.asarray(document[number].render(scale=100 / 72).to_pil().convert("RGB")) / 255


def test_sheets_are_printed_at_their_true_size() -> None:
    for paper, (wide, high) in {"A4": (210, 297), "A5": (148, 210), "Letter": (215.9, 279.4)}.items():
        document = pypdfium2.PdfDocument(write_swatch_sheet(paper, STICKS, "Tin"))
        assert np.allclose(np.array(document[0].get_size()) / 72 * 25.4, (wide, high), atol=0.01)
        assert len(document) == len(pages_for(paper, STICKS)) == (2 if paper == "A5" else 1)
        words = document[0].get_textpage().get_text_range()
        assert STICKS[0].code in words and STICKS[0].name in words and "closed and heavy" in words
    assert set(papers()) == {"A4", "A5", "Letter"}
    assert len(pypdfium2.PdfDocument(write_swatch_sheet("A4", ()))) == 1
    strange = [replace(STICKS[0], code="🖍" * 60, name="ünïcode " * 60)]
    assert pypdfium2.PdfDocument(write_swatch_sheet("A4", strange))[0].get_size()[0] > 0
    with pytest.raises(InputError, match="no sheets of A0"):
        pages_for("A0", ())


def test_a_printed_sheet_says_itself_where_its_swatches_are() -> None:
    off: list[float] = []
    pdf, second = write_swatch_sheet("A5", STICKS), pages_for("A5", STICKS)[1]
    for seed in (1,):
        page, true = filled_page(pdf, second, 1, [stick.lab for stick in STICKS[20:30]], seed)
        data, _ = photograph(np.rot90(page, seed), Camera(seed, "mild", size=(1400, 1050)))
        found = read_sheet(read_picture(data))
        assert found.first == 20
        assert read_sheet(read_picture(data), found.corners).first == 20
        labs = np.array([reading.lab for reading in found.readings])
        off += list(ciede2000(labs, true))
    assert np.median(off) < 3.5


def with_chart(seed: int, curve: str):
    """A sheet of swatches with a chart of 24 patches in its lower part."""
    xyz, boxes, true = sheet(LABS[:12], 4, 6, seed)
    h, w = xyz.shape[:2]
    left, top, right, bottom = 0.3, 0.56, 0.7, 0.94
    x0, y0, x1, y1 = int(left * w), int(top * h), int(right * w), int(bottom * h)
    xyz[y0:y1, x0:x1] = lab_to_xyz(np.array([22.0, 0, 0]))
    high, wide = (y1 - y0) / 4, (x1 - x0) / 6
    for i, lab in enumerate(published()):
        row, column = divmod(i, 6)
        y, x = y0 + row * high, x0 + column * wide
        xyz[int(y + 0.1 * high) : int(y + 0.9 * high), int(x + 0.1 * wide) : int(x + 0.9 * wide)] = lab_to_xyz(lab)
    data, corners = photograph(xyz, Camera(seed, curve))
    return read_picture(data), corners, boxes, true, [(left, top), (right, top), (right, bottom), (left, bottom)]


def published() -> np.ndarray:
    """The patches by an independent library: its measured spectra, its D65 and observer."""
    spectra = colour.SDS_COLOURCHECKERS["babel_average"].values()
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    light = colour.SDS_ILLUMINANTS["D65"]
    white = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
    with colour.utilities.suppress_warnings(colour_runtime_warnings=True):
        xyz = np.array([colour.sd_to_XYZ(spectrum, cmfs, light) for spectrum in spectra]) / 100
    return np.asarray(colour.XYZ_to_Lab(xyz, white))


def test_the_known_patches_are_those_that_were_published() -> None:
    assert np.abs(patches() - published()).max() < 0.01


def test_a_chart_beside_the_swatches_makes_them_truer() -> None:
    alone, beside = [], []
    for seed, curve in enumerate(("mild", "strong")):
        photo, corners, boxes, true, chart = with_chart(seed, curve)
        # It may lie the other way round.
        chart = chart[2:] + chart[:2] if seed % 2 else chart
        for found, given in ((alone, None), (beside, chart)):
            readings = read_swatches(photo, corners, boxes, chart=given)
            found += list(ciede2000(np.array([reading.lab for reading in readings]), true))
            assert min(reading.doubt for reading in readings) >= (1.5 if given else 2.4)
    assert np.median(beside) < 1.6
    assert np.median(beside) < 0.8 * np.median(alone)


def test_what_is_no_chart_is_said() -> None:
    photo, corners, boxes, _, chart = with_chart(0, "mild")
    with pytest.raises(InputError, match="no chart of 24"):
        read_swatches(photo, corners, boxes, chart=[(0.05, 0.05), (0.95, 0.05), (0.95, 0.5), (0.05, 0.5)])
    with pytest.raises(InputError, match="not lie on the sheet"):
        read_swatches(photo, corners, boxes, chart=[(x + 0.5, y) for x, y in chart])
    found = read_sheet(photo, corners, chart=chart)
    assert len(found.boxes) == 12


def test_an_empty_page_is_no_sheet_of_swatches() -> None:
    out = io.BytesIO()
    Image.fromarray((page_of("A4", 0) * 230).astype(np.uint8)).save(out, "PNG")
    found = read_sheet(read_picture(out.getvalue()))
    assert found.readings == () and found.first == 0


def test_a_grid_finds_the_swatches_in_its_cells_and_keeps_the_empty_ones() -> None:
    photo = read_picture((ROOT / "demo/photos/twelve-swatches.jpg").read_bytes())
    sticks = read_tray((ROOT / "demo/ranges/small-tray-24.csv").read_bytes()).sticks[::2]
    found = read_sheet(photo)
    # The off-white one is as light as the paper.
    assert len(found.boxes) == 11
    frame = Box(0.01, 0.01, 0.99, 0.99)
    laid = read_sheet(photo, found.corners, grid(3, 4, frame, 0.1), cells=True)
    assert laid.boxes[1:] == found.boxes
    assert "empty" in laid.readings[0].said
    # Row by row: nearly all are nearest to the stick that lies there.
    read, true = np.array([reading.lab for reading in laid.readings]), np.array([stick.lab for stick in sticks])
    assert (np.argmin(ciede2000(read[:, None], true[None]), axis=1) == np.arange(12)).sum() >= 10
