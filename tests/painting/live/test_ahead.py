"""Outcomes are worked out ahead, are what the operation gives, and are given up without waiting."""

from __future__ import annotations

import threading
import time

import pytest

from japanner.errors import InputError
from japanner.painting.live.ahead import Ahead
from japanner.painting.live.trial import Trial
from japanner.painting.operations import Fill, Make
from japanner.raster.parallel import watching
from tests.paintings import same_painting


class Slow:
    """An operation that looks up now and then."""

    op = "slow"

    def __init__(self):
        self.steps, self.may_go = 0, threading.Event()

    def apply(self, painting):
        told = watching()
        self.may_go.wait(5)
        for step in range(100):
            self.steps = step
            told(step / 100)
            time.sleep(0.01)
        return painting, None


def test_it_is_what_the_operation_gives(script):
    operation = Make(script.painting.parts[0].uid, "lay-in", {}, 3)
    painting, change = Ahead(script.painting, operation).result()
    expected, expected_change = operation.apply(script.painting)
    assert same_painting(painting, expected)
    assert change == expected_change


def test_a_refusal_comes_when_it_is_asked_for(script):
    ahead = Ahead(script.painting, Fill(999, (1, 1, 1)))
    with pytest.raises(InputError, match="one of the painting's layers"):
        ahead.result()


def test_nobody_waits_for_what_is_given_up(script):
    slow = Slow()
    ahead = Ahead(script.painting, slow)
    ahead.stop()
    slow.may_go.set()
    time.sleep(0.1)
    assert slow.steps == 0


def test_who_waits_is_told_how_far_it_is_and_may_stop_it(script):
    slow, shares = Slow(), []
    ahead = Ahead(script.painting, slow)
    slow.may_go.set()

    def told(share):
        shares.append(share)
        if len(shares) == 4:
            raise InterruptedError

    with pytest.raises(InterruptedError):
        ahead.result(told)
    assert shares == sorted(shares)
    assert shares[-1] > 0
    at = slow.steps
    time.sleep(0.1)
    assert slow.steps <= at + 1


def test_a_sketch_has_fewer_hairs_of_the_same_coat(script):
    fine = Trial(script.painting)
    coarse = fine.coarser()
    assert coarse.step == 4 * fine.step
    operation = Make(script.painting.parts[0].uid, "coat", {"length": 30.0}, 1)
    (sketched, _), (worked, _) = coarse.sketched(operation), coarse.worked(operation)
    names = [layer.name for layer in sketched.parts[0].layers]
    assert names == [layer.name for layer in worked.parts[0].layers]
