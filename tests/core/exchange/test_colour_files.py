"""Palettes and measured colours from elsewhere: files written by hand to the published descriptions, colours held
against an independent library, hostile and broken files refused."""

from __future__ import annotations

import colour
import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import hex_to_lab
from core.errors import InputError
from core.exchange.colour_files import read_cgats, read_cxf, read_palette, write_cgats, write_cxf, write_palette
from core.exchange.measured_colour import WHITES, Seen, hex_of_lab, in_bands
from core.exchange.tray_csv import read_tray
from core.optics.spectra import BANDS_NM
from core.optics.stick import Tray
from tests.conftest import ROOT

TRAY = read_tray((ROOT / "demo/ranges/small-tray-24.csv").read_bytes(), "Small tray")
MEASURED = colour.SDS_COLOURCHECKERS["ISO 17321-1"]


def off(one: str, lab: object) -> float:
    return float(ciede2000(hex_to_lab(one), np.array(lab)))


def test_whites_are_those_of_another_library() -> None:
    for (light, observer), white in WHITES.items():
        name = f"CIE 1{'931' if observer == 2 else '964'} {observer} Degree Standard Observer"
        xy = colour.CCS_ILLUMINANTS[name][light]
        assert np.allclose(white, colour.xy_to_XYZ(xy), atol=2e-3), (light, observer)


@pytest.mark.parametrize("light", ["D50", "A", "D65"])
def test_lab_under_another_light_is_adapted_as_by_another_library(light: str) -> None:
    lab = np.array([58.0, 18.0, 22.0])
    xy = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"][light]
    white, to = colour.xy_to_XYZ(xy), np.array(WHITES["D65", 2])
    seen = colour.Lab_to_XYZ(lab, xy)
    adapted = colour.adaptation.chromatic_adaptation_VonKries(seen, white, to, transform="Bradford")
    d65 = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
    assert off(hex_of_lab(lab, Seen(light, 2)), colour.XYZ_to_Lab(adapted, d65)) < 0.6


@pytest.mark.parametrize(
    ("said", "seen"),
    [
        ('WEIGHTING_FUNCTION "ILLUMINANT, D65"\nWEIGHTING_FUNCTION "OBSERVER, 10 degree"', Seen("D65", 10)),
        ('WEIGHTING_FUNCTION "ILLUMINANT, A"', Seen("A", 2)),
        ("D50 2_Degree", Seen("D50", 2)),
        ("", Seen("D50", 2)),
    ],
)
def test_light_and_observer_are_read_as_they_are_said(said: str, seen: Seen) -> None:
    assert Seen.told(said.replace("_Degree", " Degree")) == seen


def test_a_palette_is_read_with_its_numbers_and_what_is_no_colour_is_named() -> None:
    text = (
        "GIMP Palette\nName: harbour\nColumns: 4\n#\n203  85  43\tP12 burnt brick\n 10 20  30  night water\n300 1 2 x\n"
    )
    found = read_palette(text + "no colour\n")
    assert [(row.code, row.name, row.hex) for row in found.colours] == [
        ("P12", "burnt brick", "#cb552b"),
        ("", "night water", "#0a141e"),
    ]
    assert len(found.said) == 2 and "Line 7" in found.said[0] and "no colour" in found.said[1]
    with pytest.raises(InputError, match="lacks its head"):
        read_palette("203 85 43 brick\n")
    with pytest.raises(InputError, match="no colour in this palette"):
        read_palette("GIMP Palette\n#\n")


CGATS = """CGATS.17
ORIGINATOR "by hand"
KEYWORD "SAMPLE_NOTE"
WEIGHTING_FUNCTION "ILLUMINANT, D50"  # as printers do
NUMBER_OF_FIELDS 5
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME
LAB_L LAB_A LAB_B
END_DATA_FORMAT
NUMBER_OF_SETS 3
BEGIN_DATA
1 "warm grey" 60.0 0.0 0.0
2 "rope, wet" 45.5 8.25 20
3 broken 45 x 20
END_DATA
"""


def test_cgats_with_lab_under_d50_is_read() -> None:
    found = read_cgats(CGATS)
    assert [(row.code, row.name) for row in found.colours] == [("1", "warm grey"), ("2", "rope, wet")]
    # A grey under any light is a grey under ours.
    assert off(found.colours[0].hex, [60, 0, 0]) < 0.4
    assert found.said == ("Set 3 (broken) holds a value that is no number.",)


def test_measured_spectra_come_through_cgats_and_cxf() -> None:
    for name in ("dark skin", "light skin", "blue sky"):
        measured = MEASURED[name]
        at = np.arange(380.0, 731.0, 10.0)
        held = np.interp(at, measured.wavelengths, measured.values)
        true = colour.XYZ_to_Lab(
            colour.sd_to_XYZ(measured, illuminant=colour.SDS_ILLUMINANTS["D65"]) / 100,
            colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"],
        )
        fields = " ".join(f"SPECTRAL_NM{int(nm)}" for nm in at)
        values = " ".join(f"{100 * value:.3f}" for value in held)
        text = f"CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID {fields}\nEND_DATA_FORMAT\nBEGIN_DATA\nA {values}\nEND_DATA\n"
        (row,) = read_cgats(text).colours
        assert len(row.spectrum) == len(BANDS_NM) and off(row.hex, true) < 1.2, name
        xml = (
            f'<?xml version="1.0"?><cc:CxF xmlns:cc="http://colorexchangeformat.com/CxF3-core"><cc:Resources>'
            f'<cc:ObjectCollection><cc:Object Name="{name}" Id="1"><cc:ColorValues>'
            f'<cc:ReflectanceSpectrum ColorSpecification="s" StartWL="380">'
            f"{' '.join(f'{value:.5f}' for value in held)}</cc:ReflectanceSpectrum></cc:ColorValues></cc:Object>"
            f'</cc:ObjectCollection><cc:ColorSpecificationCollection><cc:ColorSpecification Id="s"><cc:MeasurementSpec>'
            f'<cc:WavelengthRange StartWL="380" Increment="10"/></cc:MeasurementSpec></cc:ColorSpecification>'
            f"</cc:ColorSpecificationCollection></cc:Resources></cc:CxF>"
        )
        (object_,) = read_cxf(xml.encode()).colours
        assert object_.name == name and object_.hex == row.hex


def test_what_a_tray_is_written_as_is_read_the_same() -> None:
    for found in (
        read_palette(write_palette(TRAY).decode()),
        read_cgats(write_cgats(TRAY).decode()),
        read_cxf(write_cxf(TRAY)),
    ):
        assert found.said == () and len(found.colours) == len(TRAY.sticks)
        for row, stick in zip(found.colours, TRAY.sticks, strict=True):
            assert (row.code, row.name) == (stick.code, stick.name) and off(row.hex, stick.lab) < 0.3
    measured = Tray("Measured", tuple(type(stick)(**{f: getattr(stick, f) for f in ("code", "name", "medium", "hex")},
                    spectrum=(0.3,) * 31) for stick in TRAY.sticks[:3]))  # fmt: skip
    for found in (read_cgats(write_cgats(measured).decode()), read_cxf(write_cxf(measured))):
        assert all(row.spectrum == (0.3,) * 31 for row in found.colours)


def test_spectra_that_hold_too_little_say_nothing() -> None:
    assert in_bands(np.arange(500, 601, 10), [0.2] * 11) is None
    assert in_bands([400, 550, 700], [0.1, 0.2, 0.3]) is None


OUTSIDE = b'<?xml version="1.0"?><!DOCTYPE x SYSTEM "file:///etc/hostname"><CxF/>'
BOMB = b"""<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>
<CxF><Object Name="&b;"/></CxF>"""


@pytest.mark.parametrize(
    "data",
    [
        BOMB,
        b"<CxF><Resources>",
        b"<CxF",
        b'<?xml version="1.0"?><!DOCTYPE x SYSTEM "file:///etc/passwd"><CxF/>',
        b"<" * 999,
    ],
    ids=["entities", "cut off", "no end", "outside", "nonsense"],
)
def test_hostile_and_broken_xml_is_refused(data: bytes) -> None:
    with pytest.raises(InputError, match="no CxF file, or it is cut off"):
        read_cxf(data)


def test_elements_without_a_colour_are_named_and_the_rest_is_read() -> None:
    xml = b"""<CxF><ObjectCollection><Object Name="empty"/><Object Name="B2 rope"><ColorSRGB><R>10</R><G>20</G><B>30</B>
    </ColorSRGB></Object><Object Name="odd"><ColorCIELab><L>x</L><A>0</A><B>0</B></ColorCIELab></Object>
    </ObjectCollection></CxF>"""
    found = read_cxf(xml)
    assert [(row.code, row.name, row.hex) for row in found.colours] == [("B2", "rope", "#0a141e")]
    assert [text.split(" (")[0] for text in found.said] == ["Object 1", "Object 3"]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("CGATS.17\nBEGIN_DATA\n1 2\nEND_DATA\n", "does not say its fields"),
        (CGATS.replace('"rope, wet"', '"rope, wet'), "quote is not closed"),
        (CGATS.replace("45.5 8.25 20", "45.5 8.25"), "no multiple of its 5 fields"),
        ("CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID\nEND_DATA_FORMAT\n", "holds no data"),
    ],
)
def test_broken_cgats_says_what_is_wrong(text: str, said: str) -> None:
    with pytest.raises(InputError, match=said):
        read_cgats(text)
