"""Trials at the window, with the fixtures of its tests."""

from __future__ import annotations

import os

import pytest

from japanner.painting.picture.looks import LOOKS
from tests.conftest import state_folder  # noqa: F401 - fixtures
from tests.desk.conftest import built, no_dialogs, qapp, window  # noqa: F401
from tests.desk.pressing import STATES, TASKS, Presser, answering  # noqa: F401
from tests.desk.walking import Walk

COUNT, SEED = int(os.environ.get("SOAK_COUNT", "1")), int(os.environ.get("SOAK_SEED", "1"))
PIECE = 250


@pytest.mark.parametrize("state", STATES)
@pytest.mark.parametrize("look", [*LOOKS, "mask", "trial"])
def test_every_state(window, answering, state, look):  # noqa: F811
    with Presser(window) as presser:
        presser.begin(state)
        if look == "trial":
            window.tasks.adjust("levels")
        else:
            window.session.looking.set_look(look)
        for what, act in presser.actions():
            presser.press(f"{state}, {look}: {what}", act)
        for task in TASKS:
            window.tasks.take_up(task)
            presser.press_all(lambda: window.task_line, f"{state}, {look}, {task}: ")
            window.easel.leave_task()
        for panel in (window.parts, window.build, window.rail):
            presser.press_all(lambda panel=panel: panel, f"{state}, {look}: ")


@pytest.mark.parametrize("piece", range(max(COUNT // PIECE, 1)))
def test_long_walk(window, answering, piece):  # noqa: F811
    with Presser(window) as presser:
        presser.begin(list(STATES)[piece % len(STATES)])
        walk = Walk(window, seed=SEED * 1000 + piece)
        walk.go(min(PIECE, COUNT))
        walk.check()
        assert not presser._wrong, (walk.done[-20:], presser._wrong[0])
