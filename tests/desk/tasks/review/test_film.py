"""Films from the window: options, a file, progress; what cannot be filmed says so."""

from __future__ import annotations

import av
import pytest

from japanner.painting.operations import AddLayer
from tests.desk.hand import Hand


@pytest.fixture
def film(hand: Hand):
    session = hand.window.session
    for k in range(6):
        hand.pen([(100 + 40 * k, 80, 0.8), (120 + 40 * k, 200, 1.0)])
    hand.command("Review › Film")
    task = hand.easel.task
    task.long.setValue(160)
    task.seconds.setValue(1)
    task.hold.setValue(0)
    assert session.document.records
    return task


def test_a_film_is_written_beside_the_hand(hand, film, tmp_path, monkeypatch, heard):
    told = heard(film.session.told)
    path = tmp_path / "growth.webm"
    monkeypatch.setattr("japanner.desk.tasks.review.film.ask_where_to", lambda *_: path)
    hand.click(film.write_button)
    film.session.jobs.wait()
    assert told[-1] == "growth.webm is written."
    with av.open(str(path)) as found:
        frames = list(found.decode(video=0))
    assert len(frames) == 25
    assert max(frames[0].width, frames[0].height) == 160


def test_options_make_the_plan(film):
    film.even.setCurrentText("time")
    film.undone.setChecked(True)
    film.session.apply(AddLayer(film.session.work.active_part, "flat"))
    film.camera.setCurrentText("the part")
    plan = film.plan
    assert (plan.long_px, plan.even, plan.undone) == (160, "time", True)
    assert plan.camera is not None
    film.camera.setCurrentText("all of the canvas")
    assert film.plan.camera is None


def test_what_cannot_be_filmed_says_so(hand, film, heard):
    told = heard(film.session.told)
    del film.session.document.records[0]
    hand.click(film.write_button)
    assert "does not reach back" in told[-1]
