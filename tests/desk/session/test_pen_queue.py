"""Reports of the pen that come faster than the brush can paint."""

from time import sleep

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication

from japanner.desk.session.pen_queue import QUICK_S, PenQueue
from japanner.painting.document.document import replayed


class Brush:
    """Notes what it is given; `slow`: takes longer than a quick brush may."""

    def __init__(self, slow):
        self.slow, self.given = slow, []

    def __call__(self, samples):
        self.given.append(list(samples))
        if self.slow:
            sleep(1.5 * QUICK_S)


def queue(slow):
    parent, brush = QObject(), Brush(slow)
    return parent, brush, PenQueue(parent, brush)


def test_a_quick_brush_paints_at_every_report(qapp):
    parent, brush, pen = queue(slow=False)
    for i in range(5):
        pen.take([(i, 0)])
    assert brush.given == [[(i, 0)] for i in range(5)]
    assert parent is pen.parent()


def test_a_slow_brush_takes_together_what_has_come_in_meanwhile(qapp):
    parent, brush, pen = queue(slow=True)
    for i in range(9):
        pen.take([(i, 0), (i, 1)])
    assert brush.given == [[(0, 0), (0, 1)]]
    QApplication.processEvents()
    assert len(brush.given) == 2
    assert brush.given[1] == [(i, k) for i in range(1, 9) for k in (0, 1)]
    # When the pen is lifted nothing may be left.
    pen.take([(9, 0)])
    pen.flush()
    pen.flush()
    assert brush.given[2:] == [[(9, 0)]]
    assert parent is pen.parent()


def test_a_stroke_that_is_given_up_leaves_nothing(qapp):
    parent, brush, pen = queue(slow=True)
    pen.take([(0, 0)])
    pen.take([(1, 0)])
    pen.drop()
    QApplication.processEvents()
    assert brush.given == [[(0, 0)]]
    # The next stroke begins at once.
    pen.take([(2, 0)])
    assert brush.given[-1] == [(2, 0)]
    assert parent is pen.parent()


def test_a_slow_stroke_in_the_window_is_what_its_record_says(hand):
    """A long lock of curls is drawn in bundles; painted from its record it is the same."""
    window = hand.window
    session = window.session
    session.hand.show_roll("locks")
    session.hand.take_brush_named("S coil")
    hand.pen([(40 + 9 * i, 120 + 3 * (i % 5), 1.0) for i in range(40)])
    painted = session.layer.pixels
    records = session.document.records[-1:]
    session.undo()
    again = replayed(session.painting, records).layer(session.work.active_layer).pixels
    assert painted.tiles
    area = painted.rect
    assert (painted.read(area) == again.read(area)).all()
