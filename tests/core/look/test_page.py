import io

import numpy as np
import pytest
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from core.errors import PictureError
from core.look.page import first_page, is_pdf
from core.look.picture import read_picture


def pdf(width: float = 300, height: float = 400, pages: int = 1) -> bytes:
    """A black square low at the left of every page."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width, height))
    for _ in range(pages):
        canvas.rect(width * 0.1, height * 0.1, width * 0.2, width * 0.2, stroke=0, fill=1)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def test_the_first_page_becomes_a_picture_on_white() -> None:
    data = pdf(pages=3)
    assert is_pdf(data)
    picture = read_picture(first_page(data))
    assert (picture.width, picture.height) == (2250, 3000)
    dark = np.argwhere(picture.pixels[:, :, 0] < 128) / [3000, 2250]
    assert dark.min(axis=0) == pytest.approx([0.75, 0.1], abs=0.01)
    assert dark.max(axis=0) == pytest.approx([0.9, 0.3], abs=0.01)
    assert (picture.pixels[:100] == 255).all()


@pytest.mark.parametrize(
    ("data", "code"),
    [(b"%PDF-1.7 nothing more", "pdf_unreadable"), (pdf()[:200], "pdf_unreadable"), (pdf(2, 400), "pdf_page_size"),
     (pdf(20, 4000), "pdf_page_size"), (pdf(pages=201), "pdf_too_long")],
    ids=["no pages", "cut off", "narrow", "very tall", "many pages"],
)  # fmt: skip
def test_a_pdf_that_is_no_drawing_is_refused(data: bytes, code: str) -> None:
    with pytest.raises(PictureError) as caught:
        first_page(data)
    assert caught.value.code == code


def test_pictures_are_no_pdf() -> None:
    out = io.BytesIO()
    Image.new("RGB", (20, 20)).save(out, "PNG")
    assert not is_pdf(out.getvalue())
    assert not is_pdf(b"")
