import colour
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.colour.difference import ciede2000
from core.colour.spaces import D65_WHITE, SRGB, srgb_decode, xyz_to_lab
from core.optics.spectra import (
    COARSE,
    COARSE_WEIGHTS,
    N_BANDS,
    WEIGHTS,
    reflectance_to_lab,
    reflectance_to_xyz,
    upsample,
)

channel = st.floats(0, 1)


def test_a_perfect_diffuser_is_the_white_of_srgb() -> None:
    assert np.allclose(reflectance_to_xyz(np.ones(N_BANDS)), D65_WHITE, atol=1e-9)
    assert (WEIGHTS >= -1e-12).all()


@settings(max_examples=60, deadline=None)
@given(channel, channel, channel)
def test_a_colour_becomes_a_spectrum_of_the_same_colour(r: float, g: float, b: float) -> None:
    xyz = srgb_decode([r, g, b]) @ SRGB.to_xyz
    spectrum = upsample(xyz)
    assert spectrum.shape == (N_BANDS,)
    assert (spectrum >= 0).all()
    assert (spectrum <= 1).all()
    assert ciede2000(xyz_to_lab(xyz), reflectance_to_lab(spectrum)) < 0.05


def test_greys_become_flat_spectra() -> None:
    for y in (0.05, 0.2, 0.8):
        assert np.ptp(upsample(y * D65_WHITE)) < 1e-6


def test_many_colours_at_once_are_the_same_as_one_by_one() -> None:
    xyz = np.random.default_rng(2).uniform(0.1, 0.6, (6, 3)) * D65_WHITE
    together = upsample(xyz.reshape(2, 3, 3))
    assert together.shape == (2, 3, N_BANDS)
    alone = np.array([upsample(one) for one in xyz]).reshape(2, 3, N_BANDS)
    assert np.allclose(together, alone, atol=1e-6)


def test_beyond_white_is_moved_just_inside() -> None:
    assert upsample(D65_WHITE * 1.2).min() > 0.99


def test_a_third_of_the_bands_gives_the_colours_of_measured_surfaces() -> None:
    # Published: the measured patches of the charts that colour-science carries, and the materials of its PMC chart.
    charts = [colour.SDS_COLOURCHECKERS[name] for name in ("BabelColor Average", "ISO 17321-1", "PMC")]
    shape = colour.SpectralShape(400, 700, 10)
    measured = np.array([patch.copy().align(shape).values for chart in charts for patch in chart.values()])
    off = ciede2000(reflectance_to_lab(measured), xyz_to_lab(measured[:, COARSE] @ COARSE_WEIGHTS))
    assert len(off) == 78
    assert off.mean() < 0.2
    assert off.max() < 0.8
