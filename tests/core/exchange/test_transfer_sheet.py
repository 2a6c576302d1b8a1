"""The borders of a reference on paper: at true size, clipped, mirrored, on pages that are joined."""

from __future__ import annotations

from xml.etree import ElementTree

import numpy as np
import pypdfium2
import pytest

from core.exchange.transfer_sheet import Line, Rect, TransferSheet, write_transfer

SVG = "{http://www.w3.org/2000/svg}"
ACROSS = Line("skin", ((-20.0, 100.0), (170.0, 100.0)))


def made(**change: object) -> TransferSheet:
    usual = {"title": "Night watch", "wide": 148.0, "high": 210.0, "frame": Rect(14, 20, 120, 160), "lines": (ACROSS,)}
    return TransferSheet(**usual | change)  # type: ignore[arg-type]


def lines_in(sheet: TransferSheet, colour: str) -> list[np.ndarray]:
    root = ElementTree.fromstring(write_transfer(sheet, "svg"))
    found = [line for line in root.iter(f"{SVG}polyline") if line.get("stroke") == colour]
    return [np.array([[float(v) for v in at.split(",")] for at in str(line.get("points")).split()]) for line in found]


def test_a_page_is_as_large_as_the_sheet_and_its_line_as_long_as_it_says() -> None:
    page = pypdfium2.PdfDocument(write_transfer(made(spots=((60.0, 70.0),))))[0]
    assert np.allclose(np.array(page.get_size()) / 72 * 25.4, (148, 210), atol=0.1)
    ink = np.asarray(page.render(scale=4).to_pil().convert("L")) < 200
    runs = np.concatenate([np.diff(np.flatnonzero(np.diff(np.r_[0, row, 0])))[::2] for row in ink.astype(int)])
    assert np.abs(runs / 4 / 72 * 25.4 - 50).min() < 0.2
    assert np.abs(runs / 4 / 72 * 25.4 - 120).min() < 0.6  # the border, clipped to where the picture lies
    cross = lines_in(made(spots=((60.0, 70.0),)), "#777777")
    assert [part.mean(axis=0).tolist() for part in cross[1:]] == [[60, 70], [60, 70]]


def test_lines_end_where_the_picture_does_and_lie_mirrored_where_that_is_wanted() -> None:
    (line,) = lines_in(made(), "#777777")
    assert line.tolist() == [[14, 100], [134, 100]]
    corner = Line("skin", ((20.0, 30.0), (40.0, 30.0), (40.0, 10.0), (60.0, 10.0), (60.0, 40.0)))
    first, second = lines_in(made(lines=(corner,)), "#777777")
    assert first.tolist() == [[20, 30], [40, 30], [40, 20]] and second.tolist() == [[60, 20], [60, 40]]
    (line,) = lines_in(made(lines=(Line("skin", ((20.0, 30.0), (40.0, 50.0))),), mirrored=True), "#777777")
    assert line.tolist() == [[128, 30], [108, 50]]
    assert len(lines_in(made(grid=(2, 3, True)), "#c4c4c4")) == 3 + 4 + 12


@pytest.mark.parametrize(("size", "pages"), [((420.0, 594.0), 9), ((297.0, 420.0), 4), ((148.0, 210.0), 1)])
def test_a_large_sheet_comes_in_parts_that_overlap_by_their_edges(size: tuple[float, float], pages: int) -> None:
    wide, high = size
    sheet = made(wide=wide, high=high, frame=Rect(0, 0, wide, high), lines=(), in_parts=True)
    document = pypdfium2.PdfDocument(write_transfer(sheet))
    assert len(document) == pages
    assert all(np.allclose(np.array(page.get_size()) / 72 * 25.4, (210, 297), atol=0.1) for page in document)
    (_, first), *rest = sheet.pages()
    if rest:
        assert first.left == first.top == -8 and rest[0][1].left == 194 - 8
        assert "B1 of" in "".join(page.get_textpage().get_text_bounded() for page in document)
