"""Sheets drawn in millimetres from the upper left, as PDF at true size, as SVG, or as PNG with its colour profile."""

from __future__ import annotations

import base64
import io
import re
from collections.abc import Callable, Collection, Sequence
from functools import cache
from importlib.resources import files
from typing import Literal
from xml.etree import ElementTree

import numpy as np
import pypdfium2
from numpy.typing import ArrayLike
from PIL import Image
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfbase.pdfmetrics import getFont, registerFont, stringWidth
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from core.errors import InputError

FileKind = Literal["pdf", "svg", "png"]
FILE_KINDS: tuple[FileKind, ...] = ("pdf", "svg", "png")
MEDIA_TYPES: dict[FileKind, str] = {"pdf": "application/pdf", "svg": "image/svg+xml", "png": "image/png"}
BLACK, GREY, DOTTED = "#000000", "#737373", "#b8b8b8"
"""Words, lesser words, and frames that swatches are laid in."""
_SVG = "http://www.w3.org/2000/svg"
_PT_IN_MM = 0.3528
PNG_DPI, _MOST_PIXELS = 200.0, 60_000_000
_BETWEEN_MM = 6.0
"""Between pages that lie below each other in one picture."""


class Pen:
    """Draws on pages, whatever they are written to. Colours are sRGB hex, lengths millimetres, letters points."""

    def page(self, wide: float, high: float) -> None:
        """Begin another page."""
        raise NotImplementedError

    def rect(self, x: float, y: float, wide: float, high: float, fill: str = "", edge: str = "") -> None:
        """A rectangle, filled or framed or both."""
        raise NotImplementedError

    def line(self, points: ArrayLike, width: float, dotted: bool = False, colour: str = BLACK) -> None:
        """A line through points (n, 2)."""
        raise NotImplementedError

    def picture(self, x: float, y: float, wide: float, high: float, data: bytes) -> None:
        """A JPEG or PNG file, stretched into a rectangle."""
        raise NotImplementedError

    def words(
        self, x: float, y: float, said: str, points: float, wide: float, bold: bool = False, colour: str = BLACK
    ) -> None:
        """A line of text whose baseline begins there, cut where it would be too long. Letters beyond Latin ones are not
        in the font, and stand as question marks."""
        font, known = _font(bold), _letters(bold)
        text = "".join(letter if ord(letter) in known else "?" for letter in said)
        while text and stringWidth(text, font, points) > wide * mm:
            text = text[:-2].rstrip() + "." if len(text) > 2 else ""
        if text:
            self._text(x, y, text, points, bold, colour)

    def _text(self, x: float, y: float, text: str, points: float, bold: bool, colour: str) -> None:
        raise NotImplementedError

    def written(self) -> bytes:
        """The file."""
        raise NotImplementedError


def wrapped(said: str, points: float, wide: float, bold: bool = False) -> list[str]:
    """A text in lines that are no longer than this."""
    return list(simpleSplit(said, _font(bold), points, wide * mm))


@cache
def _font(bold: bool) -> str:
    """The name of a weight, known to the library from now on; its letters are embedded in every file."""
    name = "Caltin-Bold" if bold else "Caltin"
    file = files("core.exchange").joinpath(f"fonts/{'bold' if bold else 'regular'}.ttf")
    registerFont(TTFont(name, io.BytesIO(file.read_bytes())))
    return name


@cache
def _letters(bold: bool) -> Collection[int]:
    """The code points that it has."""
    return getFont(_font(bold)).face.charToGlyph.keys()  # type: ignore[no-any-return]


class _OnPdf(Pen):
    def __init__(self, title: str) -> None:
        self._out, self._high, self._begun = io.BytesIO(), 0.0, False
        self._canvas = Canvas(self._out, invariant=True, initialFontName=_font(False))
        self._canvas.setTitle(title)
        self._canvas.setCreator("Caltin")

    def page(self, wide: float, high: float) -> None:
        if self._begun:
            self._canvas.showPage()
        self._begun, self._high = True, high
        self._canvas.setPageSize((wide * mm, high * mm))
        self._canvas.setLineCap(1)
        self._canvas.setLineJoin(1)

    def rect(self, x: float, y: float, wide: float, high: float, fill: str = "", edge: str = "") -> None:
        if fill:
            self._canvas.setFillColor(HexColor(fill))
        if edge:
            self._canvas.setStrokeColor(HexColor(edge))
            self._canvas.setLineWidth(0.25 * mm)
            self._canvas.setDash([])
        corner = x * mm, (self._high - y - high) * mm
        self._canvas.rect(*corner, wide * mm, high * mm, stroke=int(bool(edge)), fill=int(bool(fill)))

    def line(self, points: ArrayLike, width: float, dotted: bool = False, colour: str = BLACK) -> None:
        self._canvas.setStrokeColor(HexColor(colour))
        self._canvas.setLineWidth(width * mm)
        self._canvas.setDash([0.3 * mm, 0.9 * mm] if dotted else [])
        (x, y), *others = _rows(points)
        path = self._canvas.beginPath()
        path.moveTo(x * mm, (self._high - y) * mm)
        for x, y in others:
            path.lineTo(x * mm, (self._high - y) * mm)
        self._canvas.drawPath(path)

    def picture(self, x: float, y: float, wide: float, high: float, data: bytes) -> None:
        box = x * mm, (self._high - y - high) * mm, wide * mm, high * mm
        self._canvas.drawImage(ImageReader(io.BytesIO(data)), *box)

    def _text(self, x: float, y: float, text: str, points: float, bold: bool, colour: str) -> None:
        self._canvas.setFillColor(HexColor(colour))
        self._canvas.setFont(_font(bold), points)
        self._canvas.drawString(x * mm, (self._high - y) * mm, text)

    def written(self) -> bytes:
        self._canvas.save()
        return self._out.getvalue()


class _OnSvg(Pen):
    """All pages below each other."""

    def __init__(self, title: str) -> None:
        self._title, self._pages = title, list[ElementTree.Element]()
        self._wide = self._high = 0.0

    def page(self, wide: float, high: float) -> None:
        top = self._high + _BETWEEN_MM if self._pages else 0.0
        look = {"stroke-linecap": "round", "stroke-linejoin": "round", "fill": "none"}
        self._pages.append(ElementTree.Element("g", look | ({"transform": f"translate(0 {top:g})"} if top else {})))
        self.rect(0, 0, wide, high, fill="#ffffff")
        self._wide, self._high = max(self._wide, wide), top + high

    def _add(self, tag: str, attributes: dict[str, str]) -> ElementTree.Element:
        return ElementTree.SubElement(self._pages[-1], tag, attributes)

    def rect(self, x: float, y: float, wide: float, high: float, fill: str = "", edge: str = "") -> None:
        where = {"x": f"{x:.3f}", "y": f"{y:.3f}", "width": f"{wide:.3f}", "height": f"{high:.3f}"}
        look = ({"fill": fill} if fill else {}) | ({"stroke": edge, "stroke-width": "0.25"} if edge else {})
        self._add("rect", where | look)

    def line(self, points: ArrayLike, width: float, dotted: bool = False, colour: str = BLACK) -> None:
        told = " ".join(f"{x:.2f},{y:.2f}" for x, y in _rows(points))
        more = {"stroke-dasharray": "0.3 0.9"} if dotted else {}
        self._add("polyline", {"points": told, "stroke": colour, "stroke-width": f"{width:.2f}", **more})

    def picture(self, x: float, y: float, wide: float, high: float, data: bytes) -> None:
        kind = "png" if data.startswith(b"\x89PNG") else "jpeg"
        where = {"x": f"{x:.3f}", "y": f"{y:.3f}", "width": f"{wide:.3f}", "height": f"{high:.3f}"}
        source = f"data:image/{kind};base64,{base64.b64encode(data).decode()}"
        self._add("image", where | {"preserveAspectRatio": "none", "href": source})

    def _text(self, x: float, y: float, text: str, points: float, bold: bool, colour: str) -> None:
        look = {
            "font-size": f"{points * _PT_IN_MM:.2f}",
            "font-family": "Atkinson Hyperlegible Next, Helvetica, Arial, sans-serif",
            "fill": colour,
        }
        where = {"x": f"{x:.2f}", "y": f"{y:.2f}"}
        self._add("text", where | look | ({"font-weight": "bold"} if bold else {})).text = text

    def written(self) -> bytes:
        size = {"width": f"{self._wide:g}mm", "height": f"{self._high:g}mm"}
        root = ElementTree.Element("svg", {"xmlns": _SVG, **size, "viewBox": f"0 0 {self._wide:g} {self._high:g}"})
        ElementTree.SubElement(root, "title").text = self._title
        root.extend(self._pages)
        return bytes(ElementTree.tostring(root, encoding="utf-8", xml_declaration=True))


def _rows(points: ArrayLike) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in np.asarray(points, dtype=float)]


class _Some(Pen):
    """Draws some of the pages on another pen. chosen: their numbers from 1, all if there are none."""

    def __init__(self, pen: Pen | None, chosen: Collection[int]) -> None:
        self._pen, self._chosen, self.count = pen, chosen, 0

    @property
    def _now(self) -> Pen | None:
        return self._pen if not self._chosen or self.count in self._chosen else None

    def page(self, wide: float, high: float) -> None:
        self.count += 1
        if self._now:
            self._now.page(wide, high)

    def rect(self, x: float, y: float, wide: float, high: float, fill: str = "", edge: str = "") -> None:
        if self._now:
            self._now.rect(x, y, wide, high, fill, edge)

    def line(self, points: ArrayLike, width: float, dotted: bool = False, colour: str = BLACK) -> None:
        if self._now:
            self._now.line(points, width, dotted, colour)

    def picture(self, x: float, y: float, wide: float, high: float, data: bytes) -> None:
        if self._now:
            self._now.picture(x, y, wide, high, data)

    def words(
        self, x: float, y: float, said: str, points: float, wide: float, bold: bool = False, colour: str = BLACK
    ) -> None:
        if self._now:
            self._now.words(x, y, said, points, wide, bold, colour)


def pages_in(draw: Callable[[Pen], None]) -> int:
    """How many pages are drawn."""
    counting = _Some(None, ())
    draw(counting)
    return counting.count


def chosen(text: str) -> tuple[int, ...]:
    """The pages that words such as `1, 3-5` name, all if there are none. Raises InputError (`bad_pages`)."""
    found: set[int] = set()
    for part in text.replace("–", "-").split(",") if text.strip() else ():
        said = re.fullmatch(r"\s*(\d{1,3})\s*(?:-\s*(\d{1,3})\s*)?", part)
        if not said or not 1 <= int(said[1]) <= int(said[2] or said[1]):
            raise InputError("bad_pages", f"“{text[:40]}” names no pages.", "Write them as 1, 3-5.", "pages")
        found |= set(range(int(said[1]), int(said[2] or said[1]) + 1))
    return tuple(sorted(found))


def sheet(
    kind: str, title: str, draw: Callable[[Pen], None], pages: Collection[int] = (), dpi: float = PNG_DPI
) -> bytes:
    """What is drawn, as a file; pages of SVG and PNG lie below each other. pages: those that are wanted, from 1, all if
    there are none; dpi: of PNG. Raises InputError (`unknown_format`, `no_such_page`)."""
    if pages and not set(range(1, pages_in(draw) + 1)) & set(pages):
        raise InputError("no_such_page", "There are no such pages.", "Choose others.", "pages")
    if kind not in FILE_KINDS:
        raise InputError(
            "unknown_format", f"There are no sheets as {kind[:20]}.", f"Use {', '.join(FILE_KINDS)}.", "kind"
        )
    pen: Pen = _OnSvg(title) if kind == "svg" else _OnPdf(title)
    draw(_Some(pen, pages))
    made = pen.written()
    return _as_png(made, dpi) if kind == "png" else made


def _as_png(pdf: bytes, dpi: float) -> bytes:
    """All pages of a PDF below each other, at so many dots to the inch, or fewer where they would be too many."""
    document = pypdfium2.PdfDocument(pdf)
    try:
        sizes = [page.get_size() for page in document]
        wide, high = max(w for w, _ in sizes), sum(h for _, h in sizes) + _BETWEEN_MM * mm * (len(sizes) - 1)
        scale = min(dpi / 72, (_MOST_PIXELS / (wide * high)) ** 0.5)
        pages = [page.render(scale=scale).to_pil().convert("RGB") for page in document]
    finally:
        document.close()
    gap = round(_BETWEEN_MM * mm * scale)
    whole = Image.new("RGB", (max(p.width for p in pages), sum(p.height + gap for p in pages) - gap), "white")
    top = 0
    for page in pages:
        whole.paste(page, (0, top))
        top += page.height + gap
    return png(whole, scale * 72)


def png(image: Image.Image, dpi: float = 72.0) -> bytes:
    """A picture as PNG with the sRGB profile."""
    out = io.BytesIO()
    image.save(out, "PNG", icc_profile=_srgb(), dpi=(dpi, dpi))
    return out.getvalue()


@cache
def _srgb() -> bytes:
    return files("core.look").joinpath("data/srgb.icc").read_bytes()


def pictures(kind: str, title: str, shown: Sequence[bytes], longest_mm: float = 180.0) -> bytes:
    """Pictures (JPEG or PNG files in sRGB), each on a page of its own that is no larger than it; as PNG pixel by pixel,
    below each other. Raises InputError (`unknown_format`)."""
    images = [Image.open(io.BytesIO(data)) for data in shown]
    if kind == "png" and len(images) == 1:
        return png(images[0].convert("RGB"))

    def draw(pen: Pen) -> None:
        for image, data in zip(images, shown, strict=True):
            scale = longest_mm / max(image.size)
            pen.page(image.width * scale, image.height * scale)
            pen.picture(0, 0, image.width * scale, image.height * scale, data)

    return sheet(kind, title, draw)
