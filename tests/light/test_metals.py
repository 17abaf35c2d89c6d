"""Metals against what published optical constants give."""

from __future__ import annotations

import json
from pathlib import Path

import colour
import numpy as np
import pytest

from japanner.light import metals

# Wavelength in nm, n, k: Johnson & Christy 1972 (gold, copper) and 1974 (iron), Querry 1985 (brass), Karlsson & Ribbing
# 1982 (stainless steel).
CONSTANTS = json.loads((Path(__file__).parent / "optical_constants.json").read_text(encoding="utf-8"))


# Reflectance straight on, ((n - 1)^2 + k^2) / ((n + 1)^2 + k^2), under D65, by colour-science.
@pytest.mark.parametrize("name", CONSTANTS)
def test_a_metals_colour_is_that_of_its_optical_constants(name):
    wave, n, k = np.array(CONSTANTS[name], float).T
    share = ((n - 1) ** 2 + k**2) / ((n + 1) ** 2 + k**2)
    at = np.arange(380, 781, 5.0)
    spectrum = colour.SpectralDistribution(dict(zip(at, np.interp(at, wave, share), strict=True)))
    xyz = colour.sd_to_XYZ(spectrum, illuminant=colour.SDS_ILLUMINANTS["D65"]) / 100
    found = colour.RGB_to_XYZ(np.array(metals.METALS[name]), "sRGB", apply_cctf_decoding=False)
    labs = [
        colour.XYZ_to_Lab(one, colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"])
        for one in (xyz, found)
    ]
    assert colour.delta_E(*labs, method="CIE 2000") < 2


def test_a_metal_mirrors_all_at_the_edge_and_its_own_colour_straight_on():
    share = metals.metal_share(metals.METALS["copper"], np.array([[1.0, 0.0]], np.float32))
    assert share[:, 0, 0] == pytest.approx(metals.METALS["copper"], abs=1e-6)
    assert share[:, 0, 1] == pytest.approx(1, abs=1e-6)


def test_a_surface_that_leans_by_half_a_right_angle_mirrors_what_is_straight_above():
    tilted = np.array((0.0, np.sqrt(0.5), np.sqrt(0.5)))[:, None, None]
    assert metals.mirrored(tilted)[:, 0, 0] == pytest.approx((0, 1, 0), abs=1e-6)
