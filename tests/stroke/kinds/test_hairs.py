"""Strokes of hair through the engine: fur, locks, single strands."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import srgb
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.strand.comb import Guide, combed
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.kinds.hair_layer import HairPaint
from japanner.stroke.kinds.locks import _count, relaxed

SIDE = 400
FUR = Brush("Fur", kind="fur", tip="round", size_px=60, spacing=0.3, hairs=30, hair_px=24, turn="comb")
LOCK = Brush("Lock", kind="lock", tip="round", size_px=50, spacing=0.1, hairs=60)
STRAND = Brush("Strand", kind="strand", tip="round", size_px=3, spacing=0.5, hair_variety=0.0)
DOWN = [(200.0, 60.0, 1.0), (210.0, 200.0, 1.0), (200.0, 340.0, 1.0)]
ACROSS = [(60.0, 120.0, 1.0), (200.0, 125.0, 1.0), (340.0, 120.0, 1.0)]
BROWN = (0.5, 0.4, 0.3)


def field():
    return combed(np.ones((SIDE, SIDE), np.float32), Rect(0, 0, SIDE, SIDE), (Guide(((200.0, 40.0), (200.0, 360.0))),))


def painted(brush, *strokes, base=None, pieces=1, comb=None, wipe=False, seed=4):
    raster = base or Raster(SIDE, SIDE)
    for rows in strokes:
        stroke = StrokeInProgress(raster, brush, BROWN, seed=seed, wipe=wipe, hair=HairPaint(BROWN, comb))
        step = max(len(rows) // pieces, 1)
        for start in range(0, len(rows), step):
            stroke.add(rows[start : start + step])
        stroke.finish()
        raster = stroke.result()
    return raster


def pixels(raster):
    return raster.read(raster.rect).astype(float) / 65535


@pytest.mark.parametrize("brush", [FUR, LOCK, STRAND], ids=lambda brush: brush.kind)
def test_pieces_of_a_stroke_do_not_matter(brush):
    comb = field()
    whole, cut = (painted(brush, DOWN, pieces=n, comb=comb) for n in (1, 3))
    assert np.array_equal(whole.read(whole.rect), cut.read(cut.rect))
    assert pixels(whole)[3].any()


def test_fur_lies_along_the_comb_whichever_way_the_hand_goes():
    cover = pixels(painted(FUR.with_changes(mess_deg=0.0, hairs=6), ACROSS, comb=field()))[3]
    dy, dx = np.gradient(cover)
    # Hairs that run down vary across.
    assert np.abs(dx).sum() > 2.5 * np.abs(dy).sum()
    along = pixels(painted(FUR.with_changes(turn="along", mess_deg=0.0, hairs=6), ACROSS))[3]
    dy, dx = np.gradient(along)
    assert np.abs(dy).sum() > 2.5 * np.abs(dx).sum()


def test_upper_rows_lie_over_lower_ones_in_whatever_order_they_come():
    """One stroke down and the same one up: what is seen hardly differs, though the rows came the other way round."""
    comb = field()
    brush = FUR.with_changes(strength=1.0, hair_variety=0.0, hair_depth=1.0, mess_deg=0.0)
    spots = [(200.0, float(y), 1.0) for y in range(80, 320, 4)]
    down, up = (pixels(painted(brush, rows, comb=comb)) for rows in (spots, spots[::-1]))
    inner = np.s_[1, 120:280, 185:215]
    without = [pixels(painted(brush.with_changes(turn="fixed", turn_deg=-90), rows)) for rows in (spots, spots[::-1])]
    means = [one[inner][one[3, 120:280, 185:215] > 0.9].mean() for one in (down, up, *without)]
    # Tips are light and roots are dark: laid from below, an upper row's tips hide the roots beneath.
    assert means[0] == pytest.approx(means[1], rel=0.06)
    assert abs(means[2] - means[3]) > 2 * abs(means[0] - means[1])


def test_a_strand_is_drawn_from_root_to_tip():
    cover = pixels(painted(STRAND.with_changes(strength=1.0), DOWN))[3]
    rows = cover.sum(axis=1)
    assert rows[100:250].mean() == pytest.approx(3, abs=0.6)
    assert rows[300] > rows[330] > rows[338]
    assert rows[:55].max() == rows[345:].max() == 0


def test_a_strand_is_as_thick_as_its_pressure_along_it():
    brush = STRAND.with_changes(strength=1.0, size_px=12).driven("size", amount=1.0)
    swelling = [(200.0, 60.0, 0.3), (200.0, 130.0, 0.3), (200.0, 200.0, 1.0), (200.0, 270.0, 0.3), (200.0, 340.0, 0.3)]
    rows = pixels(painted(brush, swelling))[3].sum(axis=1)
    assert rows[200] > 1.8 * rows[110]
    assert rows[200] > 2.0 * rows[280]


def test_a_narrow_lock_needs_fewer_hairs():
    assert _count(LOCK.with_changes(hairs=140, hair_wide=1.4), 70) == 140
    assert _count(LOCK.with_changes(hairs=140, hair_wide=1.4), 8) == 20
    assert _count(LOCK.with_changes(hairs=2, hair_wide=1.4), 0) == 3
    assert _count(STRAND, 8) == 1
    thin = pixels(painted(LOCK.with_changes(size_px=8, hairs=200, strength=1.0), DOWN))[3]
    assert thin[150:200].max() > 0.95


def test_a_long_lock_is_sketched_until_the_pen_is_lifted():
    brush = LOCK.with_changes(hairs=600, hair_wide=0.4, size_px=120, strength=1.0)
    whole, cut = (painted(brush, DOWN, pieces=n) for n in (1, 3))
    assert np.array_equal(whole.read(whole.rect), cut.read(cut.rect))
    stroke = StrokeInProgress(Raster(SIDE, SIDE), brush, BROWN, seed=4)
    stroke.add(DOWN)
    sketch = sum(int(tile[3].astype(np.int64).sum()) for tile in stroke.tiles.values())
    full = int(whole.read(whole.rect)[3].astype(np.int64).sum())
    assert 0.25 * full < sketch < 0.9 * full


def test_a_turn_back_ends_a_lock():
    there = [(float(x), 100.0, 1.0) for x in range(50, 300, 5)]
    back = [(float(x), 103.0, 1.0) for x in range(295, 100, -5)]
    rows = np.array([(x, y, 10, 1, 1) for x, y, _ in there + back])
    assert relaxed(rows)[:, 0].max() >= 280
    assert abs(len(relaxed(rows)) - len(there)) <= 6
    bow = np.array([(200 + 100 * np.cos(a), 200 + 100 * np.sin(a), 5, 1, 1) for a in np.linspace(0, 5, 120)])
    assert len(relaxed(bow)) == 120


def test_wiping_with_hairs_takes_paint_off_in_hairs():
    full = Raster(SIDE, SIDE).written(0, 0, np.full((4, SIDE, SIDE), 65535, np.uint16))
    left = pixels(painted(FUR, DOWN, base=full, comb=field(), wipe=True))[3]
    assert left.min() < 0.3
    assert left[:, :120].min() == 1
    assert 0.02 < (left < 0.9).mean() < 0.3


COMB = FUR.with_changes(kind="comb", hair_px=20.0, strength=0.9, hair_depth=0.0)


def grainy(side=SIDE):
    """Paint in soft patches of two colours, opaque."""
    ys, xs = np.mgrid[:side, :side]
    share = 0.5 + 0.3 * np.sin(xs / 17) * np.sin(ys / 17)
    colour = np.stack([a + (b - a) * share for a, b in ((0.3, 0.7), (0.25, 0.6), (0.2, 0.45))] + [np.ones_like(share)])
    return Raster(side, side).written(0, 0, np.rint(colour * 65535).astype(np.uint16))


def test_combing_paint_keeps_its_mean_colour_and_gives_it_a_direction():
    base = grainy()
    rows = [[(float(x), float(y), 1.0) for x in range(40, 361, 8)] for y in range(60, 341, 25)]
    found = pixels(painted(COMB, *rows, base=base, comb=field()))
    inner = np.s_[:, 90:310, 90:310]
    before, after = (one[inner][:3].mean(axis=(1, 2)) for one in (pixels(base), found))
    assert np.abs(after - before).max() * 255 <= 2
    dy, dx = np.gradient(found[1, 90:310, 90:310])
    wide, deep = np.gradient(pixels(base)[1, 90:310, 90:310])
    assert np.abs(wide).sum() == pytest.approx(np.abs(deep).sum(), rel=0.15)
    assert np.abs(dx).sum() > 1.8 * np.abs(dy).sum()
    # What is bare stays bare: there is nothing to comb.
    assert not painted(COMB, *rows, comb=field()).read(Rect(0, 0, SIDE, SIDE)).any()


def test_combing_takes_up_what_is_visible_if_asked():
    seen = np.zeros((4, 256, 256), np.float32)
    seen[0], seen[3] = 0.8, 1.0
    stroke = StrokeInProgress(
        Raster(SIDE, SIDE), COMB.with_changes(pick_from="visible"), BROWN, visible=lambda key: seen,
        hair=HairPaint(BROWN, field()),
    )  # fmt: skip
    stroke.add(ACROSS)
    stroke.finish()
    left = pixels(stroke.result())
    assert left[0].max() > 0.6
    assert left[1].max() == 0


@pytest.mark.parametrize(("does", "way"), [("lighten", 1), ("darken", -1)])
def test_hairs_lighten_and_darken_what_is_under_them_by_stops(does, way):
    codes = np.full((4, SIDE, SIDE), 13107, np.uint16)
    codes[3] = 32768
    base = Raster(SIDE, SIDE).written(0, 0, codes)
    brush = FUR.with_changes(hair_does=does, stops=0.5, strength=1.0, hair_variety=0.0)
    found = pixels(painted(brush, DOWN, base=base, comb=field()))
    straight = srgb.decode(found[1] / found[3]) / srgb.decode(1.0)
    # Opaque hairs give the stops of the brush in full; coverage stays.
    reached = np.log2(straight[100:300, 190:220] / straight[0, 0])
    assert (reached * way).max() == pytest.approx(0.5, abs=0.03)
    assert found[3] == pytest.approx(0.5, abs=1e-4)
    assert brush.changes_paint


def test_a_row_of_lashes_stands_on_its_line_and_fans_out():
    brush = Brush("Row", kind="fringe", tip="round", spacing=0.5, size_px=10, hairs=80, hair_px=40, hair_variety=0.2)
    cover = pixels(painted(brush.with_changes(from_deg=120, to_deg=40), [(80, 250, 1), (200, 245, 1), (320, 250, 1)]))[
        3
    ]
    assert cover[235:256].sum() > cover[190:211].sum() > 0
    assert cover[262:].sum() == 0
    # To the left of the stroke; leaning back at its begin and on at its end.
    columns = np.arange(SIDE)
    low, high = (cover[a:b].sum(axis=0) @ columns / cover[a:b].sum() for a, b in ((236, 250), (200, 220)))
    assert cover[225:245, :80].sum() > 0
    assert cover[225:248, 322:].sum() > 0
    assert abs(high - low) < 40
    other = pixels(painted(brush.with_changes(from_deg=-120, to_deg=-40), [(80, 250, 1), (320, 250, 1)]))[3]
    assert other[245:].sum() > 20 * other[:240].sum()


def test_guard_hairs_stand_over_the_undercoat_and_are_longer():
    brush = FUR.with_changes(hair_variety=0.0, mess_deg=0.0, strength=1.0, hair_depth=0.0, guard=0.4, hairs=60)
    for comb in (field(), None):
        tip = brush if comb else brush.with_changes(turn="fixed", turn_deg=-90)
        plain, both = (pixels(painted(one, ACROSS, comb=comb)) for one in (tip.with_changes(guard=0.0), tip))
        value = both[1] / np.maximum(both[3], 1e-3)
        solid = both[3] > 0.9
        # Two values, of which the lighter one lies on top; and some reach farther down than any before.
        light, dark = (value[solid] > 0.385).mean(), (value[solid] < 0.34).mean()
        assert light > 0.2
        assert dark > 0.15
        assert np.flatnonzero(both[3].max(axis=1) > 0.03).max() > np.flatnonzero(plain[3].max(axis=1) > 0.03).max() + 1
    assert (
        painted(brush, ACROSS, pieces=1, comb=field()).read(Rect(0, 0, SIDE, SIDE)).tolist()
        == painted(brush, ACROSS, pieces=5, comb=field()).read(Rect(0, 0, SIDE, SIDE)).tolist()
    )


def test_tufts_draw_hairs_together_at_the_same_places_in_every_stroke():
    plain = FUR.with_changes(hair_variety=0.0, mess_deg=0.0, strength=1.0, hair_px=40.0, hairs=20)
    apart, together = (pixels(painted(plain.with_changes(tuft=t), ACROSS, comb=field()))[3] for t in (0.0, 1.0))
    low = np.s_[165:182, 90:310]
    # Near the tips there are gaps between tufts.
    assert together[low].mean() < apart[low].mean()
    assert together[low].std() > 1.03 * apart[low].std()
    first, second = (pixels(painted(plain.with_changes(tuft=1.0), ACROSS, comb=field(), seed=n))[3] for n in (4, 9))
    alike = np.corrcoef(first[low].ravel(), second[low].ravel())[0, 1]
    other = [pixels(painted(plain, ACROSS, comb=field(), seed=n))[3][low].ravel() for n in (4, 9)]
    assert alike > np.corrcoef(*other)[0, 1] + 0.15


def test_fur_swings_and_fans_out():
    plain = FUR.with_changes(hair_variety=0.0, mess_deg=0.0, strength=1.0, hair_px=60.0, hairs=8)
    lying, waving = (pixels(painted(plain.with_changes(wave=w), ACROSS, comb=field()))[3] for w in (0.0, 1.0))
    slopes = [np.abs(np.diff(one, axis=0)).sum() / np.abs(np.diff(one, axis=1)).sum() for one in (lying, waving)]
    assert slopes[1] > 1.5 * slopes[0]
    # Down the middle of a stroke along the hair, those on its right lean to the right, those on its left to the left.
    for comb, brush in ((field(), plain), (None, plain.with_changes(turn="along"))):
        wide = pixels(painted(brush.with_changes(fan_deg=60.0), DOWN, comb=comb))[3]
        narrow = pixels(painted(brush, DOWN, comb=comb))[3]
        for one, other in ((wide[:, :160], narrow[:, :160]), (wide[:, 250:], narrow[:, 250:])):
            assert one.sum() > 3 * other.sum() + 20
    combed_out = pixels(painted(COMB.with_changes(wave=0.7, fan_deg=30.0, tuft=0.5), DOWN, base=grainy(), comb=field()))
    assert combed_out[3].min() == 1


def test_a_quick_end_draws_a_strand_out():
    quick = [(100.0 + 30 * i, 200.0, 1.0, 0.0, 0.0, 0.0, 10.0 * i) for i in range(6)]
    slow = [(*row[:6], 40 * row[6]) for row in quick]
    tip = STRAND.with_changes(flick=1.0, strength=1.0, size_px=6)
    ends = [np.flatnonzero(pixels(painted(tip, rows))[3].max(axis=0) > 0.02).max() for rows in (quick, slow)]
    assert ends[0] > ends[1] + 40
    assert ends[1] < 262
    assert not painted(tip, quick[:1]).tiles
    plain = painted(tip.with_changes(flick=0.0), quick)
    assert np.flatnonzero(pixels(plain)[3].max(axis=0) > 0.02).max() < 252


def test_coils_along_an_edge():
    brush = Brush("Row", kind="fringe", tip="round", spacing=0.5, size_px=10, hairs=60, hair_px=40, hair_variety=0.8)
    line = [(60.0, 250.0, 1.0), (200.0, 250.0, 1.0), (340.0, 250.0, 1.0)]
    plain, coils = (pixels(painted(brush.with_changes(pattern=p), line))[3] for p in ("flat", "S coil"))
    above = np.s_[205:245, 80:320]
    # Coils run across as much as along.
    across, along = (np.abs(np.diff(coils[above], axis=k)).sum() for k in (0, 1))
    assert 0.6 < across / along < 1.6
    across, along = (np.abs(np.diff(plain[above], axis=k)).sum() for k in (0, 1))
    assert across / along < 0.6
    assert np.array_equal(coils, pixels(painted(brush.with_changes(pattern="S coil"), line, pieces=3))[3])


@settings(max_examples=20, deadline=None)
@given(
    st.sampled_from([FUR, LOCK, STRAND, COMB, FUR.with_changes(kind="fringe")]),
    st.floats(1, 200),
    st.floats(0, 1),
    st.floats(0, 90),
    st.sampled_from(
        [
            {},
            {"guard": 0.5, "tuft": 1.0, "wave": 1.0, "fan_deg": -90.0},
            {"flick": 3.0, "arch": -1.0, "gravity": 1.0},
            {"pattern": "S coil"},
            {"pattern": "braid"},
            {"pattern": "bun"},
        ]
    ),
    st.integers(0, 9),
    st.lists(st.tuples(st.floats(-50, 450), st.floats(-50, 450), st.floats(0, 1)), min_size=1, max_size=6),
)
def test_any_stroke_of_hair_is_sound_and_repeats(brush, size, variety, mess, more, seed, rows):
    tip = replace(brush, size_px=size, hair_variety=variety, mess_deg=mess, hairs=12, **more)
    one, other = (painted(tip, rows, seed=seed) for _ in range(2))
    codes = one.read(one.rect)
    assert np.array_equal(codes, other.read(other.rect))
    assert (codes[:3] <= codes[3]).all()


def test_combed_hairs_are_as_long_as_the_bar_they_comb():
    """A narrow bar of paint becomes short hairs that do not run out of it; a wide one takes them whole."""

    def reach(tall):
        bar = np.zeros((4, SIDE, SIDE))
        bar[:3, 200 : 200 + tall], bar[3, 200 : 200 + tall] = 0.5, 1.0
        base = Raster(SIDE, SIDE).written(0, 0, np.rint(bar * 65535).astype(np.uint16))
        # Only what is combed at the lower border may get out.
        found = pixels(
            painted(COMB.with_changes(hair_px=60.0, size_px=20), [(200.0, 206.0, 1.0)], base=base, comb=field())
        )
        cover = found[3, 200 + tall + 1 :].max(axis=1)
        return int(np.flatnonzero(cover > 0.05).max(initial=0))

    assert reach(12) < 18
    assert reach(12) < 60 - 12
