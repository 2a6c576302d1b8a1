"""A drawing that comes as a page of a PDF, made a picture."""

from __future__ import annotations

import io

import pypdfium2
from PIL import Image

from core.errors import PictureError

_LONGEST_PX = 3000
_MOST_PAGES = 200
_SMALLEST_PT = 10.0
_USE = "Save the page as a JPEG or PNG and put that in."


def is_pdf(data: bytes) -> bool:
    """Whether a file is a PDF, by its beginning."""
    return data[:1024].lstrip().startswith(b"%PDF-")


def first_page(data: bytes) -> bytes:
    """The first page of a PDF as PNG, 3000 pixels on its longer side, on white.

    Raises PictureError: `pdf_unreadable` (also for one with a password), `pdf_empty`, `pdf_too_long`, `pdf_page_size`.
    """
    try:
        document = pypdfium2.PdfDocument(data)
    except pypdfium2.PdfiumError as error:
        raise PictureError("pdf_unreadable", "This PDF cannot be opened, or asks for a password.", _USE) from error
    try:
        if not len(document):
            raise PictureError("pdf_empty", "This PDF has no pages.", _USE)
        if len(document) > _MOST_PAGES:
            raise PictureError("pdf_too_long", f"This PDF has {len(document)} pages.", "Save the page you mean alone.")
        page = document[0]
        width, height = page.get_size()
        if not (min(width, height) >= _SMALLEST_PT and max(width, height) / min(width, height) < 50):
            raise PictureError("pdf_page_size", f"The page is {width:.0f} × {height:.0f} points.", _USE)
        image: Image.Image = page.render(scale=_LONGEST_PX / max(width, height)).to_pil().convert("RGB")
    except pypdfium2.PdfiumError as error:
        raise PictureError("pdf_unreadable", "The first page of this PDF cannot be drawn.", _USE) from error
    finally:
        document.close()
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
