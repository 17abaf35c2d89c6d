"""Three hundred random actions: nothing raises, and what the journal says is what the easel shows."""

from __future__ import annotations

from tests.desk.pressing import Presser, answering  # noqa: F401 - a fixture
from tests.desk.walking import Walk


def test_a_walk_of_a_random_hand(own_window, answering):  # noqa: F811
    """In a window of its own: what was done before would change the way it goes."""
    with Presser(own_window) as presser:
        presser.begin("everything")
        walk = Walk(own_window, seed=20)
        walk.go(160)
        walk.check()
        assert not presser._wrong, (walk.done[-20:], presser._wrong[0])
    assert len(walk.done) == 160
