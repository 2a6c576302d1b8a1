"""Derive core/optics/data/weights.csv: what turns a reflectance spectrum into XYZ.

CIE 1931 2° observer × D65, 400–700 nm in steps of 10 nm, each column rescaled so that a perfect
diffuser gives exactly the D65 white of sRGB (the bands cut off hold 5 % of X and 0.2 % of Z).
Run: python -m tools.derive_weights
"""

from __future__ import annotations

from pathlib import Path

import colour
import numpy as np

from core.colour.spaces import D65_WHITE

TARGET = Path(__file__).parents[1] / "core/optics/data/weights.csv"


def derive() -> np.ndarray:
    """Weights (31, 3)."""
    shape = colour.SpectralShape(400, 700, 10)
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape).values
    illuminant = colour.SDS_ILLUMINANTS["D65"].copy().align(shape).values
    weights = observer * illuminant[:, None]
    return np.asarray(weights / weights.sum(axis=0) * D65_WHITE)


if __name__ == "__main__":
    rows = np.column_stack([np.arange(400, 701, 10), derive()])
    np.savetxt(TARGET, rows, delimiter=",", header="wavelength_nm,X,Y,Z", comments="", fmt=["%d"] + ["%.12g"] * 3)
