"""Hair of a head: filled with locks along the comb, blown by the wind, rooted in skin at the hairline."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.color import lab
from japanner.painting.makers import MAKERS, outdated
from japanner.painting.makers.base import Scene
from japanner.painting.makers.head_hair import _Mass, lock_lines
from japanner.painting.operations import DropFrisket, Fill, Make, SetComb, SetFrisket
from japanner.painting.picture.compositor import flattened
from japanner.raster.geometry import Rect
from japanner.scripting import Script

QUICK = {"length": 60.0, "wide": 16.0, "levels": 3.0, "thick": 1.0, "mm_px": 0.8}


@pytest.fixture(scope="module")
def mass():
    """A cap of hair that is combed down, and its part."""
    script = Script.new(260, 240)
    part = script.part("Hair", "hair")
    layer = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "box", "x0": 60, "y0": 60, "x1": 200, "y1": 200}))
    script.do(Fill(layer, (0.35, 0.24, 0.16)))
    script.do(DropFrisket())
    guides = [{"points": ((x, 62.0), (x, 130.0), (x, 198.0)), "lift": 0.1} for x in (70.0, 130.0, 190.0)]
    script.do(SetComb(part, tuple(guides)))
    return script, part


def scene_of(mass, **settings):
    script, part = mass
    maker = MAKERS["fill with locks"]
    return Scene(script.painting, script.painting.part(part), maker.checked({**QUICK, **settings}), 3)


def made(mass, **settings):
    script, part = mass
    painting, _ = Make(part, "fill with locks", {**QUICK, **settings}, 3).apply(script.painting)
    return {one.name: one for one in painting.part(part).layers}


def cover(layer):
    return layer.pixels.read(layer.pixels.rect)[3].astype(float) / 65535


@pytest.mark.parametrize("wind", [20.0, 100.0])
@pytest.mark.parametrize("towards", [0.0, 135.0])
def test_wind_bends_locks_and_keeps_their_length(mass, wind, towards):
    lines = np.random.default_rng(1).normal(0, 3, (40, 26, 2)).cumsum(axis=1) + 100
    bent = _Mass(scene_of(mass, wind=wind, wind_deg=towards)).blown(lines, np.random.default_rng(2))
    long = [np.linalg.norm(np.diff(one, axis=1), axis=2).sum(axis=1) for one in (lines, bent)]
    assert long[1] == pytest.approx(long[0], rel=1e-6)
    assert np.array_equal(bent[:, 0], lines[:, 0])  # roots stay
    way = np.array((np.cos(np.radians(towards)), -np.sin(np.radians(towards))))
    assert float(((bent - lines)[:, -1] @ way).mean()) > 0


def test_no_wind_leaves_locks_alone(mass):
    lines = np.random.default_rng(1).normal(0, 3, (4, 26, 2)).cumsum(axis=1)
    assert _Mass(scene_of(mass)).blown(lines, np.random.default_rng(2)) is lines


def test_locks_cover_the_mass_and_sizes_get_fewer(mass):
    layers = made(mass, strays=0.0, hairline=0.0)
    assert list(layers)[1:] == ["Mass", "Broad locks", "Locks"]
    inside = slice(75, 185), slice(70, 190)
    whole = 1 - np.prod([1 - cover(layers[name]) for name in ("Broad locks", "Locks")], axis=0)
    assert whole[inside].mean() > 0.9
    # Also where hair begins, though none comes from further up.
    assert whole[66:80, 70:190].mean() > 0.75
    fewer = made(mass, strays=0.0, hairline=0.0, density=20.0)
    assert cover(fewer["Broad locks"])[inside].mean() < 0.8 * cover(layers["Broad locks"])[inside].mean()


def test_hair_thins_out_beyond_the_hairline(mass):
    """Density falls towards the skin (common practice), and the hair's shadow lies on it."""
    layers = made(mass, hairline=30.0, thick=1.2)
    hairs = cover(layers["Hairline"])[:, 75:185]
    above = [hairs[60 - out - 6 : 60 - out].mean() for out in (0, 8, 16, 24)]
    assert above[0] > above[1] > above[2] > above[3]
    assert above[0] > 4 * max(above[3], 0.01)
    assert hairs[:24].max() < 0.2
    shadow = cover(layers["Shadow on skin"])[:, 75:185]
    assert shadow[52:58].mean() > shadow[30:36].mean()
    # It begins only where the comb leads into the mass: at its foot there is none.
    assert cover(layers["Hairline"])[204:230, 75:185].max() < 0.05


def test_roots_are_darker_than_the_middle_and_lights_are_the_locks_own(mass):
    script, _ = mass
    layers = made(mass, strays=0.0, hairline=0.0, roots=90.0, gloss=0.0, mess=20.0, levels=2.0)
    pixels = layers["Broad locks"].pixels.read(script.painting.rect).astype(float)
    value = pixels[:3].mean(axis=0) / np.maximum(pixels[3], 1)
    # All locks of the first row begin at the top of the mass.
    assert value[60:66, 80:180].mean() < value[84:100, 80:180].mean()


def test_another_comb_puts_it_out_of_date(mass):
    script, part = mass
    painting, _ = Make(part, "fill with locks", QUICK, 3).apply(script.painting)
    assert not outdated(painting, painting.part(part))
    combed, _ = SetComb(part, ({"points": ((70, 70), (190, 190))},)).apply(painting)
    assert len(outdated(combed, combed.part(part))) == 1


def test_a_mass_of_which_all_locks_are_taken_away_is_bare(mass):
    script, part = mass
    lines = lock_lines(scene_of(mass, levels=2.0))
    edits = [[level, lock, "away"] for level, lock, *_ in lines]
    bare = made(mass, levels=2.0, strays=0.0, hairline=0.0, edits=edits)
    assert cover(bare["Broad locks"]).max() == 0
    assert lock_lines(scene_of(mass, levels=2.0, edits=edits)) == []
    assert script.painting.part(part)


def test_coily_hair_draws_up_into_narrow_locks(mass):
    """Type 4 hair shows half of its length and less (common practice)."""

    def locks(pattern):
        found = lock_lines(scene_of(mass, pattern=pattern, mm_px=0.8))
        long = np.median([np.hypot(*np.diff(line, axis=0).T).sum() for _, _, line, _ in found])
        return long, max(wide for *_, wide in found)

    straight, coily = locks("flat"), locks("tight without pattern")
    assert coily[0] < 0.55 * straight[0]
    assert coily[1] < straight[1]


@pytest.mark.parametrize("pattern", ["flat", "S coil"])
def test_dark_hair_stays_dark_whatever_its_pattern(mass, pattern):
    script, part = mass
    flat = script.painting.part(part).flats[0].uid
    painting, _ = Fill(flat, (0.075, 0.07, 0.065), "silhouette").apply(script.painting)
    painting, _ = Make(part, "fill with locks", {**QUICK, "pattern": pattern, "strays": 0.0}, 3).apply(painting)
    codes = flattened(painting).read(Rect(80, 90, 180, 180))[:3].astype(float) / 65535
    values = lab.lightness_from_srgb(np.moveaxis(codes, 0, -1))
    assert np.median(values) < 14
    assert np.percentile(values, 95) < 32
