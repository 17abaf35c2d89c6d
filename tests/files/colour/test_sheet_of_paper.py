"""A picture on paper: where it lies, and what is told before it is printed."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.files.colour.profiles import proof_of
from japanner.files.colour.sheet_of_paper import AS_PICTURE, PAPERS, Sheet, before_print, ppi_word


def test_papers_are_those_of_iso_216():
    """Every A size is half of the one before; its sides are as 1 to the root of 2, to the millimetre."""
    for large, small in (("A1", "A2"), ("A2", "A3"), ("A3", "A4"), ("A4", "A5"), ("A5", "A6"), ("B4", "B5")):
        assert PAPERS[large][0] == PAPERS[small][1]
        assert PAPERS[small][0] == pytest.approx(PAPERS[large][1] / 2, abs=1)
    assert all(high / wide == pytest.approx(np.sqrt(2), abs=0.01) for wide, high in PAPERS.values())


def test_a_picture_fits_between_the_margins_in_the_middle():
    sheet = Sheet.of("A4", across=True, margin=10, width_mm=0, size_px=(4000, 2000))
    assert (sheet.wide, sheet.high) == (297, 210)
    assert (sheet.width, sheet.height) == (277, 138.5)
    assert (sheet.x, sheet.y) == (10, pytest.approx(35.75))


@given(
    st.sampled_from([*PAPERS, AS_PICTURE]), st.booleans(), st.floats(0, 40), st.integers(1, 9000), st.integers(1, 9000)
)
def test_what_fits_lies_within_the_paper_and_keeps_its_shape(paper, across, margin, wide, high):
    width = 100.0 if paper == AS_PICTURE else 0.0
    sheet = Sheet.of(paper, across=across, margin=margin, width_mm=width, size_px=(wide, high))
    assert sheet.height / sheet.width == pytest.approx(high / wide)
    assert min(sheet.x, sheet.y) >= margin - 1e-6
    assert sheet.x + sheet.width <= sheet.wide - margin + 1e-6
    assert sheet.y + sheet.height <= sheet.high - margin + 1e-6


def test_what_does_not_go_is_said():
    with pytest.raises(InputError, match="larger than A5"):
        Sheet.of("A5", across=False, margin=0, width_mm=200, size_px=(100, 100))
    with pytest.raises(InputError, match="no room"):
        Sheet.of("A6", across=False, margin=60, width_mm=0, size_px=(100, 100))
    with pytest.raises(InputError, match="paper"):
        Sheet.of("foolscap", across=False, margin=0, width_mm=0, size_px=(100, 100))


def test_before_print_tells_ppi_reach_and_darks():
    codes = np.full((10, 10, 3), 0.5)
    codes[:2] = 0.03  # a fifth is darker than the paper's black
    codes[2:3] = (1.0, 0.1, 0.0)  # a tenth is out of its reach
    sheet = Sheet.of("A4", across=False, margin=0, width_mm=203.2, size_px=(2400, 2400))
    told = before_print(codes, 2400, sheet, proof_of("matte paper"))
    assert told.ppi == pytest.approx(300)
    assert (told.outside, told.closes) == pytest.approx((0.1, 0.2))
    assert told.words == (
        "300 ppi on the paper, fine · 10.0 % of the picture is out of reach of matte paper · darks below L* 17 close: "
        "20 % of the picture"
    )
    plain = before_print(codes, 800, sheet, proof_of("sRGB"))
    assert plain.words == "100 ppi on the paper, coarse: single px are seen · all colours are within reach of sRGB"
    assert ppi_word(180) == "to be seen from some way off"
