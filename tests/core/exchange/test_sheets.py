"""Sheets of a plan, drawn by one pen: read back by other programs."""

from __future__ import annotations

import io
from xml.etree import ElementTree

import numpy as np
import pypdfium2
import pytest
from PIL import Image, ImageCms

from core.errors import InputError
from core.exchange.pen import pictures, sheet
from core.exchange.plan_sheet import LayerOnSheet, PlanSheet, Where, cropped, write_plan

SVG = "{http://www.w3.org/2000/svg}"


def jpeg(colour: tuple[int, int, int], size: tuple[int, int] = (60, 40)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "JPEG", quality=95)
    return out.getvalue()


def layer(number: int) -> LayerOnSheet:
    where = (Where("Mairen: forehead", "light, twice", "forehead, lit", number == 1), Where("nose", "medium", ""))
    return LayerOnSheet(
        number, f"L{number}", "oxblood <&>", "#5a2a2f", "Small circles.", where, (jpeg((200, 90, 40)),), "softly"
    )


PLAN = PlanSheet(
    "Night watch", "Mairen · medium white", (("The reference", jpeg((30, 60, 90))),),
    tuple(layer(number) for number in range(1, 9)), ("Next time: paler",), ("Sharpen away from your hand.",),
)  # fmt: skip


def words(pdf: bytes) -> str:
    document = pypdfium2.PdfDocument(pdf)
    return "\n".join(page.get_textpage().get_text_bounded() for page in document)


def test_a_plan_says_the_same_on_paper_and_on_screen() -> None:
    pdf, svg = write_plan(PLAN), ElementTree.fromstring(write_plan(PLAN, "svg"))
    assert write_plan(PLAN) == pdf
    told = " ".join(text.text or "" for text in svg.iter(f"{SVG}text"))
    for said in (
        "Night watch",
        "8 L8 oxblood <&>",
        "forehead, light, twice",
        "Next time",
        "Sharpen",
        "page 2",
        "softly",
    ):
        assert said in " ".join(words(pdf).split()) and said in " ".join(told.split())
    assert len(pypdfium2.PdfDocument(pdf)) == 2
    assert len(list(svg.iter(f"{SVG}image"))) == 9
    # Swatches are the sticks' own colour, on every page.
    page = np.asarray(pypdfium2.PdfDocument(pdf)[1].render(scale=1).to_pil().convert("RGB")).reshape(-1, 3)
    assert (np.abs(page.astype(int) - (0x5A, 0x2A, 0x2F)).max(axis=1) < 3).sum() > 200


def test_a_png_carries_a_profile_that_an_independent_library_reads_as_srgb() -> None:
    image = Image.open(io.BytesIO(write_plan(PLAN, "png")))
    assert image.format == "PNG" and round(image.info["dpi"][0]) == 200
    profile = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
    assert "sRGB" in ImageCms.getProfileDescription(profile)
    patch = Image.new("RGB", (1, 1), (180, 120, 90))
    same = ImageCms.profileToProfile(patch, profile, ImageCms.createProfile("sRGB"))
    assert same is not None and np.abs(np.subtract(same.getpixel((0, 0)), (180, 120, 90))).max() <= 1


def test_pictures_go_out_pixel_by_pixel_or_each_on_a_page() -> None:
    one, two = jpeg((200, 90, 40)), jpeg((30, 60, 90), (40, 60))
    assert Image.open(io.BytesIO(pictures("png", "maps", [one]))).size == (60, 40)
    tall = Image.open(io.BytesIO(pictures("png", "maps", [one, two])))
    assert tall.height > 2 * tall.width * 40 / 60
    assert len(pypdfium2.PdfDocument(pictures("pdf", "maps", [one, two]))) == 2
    assert len(list(ElementTree.fromstring(pictures("svg", "maps", [one, two])).iter(f"{SVG}image"))) == 2


def test_a_map_is_cut_to_its_figure() -> None:
    data = jpeg((200, 90, 40), (400, 200))
    cut = Image.open(io.BytesIO(cropped(data, [(0.1, 0.2), (0.3, 0.6)])))
    assert cut.width < 160 and cut.height < 200
    assert cropped(data, []) == data


def test_letters_that_no_reader_has_do_not_break_a_sheet_and_long_words_are_cut() -> None:
    strange = sheet("pdf", "Ω", lambda pen: (pen.page(50, 20), pen.words(2, 8, "Ω漢 Brá " + "long " * 40, 9, 46))[0])
    assert "Brá" in words(strange) and len(words(strange)) < 60


def test_other_kinds_are_refused() -> None:
    with pytest.raises(InputError, match="no sheets as gif"):
        write_plan(PLAN, "gif")
