"""What a stick may say of itself beyond its solid swatch, papers of one's own, and what is refused."""

from dataclasses import replace

import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.colour.spaces import hex_to_lab, lab_to_hex, lab_to_xyz
from core.errors import InputError
from core.exchange.tray_csv import read_tray
from core.optics.characterise import characterise
from core.optics.kit import Kit
from core.optics.media import get_medium, layers_to_expect
from core.optics.medium import Pass
from core.optics.spectra import N_BANDS, check_spectrum, upsample
from core.optics.stack import colours_after
from core.optics.stick import Stick, Tray
from core.optics.support import WHITE_PAPER, get_support, own_support, supports
from core.plan.setup import Setup, lay_out_kit
from core.trial.swatched import as_swatched
from tests.conftest import SWATCHES, pencil

WHITE = own_support("white", "White", WHITE_PAPER, 0.5, 10, ("pencil",))


def drawn(stick: Stick, *passes: Pass, paper: str = "") -> np.ndarray:
    support = get_support(paper) if paper else WHITE
    return np.asarray(colours_after(Kit((stick,), support, stick.medium), passes)[-1])


def test_a_light_and_a_heavy_swatch_correct_what_the_class_supposes() -> None:
    stick = pencil("sienna", SWATCHES["sienna"])
    real = replace(stick, fit=replace(stick.fit, strength=0.7, coverage=0.85))
    swatches = {f"{pressure}_hex": lab_to_hex(drawn(real, Pass("sienna", pressure))) for pressure in ("light", "heavy")}
    told = as_swatched(replace(stick, **swatches))
    stack = [Pass("sienna", "medium", 2)]
    truth = drawn(real, *stack)
    assert ciede2000(drawn(told, *stack), truth) < 0.5 * ciede2000(drawn(stick, *stack), truth)


def test_a_swatch_over_black_tells_how_well_a_stick_covers() -> None:
    stick = pencil("ochre", SWATCHES["ochre"])
    hides, shows = (replace(stick, black_hex=lab_to_hex((lightness, 6, 20))) for lightness in (58, 32))
    on_black = [drawn(s, Pass("ochre", "heavy", 3), paper="near-black")[0] for s in (hides, shows)]
    assert on_black[0] > on_black[1] + 8
    on_white = [drawn(s, Pass("ochre", "heavy")) for s in (hides, shows)]
    assert ciede2000(*on_white) < 6
    assert characterise((hides,), (0.5,))[1].mean() > characterise((shows,), (0.5,))[1].mean()


def test_a_measured_spectrum_stands_instead_of_the_smooth_one() -> None:
    smooth = upsample(lab_to_xyz(SWATCHES["terracotta"]))
    rough = np.clip(smooth + 0.04 * np.sin(np.arange(N_BANDS)), 0.01, 0.99)
    text = " ".join(f"{v:.4f}" for v in rough)
    (stick,) = read_tray(f"code,name,medium,hex,opacity,spectrum\n1,t,pencil,,semi,{text}\n".encode()).sticks
    assert np.allclose(stick.spectrum, rough, atol=1e-4)
    assert ciede2000(hex_to_lab(stick.hex), stick.lab) < 0.6

    def roughness(of: Stick) -> float:
        return float(np.abs(np.diff(characterise((of,), (0.5,))[0], 2)).mean())

    assert roughness(stick) > 3 * roughness(replace(stick, spectrum=()))


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ([0.5] * 30, "has 30 bands"),
        ([0.5] * 30 + [-0.1], "falls to -0.1"),
        ([0.5] * 30 + [1.4], "rises to 1.4"),
        ([0.5] * 30 + [float("nan")], "no number"),
    ],
)
def test_a_wrong_spectrum_is_refused_in_one_sentence(values: list[float], said: str) -> None:
    with pytest.raises(InputError, match=said) as caught:
        check_spectrum(values)
    assert caught.value.code == "bad_spectrum"


def test_a_wrong_spectrum_in_a_list_names_its_row() -> None:
    for text in ("0.5 0.5", "a b c", " ".join(["-1"] * 31)):
        with pytest.raises(InputError) as caught:
            read_tray(f"code,name,medium,hex,opacity,spectrum\n1,t,pencil,,semi,{text}\n".encode())
        assert caught.value.field == "row 2, spectrum"


@pytest.mark.parametrize("medium", ["pencil", "marker", "pastel", "oil_pastel", "opaque"])
def test_a_stick_without_swatch_is_refused(medium: str) -> None:
    with pytest.raises(InputError) as caught:
        get_medium(medium).prepare((Stick("a", "ash", medium, ""),), get_support("medium-white"))
    assert caught.value.code == "no_swatch"


def test_a_paper_darker_than_every_marker_is_refused() -> None:
    tray = Tray("markers", (Stick("a", "ash", "marker", "#d0b0a0"),))
    with pytest.raises(InputError) as caught:
        lay_out_kit(tray, Setup("marker", "near-black", "light_to_dark"))
    assert caught.value.code == "paper_too_dark"


def test_an_own_paper_lies_between_the_papers_it_resembles() -> None:
    own = own_support("own", "Own", (90, 1, 8), 0.6, 8, ("pencil",))
    fine, rough = get_support("medium-white"), get_support("toothy-white")
    assert rough.coverage[0] < own.coverage[0] < fine.coverage[0]
    assert fine.capacity < own.capacity < rough.capacity
    assert np.allclose(colours_after(Kit((), own, "pencil"), [])[-1], own.lab, atol=0.01)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"lab": (120, 0, 0)}, "lab"), ({"lab": (90, 0)}, "lab"), ({"lab": (90, float("nan"), 0)}, "lab"),
        ({"tooth": 1.5}, "tooth"), ({"coats": 0}, "coats"), ({"media": ()}, "media"),
    ],
    ids=str,
)  # fmt: skip
def test_an_own_paper_out_of_range_is_refused(change: dict[str, object], field: str) -> None:
    given = {"support_id": "x", "name": "X", "lab": (90, 0, 0), "tooth": 0.5, "coats": 8, "media": ("pencil",)} | change
    with pytest.raises(InputError) as caught:
        own_support(**given)  # type: ignore[arg-type]  # cases of several types
    assert (caught.value.code, caught.value.field) == ("bad_paper", field)


def test_smooth_paper_takes_few_layers_and_toothy_paper_many() -> None:
    smooth, medium, toothy = (
        layers_to_expect("pencil", get_support(paper)) for paper in ("smooth-white", "medium-white", "toothy-white")
    )
    assert smooth <= 4 < medium < toothy
    assert all(layers_to_expect(medium, paper) >= 1 for paper in supports().values() for medium in paper.media)
