"""Maquettes: what is seen of them against geometry."""

from __future__ import annotations

import itertools
import json
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from skimage.measure import EllipseModel

from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import FACED, JOINS, KINDS, STROKES, Piece
from japanner.light.rays import surface as module
from japanner.light.rays.surface import distances, hit, relit, seen_at, surface
from japanner.light.shipped import shipped_maquette, shipped_maquettes
from japanner.light.turning import turned
from japanner.raster.geometry import Rect

AREA = Rect(0, 0, 300, 300)
FRONT = (0.0, 0.0, 1.0)
FAR_EYE = 300.0


def of(*pieces, unit=100.0, eye=FAR_EYE, **settings):
    return Maquette(pieces, (150.0, 150.0), unit, eye=eye, **settings)


def unit(*vector):
    return tuple(float(v) for v in np.array(vector) / np.linalg.norm(vector))


def heights(found, eye=FAR_EYE):
    """z of what is seen, as from far away."""
    return np.where(found.seen, eye - found.depth, np.nan)


# --- single forms -----------------------------------------------------------------------------------------


def test_a_balls_normals_and_depth():
    found = surface(of(Piece("Ball")), AREA, FRONT)
    ys, xs = np.mgrid[:300, :300]
    x, y = (xs + 0.5 - 150) / 100, (150 - ys - 0.5) / 100
    inside = np.hypot(x, y) < 0.95
    z = np.sqrt(np.maximum(1 - x * x - y * y, 0))
    for plane, wanted in zip(found.normal, (x, y, z), strict=True):
        assert np.abs(plane - wanted)[inside].max() < 0.005
    assert np.abs(heights(found) - z)[inside].max() < 0.005
    assert found.seen.sum() == pytest.approx(np.pi * 100**2, rel=0.005)


# The terminator of a ball, seen along z, is half of an ellipse with the half axes R and R |l . z|; of the disc a share
# of (1 + l . z) / 2 is lit. (Geometry; the fit is scikit-image's.)
def test_the_terminator_of_a_ball():
    light = unit(-1, 1, np.sqrt(2))
    found = surface(of(Piece("Ball")), AREA, light)
    lit = found.seen & (np.einsum("i,ihw->hw", light, found.normal) > 0)
    assert lit.sum() / found.seen.sum() == pytest.approx((1 + light[2]) / 2, abs=0.004)
    edge = found.seen & ~lit
    border = edge & np.roll(lit, (1, 1), (0, 1))
    model = EllipseModel.from_estimate(np.argwhere(border)[:, ::-1].astype(float))
    minor, major = sorted(model.axis_lengths)
    assert major == pytest.approx(100, rel=0.03)
    assert minor == pytest.approx(100 * light[2], rel=0.04)


# The shadow of a ball of radius R on a plane, the light at an elevation e: an ellipse with the half axes R and
# R / sin e, h / tan e from the foot point. Seen from above. (Geometry.)
@pytest.mark.parametrize(("elevation", "long", "offset"), [(45, 1.4142, 1.0), (60, 1.1547, 0.5774)])
def test_the_shadow_of_a_ball_on_a_table(elevation, long, offset):
    e = np.radians(elevation)
    pieces = (Piece("Table", "slab"), Piece("Ball", place=(0.0, 1.0, 0.0)))
    above = of(*pieces, unit=40.0, turn=(0.0, -90.0, 0.0))
    towards = turned(above.turn) @ np.array((np.cos(e), np.sin(e), 0.0))
    found = surface(above, Rect(0, 0, 400, 300), tuple(towards), light_deg=0.2)
    table = found.piece == 0
    dark = table & (found.lit < 0.5)
    rows, columns = np.argwhere(dark).T
    assert 150 - columns.min() == pytest.approx(40 * (offset + long), rel=0.02)
    assert np.ptp(rows) / 2 == pytest.approx(40, rel=0.02)
    soft = surface(above, Rect(0, 0, 400, 300), tuple(towards), light_deg=20)
    between = ((soft.lit > 0.1) & (soft.lit < 0.9) & table).sum()
    assert between > 5 * ((found.lit > 0.1) & (found.lit < 0.9) & table).sum()


def test_perspective_makes_a_near_ball_look_larger():
    found = surface(of(Piece("Ball"), unit=80.0, eye=3.0), AREA, FRONT)
    seen = np.sqrt(found.seen.sum() / np.pi) / 80
    assert seen == pytest.approx(3 / np.sqrt(9 - 1), rel=0.01)  # the cone that touches the ball


def test_box_tube_ring_and_slab():
    box = surface(of(Piece("Box", "box", size=(0.8, 0.5, 0.3), edge=0.05)), AREA, FRONT)
    assert heights(box)[150, 150] == pytest.approx(0.3, abs=0.005)
    assert box.seen.sum() == pytest.approx(160 * 100, rel=0.01)
    tube = surface(of(Piece("Tube", "tube", place=(0.0, -0.6, 0.0), size=(0.5, 0.2, 1.2))), AREA, FRONT)
    widths = tube.seen.sum(axis=1)
    assert widths[210] == pytest.approx(100, abs=4)
    # Where the flank meets the upper ball it is narrower by what the flank leans.
    lean = 0.3 / 1.2
    assert widths[150 - int(100 * (0.6 + 0.2 * lean))] == pytest.approx(2 * 20 * np.sqrt(1 - lean**2), abs=3)
    upright = (0.0, 90.0, 0.0)
    ring = surface(of(Piece("Ring", "ring", turn=upright, size=(0.8, 0.2, 1.0))), AREA, FRONT)
    assert not ring.seen[150, 150]
    assert ring.seen[150, 150 + 80]
    assert ring.seen.sum() == pytest.approx(np.pi * (100**2 - 60**2), rel=0.01)
    slab = surface(of(Piece("Table", "slab"), turn=(0.0, -90.0, 0.0)), AREA, FRONT)
    assert slab.seen.all()
    assert slab.normal[2] == pytest.approx(np.ones((300, 300)), abs=1e-3)


def test_an_egg_is_fuller_below():
    egg = surface(of(Piece("Egg", "egg", size=(0.7, 1.0, 0.7), edge=0.5)), AREA, FRONT)
    widths = egg.seen.sum(axis=1)
    assert widths[200] > 1.2 * widths[100]
    assert egg.seen.any(axis=1).sum() == pytest.approx(200, abs=3)


# --- joining ----------------------------------------------------------------------------------------------


LEFT, RIGHT = (
    Piece("Left", place=(-0.4, 0.0, 0.0), size=(0.6,) * 3),
    Piece("Right", place=(0.4, 0.0, 0.0), size=(0.6,) * 3),
)


def test_balls_flow_into_each_other():
    hard = heights(surface(of(LEFT, RIGHT), AREA, FRONT))
    soft = heights(surface(of(LEFT, replace(RIGHT, blend=0.3)), AREA, FRONT))
    assert hard[150, 150] == pytest.approx(np.sqrt(0.36 - 0.16), abs=0.01)
    assert soft[150, 150] > hard[150, 150] + 0.05
    assert soft[150, 60] == pytest.approx(hard[150, 60], abs=2e-3)
    both = surface(of(LEFT, RIGHT), AREA, FRONT).piece
    assert (both[150, 120], both[150, 180]) == (0, 1)


@pytest.mark.parametrize("blend", [0.1, 0.3, 0.6])
def test_a_smooth_union_has_neither_step_nor_edge(blend):
    across = heights(surface(of(LEFT, replace(RIGHT, blend=blend)), AREA, FRONT))[150, 80:221]
    hard = heights(surface(of(LEFT, RIGHT), AREA, FRONT))[150, 80:221]
    slope = np.diff(across) * 100
    assert np.abs(np.diff(slope)).max() < 0.35 * np.abs(np.diff(np.diff(hard) * 100)).max()
    # It adds, at most a quarter of the blend in distance, and nothing where the other ball is far.
    assert (across >= hard - 2e-3).all()
    assert (across - hard)[[0, -1]] == pytest.approx(0, abs=3e-3)


def test_carving_leaves_a_bowl_and_meeting_a_lens():
    cut = Piece("Cut", place=(0.0, 0.0, 1.0), size=(0.6,) * 3, join="carve")
    bowl = surface(of(Piece("Ball"), cut), AREA, FRONT)
    assert heights(bowl)[150, 150] == pytest.approx(0.4, abs=0.01)
    assert bowl.normal[0, 150, 170] < -0.1  # a bowl's right flank looks to the left
    hole = Piece("Hole", "tube", place=(0.0, 0.0, 0.2), turn=(0.0, -90.0, 0.0), size=(0.2, 0.2, 2.0), join="carve")
    drilled = surface(of(Piece("Ball"), hole), AREA, FRONT)
    assert drilled.openness[150, 150] < 0.8 < drilled.openness[150, 200]
    other = Piece("Other", place=(0.0, 0.0, -1.2), join="meet")
    lens = surface(of(Piece("Ball"), other), AREA, FRONT)
    assert lens.seen.sum() == pytest.approx(np.pi * (100**2 - 60**2), rel=0.02)


def test_mirrored_pieces_and_groups():
    pair = surface(of(Piece("Ball", place=(0.6, 0.2, 0.0), size=(0.3,) * 3, mirror=True)), AREA, FRONT)
    assert np.array_equal(pair.seen[:, 151:299], pair.seen[:, 1:149][:, ::-1])
    # A hole in the eye's lid leaves the ball behind it whole.
    lid = Piece("Lid", size=(0.5,) * 3, group="lid")
    slit = Piece("Slit", place=(0.0, 0.0, 0.5), size=(0.3,) * 3, join="carve", group="lid")
    inside = Piece("Eye", size=(0.42,) * 3)
    found = surface(of(inside, lid, slit), AREA, FRONT)
    assert found.piece[150, 150] == 0
    assert found.piece[150, 190] == 1


def test_the_whole_turns_as_a_head_does():
    nose = Piece("Nose", place=(0.0, 0.0, 0.8), size=(0.15,) * 3)
    ahead = surface(of(nose), AREA, FRONT)
    assert ahead.seen[150, 150]
    right = surface(of(nose, turn=(30.0, 0.0, 0.0)), AREA, FRONT)
    assert right.seen[150, 150 + 40]
    up = surface(of(nose, turn=(0.0, 30.0, 0.0)), AREA, FRONT)
    assert up.seen[150 - 40, 150]
    # Normals are as the viewer has them: the middle of what is seen looks at the viewer whichever way it is turned.
    assert right.normal[2, 150, 190] > 0.98


# --- any maquette -----------------------------------------------------------------------------------------


OUTLINE = ((-0.5, -0.4, 0.0), (0.6, -0.5, 0.0), (0.4, 0.6, 0.0), (-0.2, 0.3, 0.0))
BUMPS = tuple(itertools.product((-0.5, 0.4), (-0.6, 0.5), (-0.4, 0.6)))
POINTS = {
    "cord": (((0.0, 0.0, 0.0), (0.5, 0.3, 0.0), (0.6, 0.8, 0.3)),),
    "puff": (OUTLINE,),
    "head": (BUMPS, tuple("abcdefgh")),
    "sheet": (((-0.9, 1.0, 0.0), (0.9, 1.0, 0.0)),),
    "stroke": (((0.0, 0.0, 0.5), (0.3, 0.2, 0.5)),),
}


def pieces():
    number = st.floats(-0.8, 0.8)
    size = st.floats(0.2, 0.9)
    return st.builds(
        lambda kind, place, turn, sizes, join, blend, mirror, group: Piece(
            "Any", kind, place, turn, (sizes[0], sizes[1] * 0.9, sizes[2] + 0.8) if kind == "tube" else
            (0.7, 0.6, 0.05) if kind == "sheet" else
            (sizes[0], min(sizes[1], 0.9 * sizes[0]) if kind == "ring" else sizes[1], sizes[2]),
            0.1, join if kind != "stroke" else STROKES[JOINS.index(join)], blend, mirror, group, 0,
            *POINTS.get(kind, ()),
        ),
        st.sampled_from([kind for kind in KINDS if kind not in FACED]),
        st.tuples(number, number, number), st.tuples(*[st.floats(-180, 180)] * 3),
        st.tuples(size, size, size), st.sampled_from(JOINS), st.sampled_from([0.0, 0.05, 0.4]), st.booleans(),
        st.sampled_from(["", "one"]),
    )  # fmt: skip


BOWL = [
    Piece("Ball", size=(0.5, 0.5, 0.5)),
    Piece("The same", size=(0.5, 0.5, 0.5), group="one"),
    Piece("Cut", size=(0.5, 0.5, 0.75), join="carve", group="one"),
]


@example(BOWL, (0.0, 0.0, 0.0), 0.0)
@settings(max_examples=25, deadline=None)
@given(st.lists(pieces(), min_size=1, max_size=5), st.tuples(*[st.floats(-90, 90)] * 3), st.floats(-1, 1))
def test_any_maquette_gives_sound_surfaces(found, turn, x):
    shape = of(*found, unit=60.0, eye=6.0, turn=turn)
    assert Maquette.from_record(json.loads(json.dumps(shape.to_record()))) == shape
    try:
        seen = surface(shape, AREA, unit(x, 0.7, 0.5), step=5)
    except InputError:
        return  # the viewer stands below the table
    for plane in (seen.depth, seen.normal, seen.openness, seen.lit):
        assert np.isfinite(plane).all()
    assert np.linalg.norm(seen.normal, axis=0)[seen.seen] == pytest.approx(1, abs=1e-3)
    assert ((seen.openness >= 0) & (seen.openness <= 1) & (seen.lit >= 0) & (seen.lit <= 1)).all()
    # Leaving out what is too far to matter changes nothing; a blend is a little narrower where the distance of a form
    # is only known by a bound.
    rows = module.rows_of
    try:
        module.rows_of = lambda given: _without_reach(rows(given))
        slow = surface(shape, AREA, unit(x, 0.7, 0.5), step=5)
    finally:
        module.rows_of = rows
    widest = max(one.blend for one in found)
    # Of two surfaces in the very same place, either may be the one that is seen.
    other = (slow.piece != seen.piece) & (np.abs(slow.depth - seen.depth) > 2e-3)
    assert other.mean() < 0.01 + 0.05 * widest
    same = slow.seen & seen.seen
    assert np.median(np.abs(slow.depth - seen.depth)[same]) < 5e-3 + widest / 3 if same.any() else True


def _without_reach(rows):
    rows.rows[rows.rows[:, 0] != list(KINDS).index("stroke"), 22] = 0
    return rows


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"kind": "cone"}, "kind"), ({"size": (1.0, 0.0, 1.0)}, "size"), ({"place": (0.0, 0.0)}, "a list of 3"),
        ({"join": "glue"}, "join"), ({"mirror": 1}, "mirror"), ({"colour": 3}, "colour"), ({"edge": 5.0}, "edge"),
        ({"kind": "tube", "size": (2.0, 0.1, 1.0)}, "tube"), ({"kind": "ring", "size": (1.0, 2.0, 1.0)}, "ring"),
    ],
)  # fmt: skip
def test_what_is_no_piece_is_refused(wrong, words):
    with pytest.raises(InputError, match=words):
        Piece.from_record({"name": "Wrong", **wrong})


def test_a_file_with_unknown_keys_loads_what_is_known():
    record = of(Piece("Ball"), turn=(10.0, 0.0, 0.0)).to_record()
    record["weather"] = "fog"
    record["pieces"][0]["smell"] = 3
    found, left = Maquette.from_file(json.loads(json.dumps(record)))
    assert found == of(Piece("Ball"), turn=(10.0, 0.0, 0.0))
    assert left == ("weather", "piece 1: smell")
    for wrong in ([], {"format": 1, "pieces": 3}, {"format": 1, "pieces": [4]}, {"format": 9}):
        with pytest.raises(InputError):
            Maquette.from_file(wrong)


def test_a_viewer_inside_the_maquette_is_told_so():
    with pytest.raises(InputError, match="inside the maquette"):
        surface(of(Piece("Ball", size=(2.0, 2.0, 2.0)), eye=1.5), AREA, FRONT)


def test_shipped_maquettes_are_sound():
    for name in shipped_maquettes():
        shape = shipped_maquette(name)
        seen = surface(shape, Rect(0, 0, 1000, 1000), unit(-1, 1, 1), step=16, quick=True)
        assert 0.05 < seen.seen.mean() < 0.9, name
        assert np.isfinite(seen.normal).all()


# --- after it is seen --------------------------------------------------------------------------------------


def test_the_mean_curvature_of_a_ball_is_one_over_its_radius():
    found = surface(of(Piece("Ball", size=(0.8,) * 3)), AREA, FRONT)
    assert found.curvature(2.0)[140:160, 140:160] == pytest.approx(1 / 0.8, rel=0.05)


def test_another_light_on_the_same_surface():
    shape = of(Piece("Table", "slab", place=(0.0, -0.8, 0.0)), Piece("Ball", size=(0.5,) * 3), turn=(0.0, -20.0, 0.0))
    one, other = unit(-1, 1, 0.6), unit(1, 1, 0.4)
    moved, anew = relit(surface(shape, AREA, one), shape, other), surface(shape, AREA, other)
    assert np.array_equal(moved.lit, anew.lit)
    rough = relit(anew, shape, other, skip=4)
    assert np.abs(rough.lit - anew.lit).mean() < 0.03


def test_where_a_place_is_seen_and_what_is_seen_there():
    shape = of(Piece("Ball"), eye=6.0, turn=(30.0, 10.0, 5.0))
    place, piece = hit(shape, 170.0, 120.0)
    assert piece == 0
    assert np.linalg.norm(place) == pytest.approx(1, abs=2e-3)
    assert seen_at(shape, place) == pytest.approx((170.5, 120.5), abs=0.05)
    assert hit(shape, 5.0, 5.0) is None
    near = distances(shape, np.array(((2.0, 0.0, 0.0), (0.0, 0.5, 0.0))))
    assert near[:, 0] == pytest.approx((1.0, -0.5), abs=1e-3)
    assert near[0, 1:] == pytest.approx((1, 0, 0), abs=1e-2)


# --- strokes over the clay --------------------------------------------------------------------------------


def stroked(join, width=0.3, height=0.1):
    line = tuple((x, 0.0, 1.0) for x in (-0.2, 0.0, 0.2))
    stroke = Piece("Stroke", "stroke", size=(width, height, 1.0), join=join, points=line)
    return heights(surface(of(Piece("Ball", size=(1.0, 1.0, 1.0)), stroke), AREA, FRONT))


def test_strokes_raise_and_lower_the_surface_where_they_go():
    plain = heights(surface(of(Piece("Ball")), AREA, FRONT))
    raised, lowered = stroked("raise"), stroked("lower")
    assert raised[150, 150] - plain[150, 150] == pytest.approx(0.1, abs=0.015)
    assert lowered[150, 150] - plain[150, 150] == pytest.approx(-0.1, abs=0.015)
    # Three widths away nothing is left of it.
    assert raised[150 - 98, 150] == pytest.approx(plain[150 - 98, 150], abs=4e-3) or np.isnan(plain[150 - 98, 150])
    crease = stroked("crease", 0.1, 0.08)
    assert crease[150, 150] < plain[150, 150] - 0.035
    assert crease[130, 150] == pytest.approx(plain[130, 150], abs=0.01)


def test_smoothing_softens_a_hard_join():
    pieces_ = (LEFT, RIGHT)
    line = tuple((0.0, y, 0.42) for y in (-0.3, 0.0, 0.3))
    smooth = Piece("Smooth", "stroke", size=(0.2, 0.9, 1.0), join="smooth", points=line)
    hard = heights(surface(of(*pieces_), AREA, FRONT))
    soft = heights(surface(of(*pieces_, smooth), AREA, FRONT))
    assert soft[150, 150] > hard[150, 150] + 0.01  # the valley fills

    def bend(found):
        return np.nanmax(np.abs(np.diff(found[150, 120:180], 2)))

    assert bend(soft) < 0.8 * bend(hard)


def test_work_is_told_of_and_can_be_stopped():
    heard = []
    surface(of(Piece("Ball")), AREA, FRONT, told=heard.append)
    assert max(heard) == 1

    def stop(done):
        raise InterruptedError

    with pytest.raises(InterruptedError):
        surface(of(Piece("Ball")), AREA, FRONT, told=stop)
    with pytest.raises(InputError, match="format"):
        Maquette.from_record({"pieces": []})
