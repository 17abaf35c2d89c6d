"""Films of how a painting grew, decoded again and compared with the replayed pictures."""

from __future__ import annotations

import av
import numpy as np
import pytest
from PIL import Image

from japanner.errors import InputError, SaveError
from japanner.files.exchange.film import FilmPlan, frames, write_film
from japanner.scripting import Script, shipped_brush


@pytest.fixture(scope="module")
def records():
    script = Script.new(320, 200, ground=(0.25, 0.25, 0.28))
    flat = script.layer(script.part("Part"), "flat")
    for k in range(24):
        rows = [(20 + 12 * k, 40, 0.6, 0, 0, 0, 0), (30 + 12 * k, 160, 1.0, 0, 0, 0, 200 + 40 * k)]
        colour = (0.2 + 0.03 * k, 0.5, 0.8 - 0.03 * k)
        script.stroke(flat, shipped_brush("Round").with_changes(size_px=30), colour, rows, seed=k)
        if k == 10:
            script.document.undo()
    return script.document.records


def decoded(path):
    with av.open(str(path)) as film:
        rate = float(film.streams.video[0].average_rate)
        return [one.to_ndarray(format="rgb24") for one in film.decode(video=0)], rate


def test_frames_of_a_webm_are_the_replayed_pictures(records, tmp_path):
    plan = FilmPlan(long_px=320, seconds=1.2, hold_s=0.4)
    steps: list[float] = []
    write_film(records, tmp_path / "growth.webm", plan, lambda done, words: steps.append(done))
    found, rate = decoded(tmp_path / "growth.webm")
    assert rate == pytest.approx(25)
    assert len(found) == round(25 * 1.6)
    wanted = list(frames(records, plan, 25))
    for number in (4, 15, 29, 39):
        assert found[number].shape == wanted[number].shape == (200, 320, 3)
        off = np.abs(found[number].astype(int) - wanted[number].astype(int))
        assert off.mean() < 6, number
    assert steps == sorted(steps)
    assert steps[-1] == 1.0
    # It grows: more of it is painted from frame to frame, and stands still at the end.
    ground = wanted[0][2, 2].astype(int)
    painted = [(np.abs(one.astype(int) - ground).sum(axis=2) > 30).mean() for one in wanted]
    assert painted == sorted(painted)
    assert painted[0] < 0.1
    assert painted[-1] > 0.4
    assert np.array_equal(wanted[-1], wanted[-8])


def test_a_gif_of_a_part_of_the_canvas(records, tmp_path):
    plan = FilmPlan(long_px=100, seconds=1.0, hold_s=0.5, camera=(0.0, 0.0, 160.0, 100.0))
    write_film(records, tmp_path / "growth.gif", plan)
    with Image.open(tmp_path / "growth.gif") as film:
        assert film.size == (100, 62)
        assert 4 <= film.n_frames <= 18  # those that look the same are drawn together
        shown = sum(film.info["duration"] for k in range(film.n_frames) if film.seek(k) is None)
        assert shown == pytest.approx(1500, rel=0.1)


def test_even_in_time_long_strokes_take_longer(records):
    by_strokes, by_time = (list(frames(records, FilmPlan(64, 4, 0, even), 25)) for even in ("strokes", "time"))
    assert len(by_strokes) == len(by_time) == 100
    half = [float((one[50].astype(int) != one[0].astype(int)).mean()) for one in (by_strokes, by_time)]
    assert half[1] > half[0], "the first strokes were the quick ones"


def test_with_undone_ways_there_is_more_to_see(records):
    plain = list(frames(records, FilmPlan(64, 2, 0), 25))
    undone = list(frames(records, FilmPlan(64, 2, 0, undone=True), 25))
    sizes = [[(one.astype(int) != film[0].astype(int)).mean() for one in film] for film in (plain, undone)]
    assert sizes[0] == sorted(sizes[0])
    assert sizes[1] != sorted(sizes[1]), "something goes away again"


def test_what_cannot_be_filmed_says_why_and_leaves_nothing(records, tmp_path):
    with pytest.raises(InputError, match=r"\.webm or \.gif"):
        write_film(records, tmp_path / "growth.mp3")
    with pytest.raises(InputError, match="does not reach back"):
        write_film(records[1:], tmp_path / "growth.webm")
    with pytest.raises(SaveError, match=r"growth\.webm was not saved"):
        write_film(records, tmp_path / "nowhere" / "growth.webm")
    with pytest.raises(InputError, match="beside the canvas"):
        write_film(records, tmp_path / "growth.gif", FilmPlan(64, 0.4, camera=(900.0, 900.0, 950.0, 950.0)))
    assert not list(tmp_path.iterdir())


def test_stopping_a_film_leaves_nothing(records, tmp_path):
    class StoppedError(Exception):
        pass

    def told(done, words):
        if done > 0.4:
            raise StoppedError

    with pytest.raises(StoppedError):
        write_film(records, tmp_path / "growth.webm", FilmPlan(64, 2), told)
    assert not list(tmp_path.iterdir())


@pytest.mark.parametrize("sizes", [{}, {"width": "wide", "height": 4}, {"width": 9**9, "height": 9}])
def test_a_damaged_beginning_says_so(tmp_path, sizes):
    with pytest.raises(InputError):
        write_film([{"op": "begin", **sizes}], tmp_path / "growth.gif", FilmPlan(64, 0.4))
    assert not list(tmp_path.iterdir())
