"""Checks say a word and a figure, or nothing."""

from __future__ import annotations

from japanner.review.checks import CHECKS, critique
from japanner.scripting import Script
from tests.paintings import HARD


def test_a_light_disc_on_a_dark_ground_is_clear_and_one_of_its_value_is_lost():
    script = Script.new(200, 160, ground=(0.2, 0.2, 0.2))
    for colour, at in (((0.8, 0.8, 0.8), 60), ((0.2, 0.2, 0.2), 140)):
        flat = script.layer(script.part("Disc"), "flat")
        script.stroke(flat, HARD, colour, [(at, 80, 1.0)])
    clear, lost = (critique(script.painting, part.uid)["part against ground"] for part in script.painting.parts)
    assert (clear.word, clear.fault) == ("clear", False)
    assert clear.figure.startswith("+")
    assert (lost.word, lost.figure, lost.fault) == ("lost", "+0 L*", True)


def test_a_part_without_paint_has_nothing_said_of_it():
    script = Script.new(50, 40)
    part = script.part("Bare")
    script.layer(part, "flat")
    assert critique(script.painting, part) == {}


def test_every_check_asks_something():
    assert all(check.asks.endswith("?") for check in CHECKS.values())
