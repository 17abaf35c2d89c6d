"""A stroke that is seen on the small painting: what comes of it is exact, and what is seen is nearly that."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.painting.live.followed import FollowedStroke
from japanner.painting.live.stroke import LiveStroke
from japanner.painting.operations import AddMask, Fill, SetComb, SetFrisket, SetLayer
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.small import Small
from japanner.raster.geometry import union
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from japanner.stroke.brush.kinds import KINDS
from japanner.stroke.brush.shipped import shipped_brush, shipped_brushes
from tests.paintings import same_painting

STEP = 4
WAY = [(200, 250), (420, 180), (640, 320), (880, 420), (1000, 300)]
ROWS = [(x, y, 0.4 + 0.15 * i, 0.0, 0.0, 0.0, 12.0 * i) for i, (x, y) in enumerate(WAY)]


def painted() -> Script:
    """A part with colours that run, and a layer to paint on with paint of its own."""
    script = Script.new(1240, 620, ground=(0.3, 0.32, 0.3))
    part = script.part("Pelt", "fur")
    script.do(Fill(script.layer(part, "flat"), (0.45, 0.36, 0.28)))
    script.do(SetComb(part, ({"points": ((200.0, 100.0), (1000.0, 300.0))},)))
    layer = script.layer(part, "light", mode="Normal")
    soft = Brush("Soft", size_px=160, strength=0.8, edge=0.8)
    for i, y in enumerate(range(40, 600, 80)):
        script.stroke(layer, soft, (0.2 + 0.1 * i, 0.5, 0.9 - 0.1 * i), [(100, y, 1), (1100, y + 60, 1)])
    return script


SCRIPT = painted()
LAYER = SCRIPT.painting.parts[0].layers[-1].uid


def followed(painting, brush, *, on="paint", assist="free", lag_ms=0.0, wipe=False, rows=ROWS, seed=5):
    colour = (0.85, 0.7, 0.5)
    exact = LiveStroke(painting, LAYER, brush, colour, wipe=wipe, on=on, assist=assist, seed=seed, unseen=True)
    stroke = FollowedStroke(exact, Small(STEP).of(painting), STEP, brush, colour, lag_ms=lag_ms)
    for row in rows:
        stroke.add([row])
    preview = stroke.preview
    stroke._shown.finish()  # the last bit of way, which on the easel only the exact stroke goes
    stroke.finish()
    return stroke, preview


def check_exact(painting, brush, **how):
    """Its record, replayed, comes to the same bytes, and its areas hold every change."""
    stroke, _ = followed(painting, brush, **how)
    found = stroke.outcome()
    if found is None:
        return
    operation, after, change = found
    again, _ = operation.apply(painting)
    assert same_painting(after, again)
    picture = Picture(painting)
    picture.refresh(after, change.areas)
    for one, other in zip(picture.levels, Picture(after).levels, strict=True):
        assert np.array_equal(one, other)


@pytest.mark.parametrize("kind", KINDS)
def test_the_outcome_is_the_record_s_for_every_kind(kind):
    size = 60 if kind not in ("strand",) else 4
    check_exact(SCRIPT.painting, Brush("Any", kind=kind, size_px=size, strength=0.7, spacing=0.12, edge=0.5))


@pytest.mark.parametrize("name", [brush.name for brush in shipped_brushes()][::10])
def test_the_outcome_is_the_record_s_for_shipped_brushes(name):
    check_exact(SCRIPT.painting, shipped_brush(name))


@pytest.mark.parametrize("how", [
    {"assist": "straight"}, {"assist": "ellipse"}, {"lag_ms": 120.0}, {"wipe": True},
    {"lag_ms": 60.0, "assist": "straight"},
])  # fmt: skip
@pytest.mark.parametrize("taper", [0.0, 80.0])
def test_steadied_tapered_and_wiping_strokes(how, taper):
    brush = Brush("Any", size_px=50, strength=0.8, taper_out=taper, taper_in=taper).driven("size", amount=0.6)
    check_exact(SCRIPT.painting, brush, **how)


def with_frisket(painting):
    return SetFrisket({"shape": "oval", "x0": 300, "y0": 100, "x1": 900, "y1": 500}).apply(painting)[0]


def with_held_edges(painting):
    return SetLayer(LAYER, {"hold_edges": True}).apply(painting)[0]


@pytest.mark.parametrize("change", [with_frisket, with_held_edges])
def test_under_friskets_and_held_edges(change):
    painting = change(SCRIPT.painting)
    for kind in ("lay", "smudge", "nudge", "wipe"):
        check_exact(painting, Brush("Any", kind=kind, size_px=60, strength=0.7))


def test_on_a_mask():
    painting = AddMask(LAYER).apply(SCRIPT.painting)[0]
    check_exact(painting, Brush("Any", size_px=60, strength=0.7), on="mask")


def codes(pixels):
    return np.stack([pixels >> shift & 255 for shift in (16, 8, 0)]).astype(int)


# Mean and greatest gap of what is seen to what comes, in codes of 255, where the stroke went. Hairs are drawn by fewer.
NEAR = {"fur": (3.0, 90), "comb": (3.0, 90), "lock": (9.0, 150), "strand": (3.0, 120), "fringe": (6.0, 150),
        "spots": (1.0, 60)}  # fmt: skip


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_seen_is_nearly_what_comes(kind):
    size = 220 if not KINDS[kind].single else 12
    brush = Brush("Any", kind=kind, size_px=size, strength=0.6, spacing=0.08, edge=0.6)
    painting = SCRIPT.painting
    stroke, preview = followed(painting, brush)
    found = stroke.outcome()
    assert found is not None
    seen, comes = Picture(preview).levels[0], Picture(found[1]).levels[2]
    there = union(found[2].areas).intersected(painting.rect).reduced(STEP)
    part = np.s_[:, there.y0 : there.y1 - 1, there.x0 : there.x1 - 1]
    gap = np.abs(codes(seen)[part] - codes(comes)[part])
    changed = np.abs(codes(Picture(painting).levels[2])[part] - codes(comes)[part]).mean()
    mean, most = NEAR.get(kind, (0.6, 24))
    assert gap.mean() < max(mean, 0.02)
    assert gap.max() <= most
    assert changed > 0


def test_speed_and_spacing_are_those_of_the_hand_on_the_canvas():
    """A fine, dense brush driven by speed lays as much on the small painting as on the canvas."""
    brush = Brush("Fine", size_px=14, strength=0.1, spacing=0.04, even=False).driven("size", "speed", amount=0.8)
    stroke, preview = followed(SCRIPT.painting, brush)
    comes = stroke.outcome()[1]
    small = Small(STEP).of(SCRIPT.painting)
    seen = np.abs(codes(Picture(preview).levels[0]) - codes(Picture(small).levels[0])).sum()
    after = np.abs(codes(Picture(comes).levels[2]) - codes(Picture(SCRIPT.painting).levels[2])).sum()
    assert seen == pytest.approx(after, rel=0.15)


def test_given_up_it_leaves_nothing_and_the_next_one_begins():
    exact = LiveStroke(SCRIPT.painting, LAYER, Brush("Any", size_px=200), (1, 0, 0), wipe=False, unseen=True)
    stroke = FollowedStroke(exact, Small(STEP).of(SCRIPT.painting), STEP, exact.brush, (1, 0, 0))
    stroke.add(ROWS)
    stroke.drop()
    other, _ = followed(SCRIPT.painting, Brush("Any", size_px=60))
    assert other.outcome() is not None


def test_an_error_behind_comes_to_light(monkeypatch):
    exact = LiveStroke(SCRIPT.painting, LAYER, Brush("Any", size_px=60), (1, 0, 0), wipe=False, unseen=True)
    stroke = FollowedStroke(exact, Small(STEP).of(SCRIPT.painting), STEP, exact.brush, (1, 0, 0))
    monkeypatch.setattr(exact, "add", lambda samples: 1 / 0)
    stroke.add(ROWS[:2])
    with pytest.raises(ZeroDivisionError):
        stroke.finish()
