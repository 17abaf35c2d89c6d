"""The blend table against the W3C recommendation, worked values, Pillow and Qt's raster painter."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageChops
from PySide6.QtGui import QImage, QPainter

from japanner.errors import InputError
from japanner.raster.modes import BY_OPENRASTER, MODES, blend
from tests.raster import w3c

CODE = 1 / 65535
# The W3C recommendation's formulas at (Cb, Cs), opaque; and the straight result at
# Cb .6 with alpha .8, Cs .3 with alpha .5, whose alpha is .9.
WORKED = {
    "Normal": ((0.75, 0.25, 0.8, 0.3), 0.433333),
    "Multiply": ((0.1875, 0.1875, 0.32, 0.18), 0.38),
    "Screen": ((0.8125, 0.8125, 0.88, 0.72), 0.62),
    "Overlay": ((0.375, 0.625, 0.64, 0.44), 0.495556),
    "Darken": ((0.25, 0.25, 0.4, 0.3), 0.433333),
    "Lighten": ((0.75, 0.75, 0.8, 0.6), 0.566667),
    "Color Dodge": ((1, 1, 1, 0.857143), 0.680952),
    "Color Burn": ((0, 0, 0.25, 0), 0.3),
    "Hard Light": ((0.625, 0.375, 0.76, 0.36), 0.46),
    "Soft Light": ((0.375, 0.65625, 0.539473, 0.504), 0.524),
    "Difference": ((0.5, 0.5, 0.4, 0.3), 0.433333),
    "Exclusion": ((0.625, 0.625, 0.56, 0.54), 0.54),
}
PAIRS = ((0.25, 0.75), (0.75, 0.25), (0.4, 0.8), (0.6, 0.3))

codes = st.integers(0, 65535).map(lambda code: code / 65535)
colours = st.tuples(codes, codes, codes, codes)


def grey(value, alpha=1.0):
    return (value, value, value, alpha)


def test_the_table_has_the_modes_of_the_standard_and_plus():
    assert len(MODES) == 17
    assert set(MODES) == set(w3c.SEPARABLE) | set(w3c.NON_SEPARABLE) | {"Plus"}
    assert [mode.index for mode in MODES.values()] == list(range(17))
    assert len(BY_OPENRASTER) == 17


@pytest.mark.parametrize("mode", WORKED)
def test_worked_values(mode):
    opaque, straight = WORKED[mode]
    for (cb, cs), expected in zip(PAIRS, opaque, strict=True):
        assert blend(mode, grey(cb), grey(cs))[0, 0] == pytest.approx(expected, abs=3 * CODE)
    r, _, _, alpha = blend(mode, grey(0.6, 0.8), grey(0.3, 0.5))[0]
    assert alpha == pytest.approx(0.9, abs=2 * CODE)
    assert r / alpha == pytest.approx(straight, abs=5 * CODE)


# Hue, Saturation, Color and Luminosity of Cs (.2, .4, .9) on Cb (.8, .5, .3), by the recommendation's pseudo code.
@pytest.mark.parametrize(
    ("mode", "expected"),
    [
        ("Hue", (0.42871, 0.57157, 0.92871)),
        ("Saturation", (0.8928, 0.4728, 0.1928)),
        ("Color", (0.40119, 0.57228, 1)),
        ("Luminosity", (0.627, 0.327, 0.127)),
    ],
)
def test_worked_values_of_the_non_separable_modes(mode, expected):
    assert blend(mode, (0.8, 0.5, 0.3, 1), (0.2, 0.4, 0.9, 1))[0, :3] == pytest.approx(expected, abs=5e-5)


def test_plus_clamps():
    assert blend("Plus", grey(0.6, 0.8), grey(0.3, 0.5))[0] == pytest.approx([0.63, 0.63, 0.63, 1], abs=3 * CODE)
    assert blend("Plus", grey(0.9), grey(0.9))[0] == pytest.approx([1, 1, 1, 1])


@pytest.mark.parametrize("mode", MODES)
@given(backdrop=colours, source=colours, strength=st.floats(0, 1))
def test_any_colours_follow_the_recommendation(mode, backdrop, source, strength):
    # The kernel reads premultiplied codes: the straight colour it sees may be off by half a code over the coverage.
    premultiplied = [round(c * source[3] * 65535) / 65535 for c in source[:3]]
    seen = [min(c / source[3], 1.0) if source[3] else 0.0 for c in premultiplied]
    expected = w3c.composed(mode, backdrop, (*seen, source[3] * strength))
    result = blend(mode, backdrop, source, strength)[0]
    tolerance = 2e-3 if mode in ("Color Dodge", "Color Burn", "Hue", "Saturation") else 2e-4
    assert result == pytest.approx(expected, abs=tolerance)
    assert (result >= -1e-6).all()
    assert (result <= 1 + 1e-5).all()


@pytest.mark.parametrize("mode", MODES)
@given(backdrop=colours, source=colours, strength=st.floats(0, 1))
def test_an_opaque_backdrop_takes_the_short_way_to_the_same(mode, backdrop, source, strength):
    below = (*backdrop[:3], 1.0)
    short, long = blend(mode, below, source, strength, opaque=True), blend(mode, below, source, strength)
    assert short == pytest.approx(long, abs=2e-3 if mode == "Color Burn" else 1e-5)
    assert short[0, 3] == 1


@pytest.mark.parametrize("mode", MODES)
@given(backdrop=colours)
def test_an_empty_source_leaves_the_backdrop_bit_exact(mode, backdrop):
    straight = np.array(backdrop, np.float32)
    before = np.append(straight[:3] * straight[3], straight[3]).astype(np.float32)
    after = blend(mode, backdrop, (0.3, 0.7, 0.1, 0))[0]
    assert np.abs(after - before).max() <= 6e-8


@pytest.mark.parametrize("mode", MODES)
@given(backdrop=colours, source=colours)
def test_atop_keeps_the_coverage(mode, backdrop, source):
    result = blend(mode, backdrop, source, atop=True)[0]
    assert result[3] == np.float32(backdrop[3])
    assert (result[:3] <= result[3] + 1e-6).all()


# Porter & Duff (1984): source-atop is co = as ab Cs + (1 - as) ab Cb with the backdrop's coverage.
def test_normal_atop_is_source_atop():
    assert blend("Normal", grey(0.6, 0.8), grey(0.3, 0.5), atop=True)[0] == pytest.approx(
        [0.36, 0.36, 0.36, 0.8], abs=3 * CODE
    )


@given(codes)
def test_neutral_sources_do_nothing(value):
    for mode, neutral in (("Multiply", 1), ("Screen", 0), ("Color Dodge", 0), ("Color Burn", 1), ("Difference", 0)):
        assert blend(mode, grey(value), grey(neutral))[0, 0] == pytest.approx(value, abs=2e-6), mode


@given(codes, codes)
def test_relations_between_modes(a, b):
    assert blend("Hard Light", grey(a), grey(b)) == pytest.approx(blend("Overlay", grey(b), grey(a)), abs=3 * CODE)
    assert blend("Screen", grey(a), grey(b)) == pytest.approx(blend("Screen", grey(b), grey(a)), abs=3 * CODE)
    assert (blend("Difference", grey(a), grey(b)) <= blend("Exclusion", grey(a), grey(b)) + 3 * CODE).all()


# The recommendation tests Cb = 0 before Cs = 1 for dodge, and Cb = 1 before Cs = 0 for burn.
def test_special_cases_come_in_the_order_of_the_recommendation():
    cases = {("Color Dodge", 0, 1): 0, ("Color Dodge", 0.5, 1): 1, ("Color Burn", 1, 0): 1, ("Color Burn", 0.5, 0): 0}
    for (mode, cb, cs), expected in cases.items():
        assert blend(mode, grey(cb), grey(cs))[0, 0] == pytest.approx(expected, abs=1e-6)


PILLOW = {
    "Multiply": ImageChops.multiply,
    "Screen": ImageChops.screen,
    "Overlay": ImageChops.overlay,
    "Hard Light": ImageChops.hard_light,
    "Darken": ImageChops.darker,
    "Lighten": ImageChops.lighter,
    "Difference": ImageChops.difference,
}


@pytest.mark.parametrize("mode", PILLOW)
def test_opaque_pictures_agree_with_pillow(mode):
    rng = np.random.default_rng(5)
    below, above = (rng.integers(0, 256, (40, 40, 3), dtype=np.uint8) for _ in range(2))
    theirs = np.asarray(PILLOW[mode](Image.fromarray(below), Image.fromarray(above)))
    opaque = np.ones((1600, 1))
    ours = blend(mode, np.hstack((below.reshape(-1, 3) / 255, opaque)), np.hstack((above.reshape(-1, 3) / 255, opaque)))
    assert np.abs(ours[:, :3] * 255 - theirs.reshape(-1, 3)).max() <= 1.6


QT = {
    "Normal": "SourceOver",
    "Multiply": "Multiply",
    "Screen": "Screen",
    "Overlay": "Overlay",
    "Darken": "Darken",
    "Lighten": "Lighten",
    "Color Dodge": "ColorDodge",
    "Color Burn": "ColorBurn",
    "Hard Light": "HardLight",
    "Soft Light": "SoftLight",
    "Difference": "Difference",
    "Exclusion": "Exclusion",
}


@pytest.mark.parametrize("mode", QT)
def test_transparent_pictures_agree_with_qt(mode):
    rng = np.random.default_rng(6)
    below, above = (rng.random((64, 4)).astype(np.float32) for _ in range(2))

    def image(straight):
        premultiplied = np.hstack((straight[:, :3] * straight[:, 3:], straight[:, 3:])).astype(np.float32)
        return QImage(premultiplied.tobytes(), 64, 1, 64 * 16, QImage.Format.Format_RGBA32FPx4_Premultiplied).copy()

    canvas = image(below)
    painter = QPainter(canvas)
    painter.setCompositionMode(getattr(QPainter.CompositionMode, f"CompositionMode_{QT[mode]}"))
    painter.drawImage(0, 0, image(above))
    painter.end()
    theirs = np.frombuffer(canvas.constBits(), np.float32).reshape(-1, 4)[:64]
    assert np.abs(blend(mode, below, above) - theirs).max() < 1e-3


def test_bad_arguments_are_named():
    with pytest.raises(InputError, match="mode: expected one of Normal, Multiply"):
        blend("Dissolved", grey(0), grey(1))
    with pytest.raises(InputError, match=r"strength: expected 0 to 1, got 1\.5"):
        blend("Normal", grey(0), grey(1), 1.5)
