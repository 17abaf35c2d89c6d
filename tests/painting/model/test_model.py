"""The painting's values refuse what makes no sense, and name it."""

from __future__ import annotations

import math

import pytest

from japanner.errors import InputError
from japanner.painting.model import MATERIALS, ROLES, Layer, Light, Painting, Part
from japanner.painting.working_order import next_stage, stage_for, working_order
from japanner.raster.modes import MODES
from japanner.raster.tiles import Raster

EMPTY = Raster(10, 10)


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: Painting(0, 10), "width: expected 1 to 32768, got 0"),
        (lambda: Painting(10, 40000), "height: expected 1 to 32768, got 40000"),
        (lambda: Painting(20000, 20000), "width x height: expected at most 200 Mpx, got 400 Mpx"),
        (lambda: Painting(10, 10.5), "height: expected a whole number"),
        (lambda: Painting(10, 10, ppi=0), "ppi: expected 1 to 10000, got 0"),
        (lambda: Painting(10, 10, title="a\nb"), "title: expected 1 to 200 printable characters"),
        (lambda: Painting(10, 10, ground=(0, 0, 2)), r"colour: expected 0 to 1, got 2 at \(2,\)"),
        (lambda: Layer(1, "", "flat", EMPTY), "name: expected 1 to 80 printable characters"),
        (lambda: Layer(1, "A", "sky", EMPTY), "role: expected one of sketch, flat"),
        (lambda: Layer(1, "A", "flat", EMPTY, place="under"), "place: expected one of behind, body, over"),
        (lambda: Layer(1, "A", "flat", EMPTY, mode="Bright"), "mode: expected one of Normal, Multiply"),
        (lambda: Layer(1, "A", "flat", EMPTY, strength=-0.1), "strength: expected 0 to 1, got -0.1"),
        (lambda: Layer(1, "A", "flat", EMPTY, shown=None), "shown: expected true or false, got None"),
        (lambda: Part(1, "A", "stone"), "material: expected one of drawing, plain"),
        (lambda: Part(1, "A", scale=(10, 30, 20, 40, 50)), "scale: expected five rising L"),
        (lambda: Part(1, "A", scale=(10, 30, 50, 70, 101)), "scale: expected 0 to 100, got 101"),
        (lambda: Light(91, 0), "up_deg: expected -90 to 90, got 91"),
        (lambda: Light(0, math.nan), "right_deg: expected -180 to 180, got nan"),
    ],
)
def test_values_out_of_range_are_named(make, words):
    with pytest.raises(ValueError, match=words):
        make()


def test_the_light_points_where_its_angles_say():
    assert Light(0, 0).direction == pytest.approx((0, 0, 1))
    assert Light(90, 0).direction == pytest.approx((0, 1, 0))
    assert Light(0, -90).direction == pytest.approx((-1, 0, 0))
    assert math.hypot(*Light(33, 121).direction) == pytest.approx(1)


def test_what_is_not_there_is_named():
    with pytest.raises(InputError, match="layer: expected one of the painting's layers, got 7"):
        Painting(10, 10).layer(7)
    with pytest.raises(InputError, match="part: expected one of the painting's parts, got 7"):
        Painting(10, 10).part(7)


@pytest.mark.parametrize("material", MATERIALS)
def test_working_orders_are_sound(material):
    stages = working_order(material)
    roles = [stage.role for stage in stages]
    assert len(set(roles)) == len(roles)
    assert set(roles) <= set(ROLES)
    assert all(stage.mode in MODES and 0 < stage.strength <= 1 for stage in stages)
    if material != "drawing":
        assert roles[0] == "flat"  # the flat carries the silhouette: common practice


def test_the_next_stage_is_the_first_that_is_missing():
    flat, light = Layer(1, "Flat", "flat", EMPTY), Layer(2, "Light", "light", EMPTY)
    assert next_stage(Part(3, "A", "hair", (flat, light))).role == "shadow"
    assert next_stage(Part(3, "A", "drawing")).role == "sketch"
    every = tuple(Layer(i, "Any", stage.role, EMPTY) for i, stage in enumerate(working_order("plain")))
    assert next_stage(Part(9, "A", "plain", every)) is None
    assert stage_for(Part(3, "A", "fur"), "shadow").mode == "Multiply"
    assert stage_for(Part(3, "A", "fur"), "glow").mode == "Normal"
