"""What several tests do by hand."""

from __future__ import annotations

from PySide6.QtWidgets import QApplication


def pump():
    for _ in range(4):
        QApplication.processEvents()


def covered(window):
    frisket = window.session.painting.frisket
    assert frisket is not None
    return frisket.sheet.coverage(window.session.painting.rect)


def settle(window):
    window.session.jobs.wait()
    pump()


def lay_flat(hand):
    """A filled disc on the layer worked on, and no frisket."""
    hand.command("Frisket › Oval")
    hand.mouse([(140, 80), (200, 150), (340, 280)])
    hand.command("Stroke › Fill all")
    hand.command("Frisket › Drop")
    hand.window.easel.leave_task()
