"""Derive core/optics/data/weights.csv, what turns a reflectance spectrum into XYZ, and core/light/data/daylight.csv.

CIE 1931 2° observer × D65, 400–700 nm in steps of 10 nm, each column rescaled so that a perfect
diffuser gives exactly the D65 white of sRGB (the bands cut off hold 5 % of X and 0.2 % of Z).
Run: python -m tools.derive_weights
"""

from __future__ import annotations

from pathlib import Path

import colour
import numpy as np

from core.colour.spaces import D65_WHITE

DAYLIGHT = Path(__file__).parents[1] / "core/light/data/daylight.csv"
TARGET = Path(__file__).parents[1] / "core/optics/data/weights.csv"


def derive() -> np.ndarray:
    """Weights (31, 3)."""
    shape = colour.SpectralShape(400, 700, 10)
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape).values
    illuminant = colour.SDS_ILLUMINANTS["D65"].copy().align(shape).values
    weights = observer * illuminant[:, None]
    return np.asarray(weights / weights.sum(axis=0) * D65_WHITE)


def daylight() -> np.ndarray:
    """The components S0, S1 and S2 of daylight (31, 3). Source: CIE 15."""
    shape = colour.SpectralShape(400, 700, 10)
    basis = colour.colorimetry.SDS_BASIS_FUNCTIONS_CIE_ILLUMINANT_D_SERIES
    return np.stack([basis[name].copy().align(shape).values for name in ("S0", "S1", "S2")], axis=1)


if __name__ == "__main__":
    rows = np.column_stack([np.arange(400, 701, 10), daylight()])
    np.savetxt(DAYLIGHT, rows, delimiter=",", header="wavelength_nm,S0,S1,S2", comments="", fmt=["%d"] + ["%.6g"] * 3)
    rows = np.column_stack([np.arange(400, 701, 10), derive()])
    np.savetxt(TARGET, rows, delimiter=",", header="wavelength_nm,X,Y,Z", comments="", fmt=["%d"] + ["%.12g"] * 3)
