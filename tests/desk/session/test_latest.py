"""Of work beside the window only what was wanted last counts, and nothing that is wanted is forgotten."""

from __future__ import annotations

import threading

import pytest
from PySide6.QtCore import QObject

from japanner.desk.session.latest import Latest
from japanner.errors import InputError


@pytest.fixture
def parent(qapp):
    return QObject()


def test_every_last_wish_is_delivered_however_they_come(parent):
    latest = Latest(parent, lambda wish, deliver, told: deliver(wish * 2))
    got = []
    latest.delivered.connect(lambda wish, outcome: got.append((wish, outcome)))
    for number in range(1, 200):
        latest.want(number * 1000)
        if number % 3 == 0:
            latest.settle()
            assert got[-1] == (number * 1000, number * 2000)
    latest.settle()
    assert got[-1] == (199_000, 398_000)


def test_an_older_wish_is_given_up_where_it_looks_up(parent):
    going, gate, got, ended = threading.Event(), threading.Event(), [], []

    def work(wish, deliver, told):
        going.set()
        gate.wait(10)
        told(0.5)
        ended.append(wish)
        deliver(wish)

    latest = Latest(parent, work)
    latest.delivered.connect(lambda wish, outcome: got.append(outcome))
    latest.want("first")
    assert going.wait(5)
    latest.want("second")
    gate.set()
    latest.settle()
    assert ended == got == ["second"]
    gate.clear()
    latest.want("third")
    latest.stop()
    gate.set()
    latest.settle()
    assert got == ["second"]


def test_refusals_are_told_and_errors_of_any_kind_reported(parent, monkeypatch):
    from japanner.desk.session import latest as module

    taken, told = [], []
    monkeypatch.setattr(module.trouble, "take", taken.append)

    def work(wish, deliver, _):
        if wish == "refused":
            raise InputError("no")
        raise RuntimeError(wish)

    latest = Latest(parent, work)
    latest.failed.connect(told.append)
    for wish in ("refused", "broken"):
        latest.want(wish)
        latest.settle()
    assert told == ["no"]
    assert [str(error) for error in taken] == ["broken"]
