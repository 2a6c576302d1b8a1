"""Shading maps as PDF and SVG, at true size."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from xml.etree import ElementTree

import numpy as np
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.colour.spaces import Floats
from core.exchange.pdf_page import BOLD, FONT, text
from core.light.families import FAMILIES
from core.light.lines import HATCHES, Hatch, Stroke, hatched

_LINE_MM = 0.35
_TITLE_MM, _FOOT_MM, _GAP_MM = 9.0, 24.0, 6.0
_KEY_MM = 8.0
_SVG = "http://www.w3.org/2000/svg"


@dataclass(frozen=True, slots=True, eq=False)
class Plate:
    """One line study on the page. arrow: tail and head of the light's, in parts of the side; says: beneath it."""

    title: str
    strokes: tuple[Stroke, ...]
    arrow: tuple[Floats, Floats]
    says: str


@dataclass(frozen=True, slots=True)
class _Page:
    """A page in millimetres: how wide and high, and the side of each study."""

    wide: float
    high: float
    side: float


def _page(plates: Sequence[Plate], side_mm: float) -> _Page:
    wide = len(plates) * side_mm + (len(plates) + 1) * _GAP_MM
    return _Page(wide, side_mm + _TITLE_MM + _FOOT_MM, side_mm)


class _Pen:
    """Lines and words in millimetres from the top left, whatever they are written to."""

    def line(self, points: Floats, width: float, dotted: bool = False) -> None:
        """A line through points (n, 2)."""
        raise NotImplementedError

    def words(self, x: float, y: float, said: str, points: float, bold: bool, wide: float) -> None:
        """A line of text whose baseline begins there."""
        raise NotImplementedError


class _OnPdf(_Pen):
    def __init__(self, page: _Page, title: str) -> None:
        self.out, self._high = io.BytesIO(), page.high
        self._canvas = Canvas(self.out, pagesize=(page.wide * mm, page.high * mm), invariant=True)
        self._canvas.setTitle(title)
        self._canvas.setCreator("Caltin")
        self._canvas.setLineCap(1)
        self._canvas.setLineJoin(1)

    def line(self, points: Floats, width: float, dotted: bool = False) -> None:
        self._canvas.setLineWidth(width * mm)
        self._canvas.setDash([0.3 * mm, 0.9 * mm] if dotted else [])
        path = self._canvas.beginPath()
        path.moveTo(points[0][0] * mm, (self._high - points[0][1]) * mm)
        for x, y in points[1:]:
            path.lineTo(x * mm, (self._high - y) * mm)
        self._canvas.drawPath(path)

    def words(self, x: float, y: float, said: str, points: float, bold: bool, wide: float) -> None:
        text(self._canvas, BOLD if bold else FONT, points, x, self._high - y, said, wide)

    def written(self) -> bytes:
        self._canvas.save()
        return self.out.getvalue()


class _OnSvg(_Pen):
    def __init__(self, page: _Page, title: str) -> None:
        size = {
            "width": f"{page.wide:g}mm",
            "height": f"{page.high:g}mm",
            "viewBox": f"0 0 {page.wide:g} {page.high:g}",
        }
        self._root = ElementTree.Element("svg", {"xmlns": _SVG, **size})
        ElementTree.SubElement(self._root, "title").text = title
        look = {"fill": "none", "stroke": "#000", "stroke-linecap": "round", "stroke-linejoin": "round"}
        self._lines = ElementTree.SubElement(self._root, "g", look)

    def line(self, points: Floats, width: float, dotted: bool = False) -> None:
        told = " ".join(f"{x:.2f},{y:.2f}" for x, y in points)
        more = {"stroke-dasharray": "0.3 0.9"} if dotted else {}
        ElementTree.SubElement(self._lines, "polyline", {"points": told, "stroke-width": f"{width:.2f}", **more})

    def words(self, x: float, y: float, said: str, points: float, bold: bool, wide: float) -> None:
        at = {"x": f"{x:.2f}", "y": f"{y:.2f}", "font-size": f"{points * 0.3528:.2f}", "font-family": "sans-serif"}
        ElementTree.SubElement(self._root, "text", at | ({"font-weight": "bold"} if bold else {})).text = said

    def written(self) -> bytes:
        return bytes(ElementTree.tostring(self._root, encoding="utf-8", xml_declaration=True))


def write_map_pdf(plates: Sequence[Plate], side_mm: float, title: str) -> bytes:
    """Line studies side by side, each so wide and high."""
    page = _page(plates, side_mm)
    pen = _OnPdf(page, title)
    _draw(pen, page, plates)
    return pen.written()


def write_map_svg(plates: Sequence[Plate], side_mm: float, title: str) -> bytes:
    """The same as SVG."""
    page = _page(plates, side_mm)
    pen = _OnSvg(page, title)
    _draw(pen, page, plates)
    return pen.written()


def _draw(pen: _Pen, page: _Page, plates: Sequence[Plate]) -> None:
    for number, plate in enumerate(plates):
        left = _GAP_MM + number * (page.side + _GAP_MM)
        corner = np.array([left, _TITLE_MM])
        pen.words(left, 6.0, plate.title, 11, True, page.side)
        for stroke in plate.strokes:
            pen.line(corner + stroke.points * page.side, _LINE_MM * stroke.weight, stroke.kind == "highlight")
        _arrow(pen, corner, page.side, plate.arrow)
        pen.words(left, _TITLE_MM + page.side + 4.0, plate.says, 8, False, page.side)
    _legend(pen, page)


def _arrow(pen: _Pen, corner: Floats, side: float, ends: tuple[Floats, Floats]) -> None:
    tail, head = (corner + end * side for end in ends)
    way = (head - tail) / max(float(np.linalg.norm(head - tail)), 1e-6)
    aside = np.array([-way[1], way[0]])
    pen.line(np.stack([tail, head]), 0.9)
    for wing in (aside, -aside):
        pen.line(np.stack([head, head - way * 3.5 + wing * 2.0]), 0.9)


def _legend(pen: _Pen, page: _Page) -> None:
    """What each hatch stands for."""
    top = page.high - _KEY_MM - 5.0
    wide = (page.wide - 2 * _GAP_MM) / len(FAMILIES)
    for number, family in enumerate(FAMILIES):
        corner = np.array([_GAP_MM + number * wide, top])
        frame = np.array([[0, 0], [1, 0], [1, 1], [0, 1], [0, 0]]) * _KEY_MM
        pen.line(corner + frame, 0.15, family == "highlight")
        hatch = HATCHES[family]
        whole = np.ones((200, 200), bool)
        for line in hatched(whole, Hatch(hatch.angles, hatch.apart * page.side / _KEY_MM, hatch.dots)):
            pen.line(corner + line * _KEY_MM, _LINE_MM * 0.25)
        pen.words(corner[0] + _KEY_MM + 1.2, top + _KEY_MM / 2 + 1.0, family, 6.5, False, wide - _KEY_MM - 2)
