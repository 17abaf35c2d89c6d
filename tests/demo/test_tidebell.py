"""Tidebell: its script painted small, and the painting that is shipped held against what it is meant to show."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from japanner.color.lab import lightness_from_srgb
from japanner.demo import DEMOS
from japanner.demo.tidebell import STAGES, brindle, ground, stages
from japanner.files.opening import open_painting
from japanner.painting.form.combing import comb_of
from japanner.painting.picture.compositor import flattened
from japanner.raster.geometry import Rect
from japanner.raster.tiles import straight
from japanner.scripting import lch, shipped_brush

PARTS = ["Ground", "Net float", "Tide bell", "Brindle", "Nose", "Near eye", "Far eye", "Rims and whiskers", "Drawing",
         "Grade"]  # fmt: skip
MIB = 1 << 20


def part_of(painting, name):
    return next(one for one in painting.parts if one.name == name)


def layer_of(painting, part, name):
    return next(one for one in part_of(painting, part).layers if one.name == name)


def values(painting):
    """L* of the picture, (h, w)."""
    raster = flattened(painting)
    return lightness_from_srgb(raster.read(raster.rect)[:3].transpose(1, 2, 0) / 65535)


def cover(painting, part, *names):
    """Coverage of some layers of a part, (h, w), 0 to 1."""
    whole = np.zeros((painting.height, painting.width), np.float32)
    for one in part_of(painting, part).layers:
        if one.name in names:
            whole = np.maximum(whole, one.pixels.read(painting.rect)[3] / 65535)
    return whole


# --- the script -------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def small():
    """The script at a quarter of its size, over a ground of a few broad strokes."""

    def broad(painter, layer):
        for y in range(0, 1300, 120):
            brush = shipped_brush("Round").with_changes(size_px=260.0)
            painter.script.stroke(layer, brush, lch(17, 5, 100), [(-100, y, 1.0), (1700, y, 1.0)])

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(ground, "air", broad)
        for name in ("mud", "shore", "water", "posts", "calmed"):
            patch.setattr(ground, name, lambda painter, layer: None)
        patch.setattr(brindle, "RIM_HAIRS", 60)
        patch.setattr(brindle, "TUFTS", 40)
        yield stages.paint(scale=0.25, watch=400)


def test_the_script_paints_all_parts_stage_by_stage(small):
    painting = small.painting
    assert (painting.width, painting.height) == (400, 300)
    assert [one.name for one in painting.parts] == PARTS
    assert tuple(dict.fromkeys(one.stage for one in small.document.moments)) == STAGES == DEMOS["tidebell"].stages
    roles = {one.role for one in part_of(painting, "Brindle").layers}
    assert {"flat", "undertone", "shadow", "strands", "strays", "accent", "texture", "detail"} <= roles
    seen = values(painting)
    assert np.percentile(seen, 2) < 6
    assert np.percentile(seen, 99) > 55
    # The lit side of the face stands clear of the ground before it.
    face, before = seen[110:126, 196:216], seen[80:120, 130:164]
    assert np.median(face) > np.median(before) + 15


def test_it_can_be_stopped_after_any_stage():
    sketched = stages.paint(scale=0.1, until="sketch").painting
    assert [one.name for one in sketched.parts] == [name for name in PARTS if name != "Grade"]
    assert part_of(sketched, "Drawing").shown
    assert not part_of(sketched, "Ground").layers


# --- what is shipped --------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def shipped():
    path = DEMOS["tidebell"].file
    assert path is not None
    assert path.stat().st_size < 45 * MIB
    return open_painting(path)


def test_the_shipped_painting_is_whole(shipped):
    assert [one.name for one in shipped.painting.parts] == PARTS
    assert (shipped.painting.width, shipped.painting.height) == (1600, 1200)
    assert tuple(dict.fromkeys(one.stage for one in shipped.moments)) == STAGES
    assert len(shipped.records) > 3000
    assert shipped.remarks == ()


def test_catch_lights_lie_on_the_lit_side(shipped):
    for name in ("Near eye", "Far eye"):
        light = layer_of(shipped.painting, name, "Catch light").pixels.read(shipped.painting.rect)[:3].mean(axis=0)
        pupil = cover(shipped.painting, name, "Pupil")
        (light_y, light_x), (y, x) = (
            np.average(np.nonzero(one), axis=1) for one in (light > 0.6 * light.max(), pupil > 0.5)
        )
        assert light_x < x - 1  # the key light comes from the left
        assert light_y < y - 1  # and from above


def test_hairs_lie_as_they_are_combed(shipped):
    """By the structure tensor of the coat, the direction that changes least: within 12 degrees in the median."""
    painting = shipped.painting
    part = part_of(painting, "Brindle")
    field = comb_of(painting, part)
    area = Rect(760, 220, 1400, 1150)
    pixels = straight(layer_of(painting, "Brindle", "Coat").pixels.read(area))
    grey, alpha = pixels[:3].mean(axis=0).astype(np.float32) / 65535, pixels[3]
    gx, gy = cv2.Sobel(grey, cv2.CV_32F, 1, 0), cv2.Sobel(grey, cv2.CV_32F, 0, 1)
    xx, xy, yy = (cv2.GaussianBlur(one, (0, 0), 6) for one in (gx * gx, gx * gy, gy * gy))
    along = np.arctan2(2 * xy, xx - yy) / 2 + np.pi / 2
    clear = np.hypot(xx - yy, 2 * xy) / np.maximum(xx + yy, 1e-9) > 0.5
    rows, columns = np.nonzero(clear & (alpha > 60_000))
    rows, columns = rows[::37], columns[::37]
    assert len(rows) > 2000
    x, y = columns + area.x0 + 0.5, rows + area.y0 + 0.5
    dx, dy = (field.at(plane, x.astype(np.float32), y.astype(np.float32)) for plane in field.direction)
    off = np.degrees(np.abs((along[rows, columns] - np.arctan2(dy, dx) + np.pi / 2) % np.pi - np.pi / 2))
    assert np.median(off) < 12


def test_no_edge_of_the_otter_is_straight(shipped):
    """No run of its outline keeps within half a pixel of its chord over more than 3 % of the whole."""
    mask = (cover(shipped.painting, "Brindle", "Flat", "Edge") > 0.5).astype(np.uint8)
    found, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(found, key=cv2.contourArea)[:, 0].astype(float)
    inside = ((ring > 3) & (ring < np.array((1600, 1200)) - 4)).all(axis=1)  # the canvas cuts it off straight
    longest = round(0.03 * len(ring))
    for start in range(0, len(ring) - longest, 8):
        piece = ring[start : start + longest]
        if not inside[start : start + longest].all():
            continue
        chord = piece[-1] - piece[0]
        size = np.hypot(*chord)
        off = np.abs((piece - piece[0]) @ np.array((-chord[1], chord[0]))) / max(size, 1e-9)
        assert off.max() > 0.5


def test_materials_are_told_apart_by_their_values(shipped):
    """Common practice: brass has the widest range and the hardest changes, fur a middle one, the ground the least."""
    seen = values(shipped.painting)

    def spread(part, *layers):
        inside = seen[cover(shipped.painting, part, *layers) > 0.9]
        return np.percentile(inside, 98) - np.percentile(inside, 2)

    bell, fur = spread("Tide bell", "Flat"), spread("Brindle", "Flat")
    air = seen[:600, 560:680]
    assert bell > 55
    assert fur > 35
    assert np.percentile(air, 98) - np.percentile(air, 2) < 15
