"""Lines of proportion: what they tell, how pictures are laid by them, dividers, and that nothing of them is lost."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.files.opening import open_painting
from japanner.painting.document.document import new_document
from japanner.painting.model import Landmarks, Measure, Painting
from japanner.painting.operations import FrameCanvas, ScaleCanvas, SetMeasures
from japanner.review.measuring import compared, laid_on_canvas, laying, line_words, steps_along
from japanner.scripting import Script

BARE = Painting(400, 300)
SIZE = (800, 600)


def line(number, x0, y0, x1, y1, picture="", **more):
    return Measure("line", number, x0, y0, x1, y1, picture, **more)


def measured(*lines, **more):
    return replace(BARE, measures=lines, **more)


@pytest.mark.parametrize(
    ("ends", "words"),
    [  # K4: angles from pixels, by trigonometry
        ((0, 0, 100, 10), "100 px, 5.7° off level"),
        ((50, 0, 40, 100), "100 px, 5.7° off plumb"),
        ((0, 0, 0, 30), "30 px, 0.0° off plumb"),
        ((30, 5, 0, 5), "30 px, 0.0° off level"),
    ],
)
def test_a_line_tells_length_and_angle(ends, words):
    assert line_words(line(1, *ends)) == words


def test_without_anything_to_go_by_a_picture_covers_the_canvas():
    fit = laying(BARE, "Photo", 800, 800)
    assert fit.scale == 0.5
    assert fit.at([(400, 400)]) == pytest.approx(np.array([(200, 150)]))


def test_one_pair_sets_the_scale_and_tells_its_angle():
    painting = measured(line(1, 0, 100, 100, 100), line(1, 0, 0, 200, 20, "Photo"))
    (found,) = compared(painting, "Photo", *SIZE)
    assert found.longer == pytest.approx(0, abs=1e-6)
    assert found.turn_deg == pytest.approx(5.71, abs=0.01), "the reference falls by 5.71 degrees, the painting does not"
    assert found.words == "line 1: 5.7° counterclockwise"


def test_two_pairs_and_more_lay_the_picture_by_a_similarity():
    """A known transform: half the size, turned by 20 degrees; then one line is made longer."""
    angle = np.radians(20)
    turn = 0.5 * np.array(((np.cos(angle), -np.sin(angle)), (np.sin(angle), np.cos(angle))))
    there = [(10, 20, 300, 40), (50, 400, 60, 100), (500, 500, 600, 300)]
    here = [tuple(map(float, (np.reshape(ends, (2, 2)) @ turn.T + (30, 40)).ravel())) for ends in there]
    pairs = [line(n + 1, *ends, "Photo") for n, ends in enumerate(there)]
    pairs += [line(n + 1, *ends) for n, ends in enumerate(here)]
    fit = laying(measured(*pairs), "Photo", *SIZE)
    assert fit.scale == pytest.approx(0.5)
    assert -fit.turn_deg == pytest.approx(-20)
    assert all(
        abs(one.turn_deg) < 1e-4 and abs(one.longer) < 1e-4 for one in compared(measured(*pairs), "Photo", *SIZE)
    )
    last = pairs[-1]
    longer = (*pairs[:-1], last.with_end(1, 1.3 * last.x1 - 0.3 * last.x0, 1.3 * last.y1 - 0.3 * last.y0))
    found = {one.number: one.longer for one in compared(measured(*longer), "Photo", *SIZE)}
    assert found[3] > 10
    assert found[3] > found[1] + 10


def test_landmarks_count_before_lines():
    marks = (("nose tip", 0, 0), ("crown", 0, 100), ("chin", 100, 0))
    painting = measured(
        line(1, 0, 0, 100, 0), line(1, 0, 0, 100, 0, "Photo"),
        landmarks=(Landmarks("", marks), Landmarks("Photo", tuple((n, 2 * x, 2 * y) for n, x, y in marks))),
    )  # fmt: skip
    assert laying(painting, "Photo", *SIZE).scale == pytest.approx(0.5)
    assert compared(painting, "Photo", *SIZE)[0].longer == pytest.approx(100)


ends = st.tuples(*[st.floats(-500, 500)] * 4)


@given(ends, ends, ends)
def test_a_line_laid_on_the_other_picture_comes_back(one, other, third):
    fit = laying(measured(line(1, *one), line(1, *other, "Photo")), "Photo", *SIZE)
    if fit.scale < 1e-3 or fit.scale > 1e3:
        return
    back = laid_on_canvas(laid_on_canvas(line(3, *third), fit, back=True), fit)
    assert np.array(back.ends) == pytest.approx(np.array(line(3, *third).ends), abs=0.02 * (1 + fit.scale))


@given(st.floats(0.5, 400), st.floats(1, 900), st.floats(0, 360))
def test_a_divider_steps_along(length, long, angle):
    at = np.radians(angle)
    divider = Measure("divider", 2, 10, 20, 10 + long * np.cos(at), 20 + long * np.sin(at), by=1)
    places, count = steps_along(divider, length)
    assert count == pytest.approx(long / length)
    assert len(places) == min(int(count + 1e-9), 200)
    before = (10.0, 20.0)
    for place in places:
        assert np.hypot(*np.subtract(place, before)) == pytest.approx(length)
        before = place


def test_a_divider_of_no_length_and_wrong_records_are_refused():
    with pytest.raises(InputError, match="length"):
        steps_along(Measure("divider", 1, 0, 0, 5, 5), 0.0)
    for wrong in ({"kind": "ruler"}, {"number": 0}, {"x0": float("nan")}):
        with pytest.raises(InputError):
            Measure(**{"kind": "line", "number": 1, "x0": 0, "y0": 0, "x1": 1, "y1": 1, **wrong})


def test_lines_are_kept_in_files_and_follow_the_canvas(tmp_path):
    lines = (line(1, 10, 20, 30, 40), line(1, 5, 5, 9, 9, "Photo"), Measure("plumb", 2, 50, 0, 50, 0),
             Measure("divider", 3, 0, 0, 90, 0, by=1))  # fmt: skip
    script = Script.new(400, 300)
    script.do(SetMeasures(lines))
    script.save(tmp_path / "kept.ora")
    assert open_painting(tmp_path / "kept.ora").painting.measures == lines
    document = new_document(400, 300)
    document.apply(SetMeasures(lines))
    document.apply(ScaleCanvas(800, 600))
    assert document.painting.measures[0].ends == ((20, 40), (60, 80))
    assert document.painting.measures[1] == lines[1], "those on pictures stay"
    document.apply(FrameCanvas(10, 10, 790, 590))
    assert document.painting.measures[0].ends == ((10, 30), (50, 70))
    document.undo()
    document.undo()
    assert document.painting.measures == lines
