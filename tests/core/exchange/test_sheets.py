"""Sheets of a plan, drawn by one pen: read back by other programs."""

from __future__ import annotations

import io
from dataclasses import replace
from xml.etree import ElementTree

import numpy as np
import pypdfium2
import pytest
from PIL import Image, ImageCms

from core.errors import InputError
from core.exchange.pen import chosen, pictures, sheet
from core.exchange.plan_sheet import LayerOnSheet, PlanSheet, Where, cropped, pages_of, write_plan

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


def test_a_line_of_known_length_is_as_long_on_paper_and_letters_are_embedded() -> None:
    pdf = write_plan(PLAN)
    assert pdf.count(b"/FontFile2") == 2 and b"Helvetica" not in pdf
    page = pypdfium2.PdfDocument(pdf)[0]
    assert np.allclose(np.array(page.get_size()) / 72 * 25.4, (210, 297), atol=0.1)
    ink = np.asarray(page.render(scale=4).to_pil().convert("L")) < 160
    runs = [np.diff(np.flatnonzero(np.diff(np.r_[0, row, 0])))[::2] for row in ink.astype(int)]
    assert np.abs(np.concatenate(runs) / 4 / 72 * 25.4 - 100).min() < 0.2


def test_maps_have_pages_of_their_own_and_chosen_pages_alone_are_printed() -> None:
    maps = tuple((f"{n}  L{n}: Mairen", jpeg((200, 90, 40), (300, 400))) for n in range(1, 7))
    for a_page, more in ((1, 6), (4, 2)):
        plan = replace(PLAN, maps=maps, maps_a_page=a_page)
        assert pages_of(plan) == pages_of(PLAN) + more == len(pypdfium2.PdfDocument(write_plan(plan)))
    some = pypdfium2.PdfDocument(write_plan(plan, pages=chosen("2, 4-9")))
    assert len(some) == 2 and "5 L5: Mairen" in some[1].get_textpage().get_text_bounded()
    with pytest.raises(InputError, match="no such pages"):
        write_plan(plan, pages=(99,))
    for text in ("0", "3-1", "x", "1;2", "1-"):
        with pytest.raises(InputError, match="names no pages"):
            chosen(text)
    small = Image.open(io.BytesIO(write_plan(PLAN, "png", pages=(1,), dpi=60)))
    assert abs(small.width - 210 / 25.4 * 60) < 2


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
