"""Work out the reflectances of red, green and blue paint that `japanner.color.pigment` mixes with, and write them.

For each of the three primaries of sRGB a smooth reflectance is sought: least squares of its slope, as Burns (2015)
proposes for single colours, but for the three together, so that they add up to white. Observer and daylight are those
of colour-science (CIE 1931 2 degrees, D65). Needs the packages for tests; the result is part of the program.
"""

from __future__ import annotations

import json
import sys
import warnings
from pathlib import Path
from typing import Any

import numpy as np
from scipy.optimize import minimize

warnings.simplefilter("ignore")
import colour  # noqa: E402

BANDS, FIRST_NM, WIDTH_NM = 12, 390, 28
LOWEST = 0.002
OUT = Path(__file__).resolve().parent.parent / "src" / "japanner" / "color" / "pigment_basis.json"


def band_matrix() -> np.ndarray:
    """Linear sRGB (3) from a reflectance in bands (12): white gives (1, 1, 1)."""
    shape = colour.SpectralShape(360, 780, 1)
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape).values
    daylight = colour.SDS_ILLUMINANTS["D65"].copy().align(shape).values[:, None]
    wavelengths = np.arange(360, 781)
    band = np.clip((wavelengths - FIRST_NM) // WIDTH_NM, 0, BANDS - 1)
    xyz = np.zeros((3, BANDS))
    for index in range(BANDS):
        xyz[:, index] = (observer * daylight)[band == index].sum(axis=0)
    xyz /= xyz[1].sum()
    linear_from_xyz = np.linalg.inv(
        np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
    )
    matrix = linear_from_xyz @ xyz
    return matrix / matrix.sum(axis=1, keepdims=True)


def basis(matrix: np.ndarray) -> np.ndarray:
    """Reflectances (3, 12) of the primaries."""
    slope = np.diff(np.eye(BANDS), axis=0)

    def cost(flat: np.ndarray) -> float:
        return float(((flat.reshape(3, BANDS) @ slope.T) ** 2).sum())

    def gradient(flat: np.ndarray) -> np.ndarray:
        return (2 * flat.reshape(3, BANDS) @ slope.T @ slope).ravel()

    def misses(flat: np.ndarray) -> np.ndarray:
        curves = flat.reshape(3, BANDS)
        # The third primary follows from the sum.
        return np.concatenate(((curves[:2] @ matrix.T - np.eye(3)[:2]).ravel(), curves.sum(axis=0) - 1))

    found: Any = minimize(  # type: ignore[call-overload]
        cost, np.full(3 * BANDS, 1 / 3), jac=gradient, method="SLSQP", bounds=[(LOWEST, 1 - LOWEST)] * 3 * BANDS,
        constraints={"type": "eq", "fun": misses}, options={"maxiter": 2000, "ftol": 1e-14},
    )  # fmt: skip
    if not found.success:
        raise SystemExit(found.message)
    return found.x.reshape(3, BANDS)


def main() -> int:
    matrix = band_matrix()
    curves = basis(matrix)
    data = {
        "bands_nm": [FIRST_NM + WIDTH_NM * (i + 0.5) for i in range(BANDS)],
        "reflectances": np.round(curves, 6).tolist(),
        "linear_from_reflectance": np.round(matrix, 6).tolist(),
    }
    OUT.write_text(json.dumps(data, indent=1) + "\n", encoding="utf-8")
    print(np.round(curves, 3), "\n", np.round(curves @ matrix.T, 4))
    return 0


if __name__ == "__main__":
    sys.exit(main())
