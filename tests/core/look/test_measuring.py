import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.errors import InputError
from core.look.measuring import Format, Mark, measure, place_on, sheet_sizes


def test_sheets_have_their_standard_sizes() -> None:
    # Sources: ISO 216; ANSI Y14.1 (17 × 11 in and so on, at 25.4 mm).
    sizes = sheet_sizes()
    assert sizes["A4"] == (210, 297)
    assert sizes["A3"] == (297, 420)
    assert sizes["B4"] == (250, 353)
    assert sizes["ANSI B, 11 × 17 in"] == pytest.approx((11 * 25.4, 17 * 25.4))
    for width, height in sizes.values():
        assert width < height


def test_a_whole_reference_fits_inside_the_margins() -> None:
    place = place_on(Format(210, 297, 10), 1600, 1000)
    assert (place.width_mm, place.height_mm) == pytest.approx((190, 118.75))
    assert (place.left_mm, place.top_mm) == pytest.approx((10, (297 - 118.75) / 2))
    assert place.crop == (0, 0, 1, 1)
    assert place.on_sheet(0.5, 0.5) == pytest.approx((105, 148.5))


def test_filling_crops_what_the_sheet_cannot_hold() -> None:
    place = place_on(Format(210, 297, 10, "fill", shift_x=0.0), 1600, 1000)
    assert (place.width_mm, place.height_mm) == pytest.approx((190, 277))
    left, top, right, bottom = place.crop
    assert (left, top, bottom) == pytest.approx((0, 0, 1))
    assert right == pytest.approx((190 / 277) * 1000 / 1600)
    assert place_on(Format(210, 297, 10, "fill", shift_x=1.0), 1600, 1000).crop[2] == pytest.approx(1)


sides = st.floats(60, 900)


@given(sides, sides, st.floats(0, 15), st.integers(16, 9000), st.integers(16, 9000), st.sampled_from(["whole", "fill"]))
def test_a_reference_is_never_stretched_and_never_leaves_the_margins(
    wide: float, high: float, margin: float, width: int, height: int, fit: str
) -> None:
    place = place_on(Format(wide, high, margin, fit), width, height)
    left, top, right, bottom = place.crop
    assert place.width_mm / ((right - left) * width) == pytest.approx(place.mm_per_pixel)
    assert place.height_mm / ((bottom - top) * height) == pytest.approx(place.mm_per_pixel)
    assert place.left_mm >= margin - 1e-6
    assert place.top_mm >= margin - 1e-6
    assert place.left_mm + place.width_mm <= wide - margin + 1e-6
    assert place.top_mm + place.height_mm <= high - margin + 1e-6
    if fit == "fill":
        assert place.width_mm == pytest.approx(wide - 2 * margin)
        assert place.height_mm == pytest.approx(high - 2 * margin)


@pytest.mark.parametrize(
    "sheet",
    [
        Format(10, 297, 0),
        Format(210, 5000, 0),
        Format(210, 297, 100),
        Format(210, 297, -1),
        Format(float("nan"), 297, 5),
    ],
)
def test_a_sheet_that_cannot_be_is_refused(sheet: Format) -> None:
    with pytest.raises(InputError) as caught:
        place_on(sheet, 100, 100)
    assert caught.value.code == "bad_format"


PLACE = place_on(Format(210, 297, 5), 1000, 800)  # 0.2 mm a pixel


def one(kind: str, *ends: float) -> Mark:
    return Mark("m", kind, *ends)


def test_a_caliper_says_pixels_millimetres_and_a_ratio() -> None:
    eye, face = Mark("eye", "caliper", 0.1, 0.5, 0.2, 0.5), Mark("face", "caliper", 0.1, 0.5, 0.6, 0.5)
    first, second = measure([eye, face], "eye", 1000, 800, PLACE)
    assert (first.pixels, first.mm, first.ratio) == (100, 20, 1)
    assert (second.pixels, second.mm, second.ratio) == (500, 100, 5)
    assert measure([eye], None, 1000, 800, PLACE)[0].ratio is None


@pytest.mark.parametrize(
    ("ends", "angle"),
    [((0.5, 0.5, 0.9, 0.5), 0), ((0.5, 0.5, 0.5, 0.1), 90), ((0.5, 0.5, 0.1, 0.5), 180), ((0.5, 0.5, 0.6, 0.375), 45)],
)
def test_rays_count_from_the_right_upwards(ends: tuple[float, ...], angle: float) -> None:
    assert measure([one("ray", *ends)], None, 1000, 800, PLACE)[0].angle_deg == pytest.approx(angle)


@pytest.mark.parametrize(
    ("kind", "ends", "lean"),
    [
        ("plumb", (0.5, 0.9, 0.5, 0.1), 0),
        ("plumb", (0.5, 0.1, 0.5, 0.9), 0),
        ("plumb", (0.5, 0.75, 0.6, 0.625), 45),
        ("level", (0.1, 0.5, 0.9, 0.5), 0),
        ("level", (0.9, 0.5, 0.1, 0.5), 0),
        ("level", (0.1, 0.5, 0.2, 0.375), 45),
        ("caliper", (0.1, 0.5, 0.2, 0.4), None),
    ],
)
def test_plumb_and_level_lines_say_how_far_they_lean(kind: str, ends: tuple[float, ...], lean: float | None) -> None:
    assert measure([one(kind, *ends)], None, 1000, 800, PLACE)[0].off_deg == lean


def test_a_unit_of_no_length_gives_no_ratio() -> None:
    point = Mark("point", "caliper", 0.5, 0.5, 0.5, 0.5)
    assert measure([point], "point", 1000, 800, PLACE)[0].ratio is None
