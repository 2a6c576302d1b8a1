"""What is known by name fits together; what does not is named with a hint; a new one is found everywhere."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from core.errors import InputError
from core.exchange.card_json import CardFile
from core.exchange.formats import FORMATS, get_format
from core.exchange.json_files import NamedSpot
from core.exchange.scene_json import NamedComplexion, read_scene, write_scene
from core.light.scene import Key, Scene, Sitter
from core.look.reading import Disc
from core.look.ways import WAYS
from core.method.method import methods
from core.optics.kit import Kit
from core.optics.media import MEDIA, MediumFacts, facts
from core.optics.medium import Pass
from core.optics.pencil import Pencil
from core.optics.spectra import N_BANDS
from core.optics.stick import Kept, Stick, Tray
from core.optics.support import Support, get_support, supports
from core.plan.registries import faults
from core.rows import from_row, toml
from core.skin.describe import Description
from core.trial.card import Card, Cell
from tests.newcomer import a_medium

Patch = pytest.MonkeyPatch


def test_everything_fits_together() -> None:
    assert faults() == []


@pytest.mark.parametrize(
    ("row", "said", "hint"),
    [
        ({"overr": []}, "media.toml, x has the unknown key “overr”.", "Perhaps “over” is meant."),
        ({"colour": "red"}, "has the unknown key “colour”", "Known are over, caution, untried."),
        ({"over": []}, "lacks the key “caution”", "Add it."),
        ({"over": "marker", "caution": "x", "untried": 1.0}, "media.toml, x, over is no list", "brackets"),
        ({"over": [1], "caution": "x", "untried": 1.0}, "over is 1", "Give a str."),
        ({"over": [], "caution": True, "untried": 1.0}, "caution is True", "Give a str."),
    ],
)
def test_a_row_that_is_not_what_it_should_be_is_refused_by_key(row: dict[str, object], said: str, hint: str) -> None:
    with pytest.raises(InputError) as refused:
        from_row(MediumFacts, row, "media.toml, x")
    assert said in refused.value.message
    assert hint in refused.value.hint


def test_rows_give_tuples_and_numbers_of_the_right_kind() -> None:
    row = toml("core.optics", "data/supports.toml")["medium-white"]
    paper = from_row(Support, row | {"capacity": 2}, "here", id="new")
    assert (paper.id, paper.capacity, type(paper.capacity)) == ("new", 2.0, float)
    assert paper.coverage == tuple(row["coverage"])
    for wrong in ([0.1, 0.2], [0.1, 0.2, "0.3"]):
        with pytest.raises(InputError):
            from_row(Support, row | {"coverage": wrong}, "here", id="new")


def spoilt(kind: str) -> Callable[[Patch], None]:
    """Puts something into a registry that does not fit."""
    law = "pale_base_first"

    def spoil(patch: Patch) -> None:
        match kind:
            case "a medium without facts":
                patch.delitem(facts(), "pencil")
            case "facts without a medium":
                patch.setitem(facts(), "crayon", facts()["pencil"])
            case "pressures":
                patch.setattr(MEDIA["pencil"], "pressures", ("crushing",))
            case "nothing to lay":
                patch.setattr(MEDIA["pencil"], "techniques", ("wet",))
            case "a way to lie":
                patch.setattr(MEDIA["pencil"], "lies", "smoke")
            case "a tool":
                patch.setattr(MEDIA["pencil"], "tools", {"spoon": ("lift",)})
            case "over itself":
                patch.setitem(facts(), "pencil", MediumFacts(("pencil",), "Care.", 5.0))
            case "no caution":
                patch.setitem(facts(), "pencil", MediumFacts((), "", 5.0))
            case "two usual methods":
                patch.setitem(methods(), law, replace(methods()[law], usual=True))
            case "a medium of a method":
                patch.setitem(methods(), law, replace(methods()[law], medium="lard"))
            case "an order":
                patch.setitem(methods(), law, replace(methods()[law], order="upwards"))
            case "a technique of a method":
                patch.setitem(methods(), law, replace(methods()[law], later_techniques=("wet",)))
            case "a finish":
                patch.setitem(methods(), law, replace(methods()[law], finishes=("varnish",)))
            case "a role":
                patch.setitem(methods(), law, replace(methods()[law], stages=(("gleam",),)))
            case "a medium of a paper":
                patch.setitem(supports(), "x", replace(get_support("medium-white"), id="x", media=("lard",)))
            case "a tooth":
                patch.setitem(supports(), "x", replace(get_support("medium-white"), id="x", tooth=4.0))
            case "an amount":
                patch.setitem(WAYS, "squint", replace(WAYS["squint"], usual=99))
            case "a format that does nothing":
                patch.setitem(FORMATS, "tray-csv", replace(FORMATS["tray-csv"], read=None, write=None))
            case "a suffix":
                patch.setitem(FORMATS, "tray-csv", replace(FORMATS["tray-csv"], suffixes=("csv",)))

    return spoil


@pytest.mark.parametrize(
    "kind",
    [
        "a medium without facts", "facts without a medium", "pressures", "nothing to lay", "a way to lie", "a tool",
        "over itself", "no caution", "two usual methods", "a medium of a method", "an order",
        "a technique of a method", "a finish", "a role", "a medium of a paper", "a tooth", "an amount",
        "a format that does nothing", "a suffix",
    ],
)  # fmt: skip
def test_what_does_not_fit_is_named_with_a_hint(kind: str, monkeypatch: Patch) -> None:
    spoilt(kind)(monkeypatch)
    found = faults()
    assert found
    assert all(fault.said.endswith(".") and fault.hint.endswith(".") for fault in found)


def test_a_new_medium_fits_and_lies_over_what_its_row_says(monkeypatch: Patch) -> None:
    a_medium(monkeypatch)
    assert faults() == []
    sticks = (Stick("w1", "ash", "water_pencil", "#806a5a"), Stick("m1", "tan", "marker", "#c0a080"))
    kit = Kit(sticks, get_support("medium-white"), "water_pencil")
    marked = kit.apply(kit.start(), Pass("m1"))
    assert kit.reflectance(kit.apply(marked, Pass("w1"))).shape == (N_BANDS,)
    with pytest.raises(InputError, match="does not hold over"):
        kit.apply(kit.apply(kit.start(), Pass("w1")), Pass("m1"))
    assert isinstance(MEDIA["water_pencil"], Pencil)


VALUES = {
    "tray": Tray(
        "mine",
        (
            Stick("1", "a “quoted”, name; with all", "pencil", "#8a4b2f", "semi", "R", "wax", ("PR 101", "PW 6"), "II"),
            Stick("2", "b", "marker", "#c0a080", "opaque", condition="low", light_hex="#eeddcc", black_hex="#101010"),
            Stick("3", "c", "pastel", "#4d4d4d", "transparent", spectrum=tuple(0.1 + i / 100 for i in range(N_BANDS))),
        ),
    ),
    "spots": (NamedSpot("brow", "Mairen", "brow", "shadow", Disc(0.25, 0.5, 0.01)),),
    "complexions": (NamedComplexion("Brá", Description(depth=44.0), "the cook"),),
    "method": replace(methods()["darks_first"], id="mine", usual=False, name="Mine, “loosely”", slack_l=12.5),
    # Read once: some of what is usual is written as whole numbers.
    "scene": read_scene(write_scene(Scene((Sitter("Tavi", Description(depth=30.0)),), Key(azimuth=30.0)))),
    "passes": (Pass("1", "heavy", 2, "burnish"), Pass("2")),
    "card": CardFile(
        Card(
            "crosses",
            "A5",
            77,
            (Cell((Pass("2"),), "2"), Cell((Pass("1", "heavy"), Pass("2")), "1 under 2", 0)),
            (4.0, 1.5),
        ),
        "pencil",
        "medium-white",
    ),
}


WHOLE = [row for row in FORMATS.values() if row.whole]


@pytest.mark.parametrize("file_format", WHOLE, ids=lambda row: row.id)
def test_what_a_format_writes_it_reads_back_the_same(file_format) -> None:
    held = VALUES[file_format.holds]
    data = file_format.write(held)
    assert file_format.read(data, "mine") == held
    assert file_format.write(file_format.read(data, "mine")) == data
    assert get_format(file_format.holds, f"Mine{file_format.suffixes[0].upper()}") is file_format


@pytest.mark.parametrize("file_format", [row for row in WHOLE if row.holds == "tray"], ids=lambda row: row.id)
def test_what_is_known_of_sticks_besides_their_colours_goes_along(file_format) -> None:
    kept = (Kept(3, "by the window, “old”\nbox"), Kept(feel=("dusty", "won't go dark")), Kept(source="photographed"))
    held = replace(VALUES["tray"], kept=kept)
    assert file_format.read(file_format.write(held), "mine") == held


def test_a_file_of_no_known_kind_is_refused_with_those_that_are() -> None:
    with pytest.raises(InputError) as refused:
        get_format("tray", "sticks.docx")
    assert ".csv" in refused.value.hint


@pytest.mark.parametrize("file_format", [row for row in FORMATS.values() if row.write], ids=lambda row: row.id)
def test_a_file_that_is_cut_off_or_damaged_is_refused_in_words_or_read(file_format) -> None:
    data = file_format.write(VALUES[file_format.holds])
    rng = np.random.default_rng(7)
    spoilt = [data[: len(data) * part // 12] for part in range(12)]
    for _ in range(60):
        damaged = bytearray(data)
        for at in rng.integers(0, len(data), rng.integers(1, 4)):
            damaged[at] = rng.integers(0, 256)
        spoilt.append(bytes(damaged))
    refused = 0
    for held in spoilt:
        try:
            file_format.read(held, "mine")
        except InputError as error:
            refused += 1
            assert error.code and error.message
    assert refused >= 6
