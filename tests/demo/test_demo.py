"""The demo is painted by the engine, and its forms are lit as the light study says."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from japanner.color import lab
from japanner.demo import DEMOS, hair, hand, light_study, studies
from japanner.demo.light_study import Form
from japanner.files.opening import open_painting
from japanner.painting.model import Light
from japanner.painting.picture.compositor import flattened
from japanner.painting.working_order import working_order
from japanner.scripting import Script
from japanner.stroke.brush import Brush

QUARTER = 0.25
GREY = (0.2, 0.2, 0.2)


def plain_table(sheet):
    part = sheet.script.part("Table", "plain")
    flat = sheet.script.layer(part, "flat")
    wash = Brush("Wash", tip="round", edge=0.5, size_px=420, spacing=0.05)
    for y in range(0, studies.SIZE[1] + 1, 160):
        sheet.script.stroke(flat, wash, studies.TABLE, [(-100, y, 1.0), (studies.SIZE[0] + 100, y, 1.0)])


@pytest.fixture(scope="module")
def sheet():
    """The demo with one of its forms, smaller on a quarter of the sheet, on a table of a few broad strokes."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(studies, "_ground", plain_table)
        patch.setattr(studies, "UNIT_PX", 320.0)
        yield studies.paint(scale=QUARTER, names=("Ball",))


def painted_values(sheet):
    raster = flattened(sheet.painting)
    pixels = raster.read(raster.rect)[:3].transpose(1, 2, 0) / 65535
    size = studies.SIZE[0] // studies.SCALE, studies.SIZE[1] // studies.SCALE
    return lab.lightness_from_srgb(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA))


def has_the_parts_and_the_working_order(sheet):
    assert [part.name for part in sheet.painting.parts] == ["Table", "Ball"]
    wanted = {stage.role for stage in working_order("plain")}
    for part in sheet.painting.parts[1:]:
        assert wanted <= {layer.role for layer in part.layers}
        assert all(layer.pixels.tiles for layer in part.layers)
    kinds = {record["brush"].get("kind", "lay") for record in sheet.document.records if record["op"] == "stroke"}
    assert kinds == {"lay", "smudge", "dodge", "burn"}


def values_follow_the_light_and_yet_are_strokes(sheet, study):
    values, mask = painted_values(sheet), study.mask(0)
    painted, wanted = values[mask], study.value[mask]
    assert np.corrcoef(painted, wanted)[0, 1] > 0.93
    difference = painted - wanted
    assert abs(np.median(difference)) < 4
    # Neither a gradient fill nor a muddle: strokes differ from the study by one to six L*.
    assert 1.0 < difference.std() < 6.5
    # Light, halftone and core shadow are all there.
    assert np.percentile(painted, 95) - np.percentile(painted, 5) > 25


def the_form_stands_clear_of_the_ground(sheet, study):
    values = painted_values(sheet)
    ground = np.median(values[study.form < 0])
    assert np.median(values[study.mask(0)]) > ground + 10


def test_the_studies_sheet(sheet):
    """One test for all of it: it is painted once."""
    study = studies._study(sheet)
    has_the_parts_and_the_working_order(sheet)
    values_follow_the_light_and_yet_are_strokes(sheet, study)
    the_form_stands_clear_of_the_ground(sheet, study)


# --- the light study --------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def small():
    forms = (Form("Ball", light_study.ball(0.0, 0.0, 1.0), GREY),)
    return light_study.render(forms, GREY, Light(48, -40), (600, 400), 4, 130.0, (300.0, 270.0))


# A ball of radius r has an area of pi r^2; its normals are those of a sphere.
def test_a_ball_is_round(small):
    mask = small.mask(0)
    assert mask.sum() * 16 == pytest.approx(np.pi * 130**2, rel=0.02)
    rows, columns = np.nonzero(mask)
    x, y = (columns + 0.5) * 4, (rows + 0.5) * 4
    middle = x.mean(), y.mean()
    inner = np.hypot(x - middle[0], y - middle[1]) < 100
    normal = small.normal[mask]
    assert normal[inner, 0] == pytest.approx((x[inner] - middle[0]) / 130, abs=0.03)
    assert normal[inner, 1] == pytest.approx((middle[1] - y[inner]) / 130, abs=0.03)


def test_it_is_lit_from_where_the_light_is(small):
    mask = small.mask(0)
    rows, columns = np.nonzero(mask & (small.lit > 0.9))
    middle = [axis.mean() for axis in np.nonzero(mask)]
    assert rows.mean() < middle[0]  # from above
    assert columns.mean() < middle[1]  # and from the left
    # Its shadow falls on the table, away from the light.
    rows, columns = np.nonzero((small.form < 0) & (small.lit < 0.1))
    assert columns.mean() > middle[1]


# --- the hand ---------------------------------------------------------------------------------------------


def test_an_outline_runs_inside_the_mask():
    ys, xs = np.mgrid[0:120, 0:120]
    mask = np.hypot(xs - 60, ys - 60) < 50
    (rows,) = hand.closed_outline(mask, scale=4, inset_px=20)
    radii = [np.hypot(x - 242, y - 242) for x, y, _ in rows]
    assert np.mean(radii) == pytest.approx(180, abs=4)
    assert np.std(radii) < 3


def test_fills_stay_half_a_tip_inside():
    mask = np.zeros((60, 80), bool)
    mask[10:50, 10:70] = True
    for (x0, y0, _), (x1, y1, _) in hand.fill_rows(mask, scale=4, tip_px=40):
        assert y0 == y1
        assert 40 + 16 <= y0 <= 200 - 16
        assert 40 + 16 <= x0 <= x1 <= 280 - 16


def test_strokes_follow_the_flow_and_end_where_the_value_leaves_their_tolerance():
    value = np.tile(np.linspace(0, 100, 100, dtype=np.float32)[:, None], (1, 100))
    flow = hand.flow_along(value, np.ones_like(value, bool), 4, 5, rest=0.0)
    along = flow.stroke(200, 200, 100, 8, tolerance=3)
    assert np.ptp([y for _, y in along]) < 8  # lines of equal value are level here
    assert np.ptp([x for x, _ in along]) > 150
    across = flow.stroke(200, 200, 100, 8, tolerance=10, turn=np.pi / 2)
    assert np.ptp([y for _, y in across]) <= 2 * 44


def test_pieces_of_a_stroke_overlap_by_a_row():
    rows = [(float(i), 0.0, 1.0) for i in range(8)]
    pieces = hand.runs(rows, [False, True, True, True, False, False, True, True])
    assert [[x for x, _, _ in piece] for piece in pieces] == [[0, 1, 2, 3, 4], [5, 6, 7]]


def test_bristles_lie_side_by_side():
    traces = hand.bristles([(0, 0), (50, 0), (100, 0)], 60, 7, np.random.default_rng(1))
    heights = [trace[0][1] for trace in traces]
    assert 4 <= len(traces) <= 7  # one that is ragged at both ends of so short a path is gone
    assert heights == sorted(heights)
    assert np.ptp(heights) <= 60 + 14


def test_the_hair_sheet_paints_itself_the_same_again():
    """Lashes, a brow and whiskers twice: what they need is there, and chance repeats."""
    twice = []
    for _ in range(2):
        script = Script.new(*hair.SIZE, ground=GREY)
        for step in (hair._eye, hair._muzzle):
            step(script)
        twice.append(script.painting)
    assert [part.name for part in twice[0].parts] == ["Skin", "Eye", "Muzzle"]
    for one, other in zip(twice[0].parts, twice[1].parts, strict=True):
        for layer, same in zip(one.layers, other.layers, strict=True):
            assert layer.pixels.tiles.keys() == same.pixels.tiles.keys()
            assert all(np.array_equal(layer.pixels.tiles[key], same.pixels.tiles[key]) for key in layer.pixels.tiles)


def test_every_demo_can_be_asked_for():
    assert set(DEMOS) == {"tidebell", "studies", "materials", "heads", "animals", "hair"}


@pytest.mark.parametrize(
    ("name", "heads"), [("heads", ("Ione", "Old", "Lio")), ("animals", ("Otter", "Cat"))]
)  # fmt: skip
def test_every_face_that_is_shipped_was_finished_by_hand(name, heads):
    """A hundred strokes each at least, and the eyes, coats and skins that makers laid under them."""
    path = DEMOS[name].file
    assert path is not None
    assert path.stat().st_size < 10 * 2**20
    found = open_painting(path)
    strokes = dict.fromkeys(heads, 0)
    owners = {layer.uid: part.name for part in found.painting.parts for layer in part.layers}
    for record in found.records:
        if record["op"] == "stroke":
            for head in heads:
                strokes[head] += owners.get(record["layer"], "").startswith(head)
    assert min(strokes.values()) >= 100, strokes
    names = {layer.name for part in found.painting.parts for layer in part.layers}
    assert {"Iris", "Pupil", "Catch light"} <= names
