"""Everything is pressed once, in a state where it is enabled: nothing raises, warns, hangs, or cannot be taken back."""

from __future__ import annotations

import pytest

from tests.desk.pressing import TASKS, Presser, answering  # noqa: F401 - a fixture


@pytest.fixture
def presser(window, answering):  # noqa: F811
    with Presser(window) as made:
        made.begin("everything")
        yield made


def test_every_command(presser):
    for what, act in presser.actions():
        presser.press(what, act)
    assert len(presser.pressed) > 250


def test_every_key(presser):
    for what, act in presser.shortcuts():
        presser.press(what, act)
    assert len(presser.pressed) > 60


def test_everything_on_the_bench(presser):
    window = presser.window
    for panel in (window.roll, window.parts, window.build, window.rail, window.right, window.messages):
        presser.press_all(lambda panel=panel: panel)
    assert len(presser.pressed) > 120


def test_everything_on_the_start_view(presser):
    window = presser.window

    def start():
        window.show_start()
        return window.start

    presser.press_all(start)
    assert len(presser.pressed) > 12


@pytest.mark.parametrize("task", TASKS)
def test_everything_in_a_task(presser, task):
    window = presser.window

    def line():
        if window.easel.task is None:
            window.tasks.take_up(task)
        return window.task_line

    presser.press_all(line, f"{task}: ")
    line()
    presser.press(f"{task}: stroke", presser.stroke)
    window.easel.leave_task()


def test_everything_in_the_brush_sheet(presser):
    window = presser.window

    def sheet():
        window.show_brush_sheet()
        return window.sheet

    presser.press_all(sheet, most=90)
    assert len(presser.pressed) > 40
