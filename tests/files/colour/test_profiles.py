"""Colour profiles: out of them at 16 bits, proofs, screens, and what is damaged."""

from __future__ import annotations

import contextlib
import io

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms

from japanner.color import lab
from japanner.errors import FileFormatError
from japanner.files import png
from japanner.files.colour.profiles import (
    MATTE_PAPER,
    SRGB,
    from_profile,
    known_profiles,
    matte_paper,
    named_profile,
    profile_of,
    proof_through,
    screen_table,
    srgb_icc,
)
from japanner.painting.picture.looks import through_table


def wide_profile() -> bytes:
    """Primaries and white of ITU-R BT.2020, table 3, with a plain gamma of 2.2."""
    from imagecodecs import cms_profile

    primaries = [0.708, 0.292, 1.0, 0.170, 0.797, 1.0, 0.131, 0.046, 1.0]
    return bytes(cms_profile("rgb", whitepoint=[0.3127, 0.3290, 1.0], primaries=primaries, gamma=2.2))


def codes_of(*colours):
    return np.rint(np.array(colours, float).T[:, None] * 65535).astype(np.uint16)


def test_a_wide_picture_comes_in_as_the_standard_says_at_16_bits():
    """Against colour-science's matrices of ITU-R BT.2020 and IEC 61966-2-1."""
    colours = np.array([(0.5, 0.5, 0.5), (0.45, 0.40, 0.35), (0.3, 0.35, 0.42), (0.61, 0.60, 0.42)])
    wide = colour.RGB_COLOURSPACES["ITU-R BT.2020"]
    ours = colour.RGB_COLOURSPACES["sRGB"]
    linear = colour.RGB_to_RGB(colours**2.2, wide, ours, chromatic_adaptation_transform="Bradford")
    wanted = colour.cctf_encoding(linear, function="sRGB")
    found, said = from_profile(codes_of(*colours), wide_profile())
    assert said.startswith("Converted from")
    assert pytest.approx(wanted, abs=6e-4) == found[:, 0].T / 65535, "finer than the 1/255 of 8 bits"


def test_fine_steps_survive():
    ramp = np.linspace(20000, 20600, 601).astype(np.uint16)
    found, _ = from_profile(np.repeat(ramp[None, None], 3, axis=0), wide_profile())
    assert len(np.unique(found[0])) > 400, "at 8 bits there would be three"


@given(st.lists(st.tuples(*[st.integers(0, 65535)] * 3), min_size=1, max_size=20))
def test_there_and_back_by_little_cms_is_the_same(colours):
    codes = np.array(colours, np.uint16).T[:, None]
    found, said = from_profile(codes, srgb_icc())
    assert said == ""
    assert np.array_equal(found, codes)
    table = screen_table(SRGB())
    pixels = ((codes >> 8).astype(np.uint32) * np.array([1 << 16, 1 << 8, 1], np.uint32)[:, None, None]).sum(axis=0)
    shown = through_table((pixels | 0xFF000000).astype(np.uint32), table)
    assert np.array_equal(shown, pixels | 0xFF000000)


def test_the_matte_paper_has_its_black_and_loses_what_it_cannot_reach():
    proof = proof_through(matte_paper())
    assert proof.black == pytest.approx(17, abs=0.05)
    skin, grey, red, dark = (0.75, 0.55, 0.45), (0.5, 0.5, 0.5), (1.0, 0.0, 0.0), (0.04, 0.04, 0.04)
    outside, closes = proof.lost(np.array([[skin, grey, red, dark]]))
    assert outside.tolist() == [[False, False, True, False]]
    assert closes.tolist() == [[False, False, False, True]]
    pixels = np.array([[0xFF808080, 0xFF0A0A0A]], np.uint32)
    seen = through_table(pixels, proof.seen)
    assert seen[0, 0] == 0xFF808080
    code = int(seen[0, 1]) & 255
    assert lab.lightness_from_srgb(np.full(3, code / 255)) == pytest.approx(17, abs=1)
    warned = through_table(pixels, proof.warned)
    assert warned[0, 1] & 255 > 200, "marked"


def test_a_proof_agrees_with_pillows_door_to_little_cms():
    """Of all colours a paper profile leaves as they are, there and back, at 8 bits."""
    profile = matte_paper()
    image = Image.fromarray(np.random.default_rng(3).integers(0, 256, (40, 40, 3), np.uint8))
    paper = ImageCms.ImageCmsProfile(io.BytesIO(profile.data))
    ours, intent = ImageCms.createProfile("sRGB"), ImageCms.Intent.RELATIVE_COLORIMETRIC
    there = ImageCms.profileToProfile(image, ours, paper, renderingIntent=intent)
    back = np.asarray(ImageCms.profileToProfile(there, paper, ours, renderingIntent=intent), int)
    table = proof_through(profile).seen
    codes = np.asarray(image).astype(np.uint32)
    pixels = 0xFF000000 | codes[..., 0] << 16 | codes[..., 1] << 8 | codes[..., 2]
    seen = through_table(pixels.astype(np.uint32), table)
    found = np.stack([seen >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(int)
    assert np.percentile(np.abs(found - back), 95) <= 3, "8 bits on the way, and a table between nodes"
    assert np.abs(found - back).mean() < 1


@pytest.mark.parametrize(
    "damage",
    [b"", b"short", b"x" * 400, srgb_icc()[:200], srgb_icc()[:36] + b"nope" + srgb_icc()[40:],
     srgb_icc()[:128] + b"\xff" * 300],
)  # fmt: skip
def test_what_is_damaged_is_said_in_a_sentence(damage):
    with pytest.raises(FileFormatError) as found:
        profile_of(damage, "Screen")
    assert str(found.value).count(".") == 1


def test_a_picture_with_a_damaged_profile_is_taken_as_it_is():
    codes = np.full((3, 4, 5), 1000, np.uint16)
    file = io.BytesIO()
    Image.fromarray(np.full((4, 5, 3), 90, np.uint8)).save(file, "PNG", icc_profile=srgb_icc()[:300])
    found = png.read(file.getvalue(), "a.png")
    assert (found.pixels[:3] == 90 * 257).all()
    assert "taken as sRGB" in found.remarks[0]
    grey = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
    with pytest.raises(FileFormatError):
        from_profile(codes, grey)


def test_known_profiles_are_found_and_each_gives_a_proof_or_a_sentence():
    names = [name for name, _ in known_profiles()]
    assert names[:2] == [MATTE_PAPER, "sRGB"]
    usable = 0
    for name in names[:12]:
        with contextlib.suppress(FileFormatError):
            usable += proof_through(named_profile(name)).seen.shape[-1] == 3
    assert usable >= 2
    assert proof_through(named_profile("sRGB")).black == pytest.approx(0, abs=0.01)


def test_a_paper_is_no_screen():
    paths = dict(known_profiles())
    inks = next((path for name, path in paths.items() if "cmyk" in name and path), None)
    if inks is None:
        pytest.skip("the system has no profile of inks")
    with pytest.raises(FileFormatError, match="no screen"):
        screen_table(named_profile(inks.stem))
