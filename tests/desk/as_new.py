"""A window that was used, made as good as new: the same for every test, at a hundredth of what building one takes."""

from __future__ import annotations

from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication, QDialog

from japanner.desk.session.hand import Hand
from japanner.desk.session.looking import Looking
from japanner.desk.session.worked_on import WorkedOn
from japanner.desk.widgets.fader import Fader
from japanner.desk.window.arrangement import PANELS
from japanner.desk.window.main_window import MainWindow
from japanner.painting.document.document import new_document
from japanner.painting.model import Painting


def as_new(window: MainWindow) -> None:
    """Nothing of earlier tests is left but the widgets."""
    session, easel = window.session, window.easel
    window.files.wait()
    easel.leave_task()
    for fader in window.findChildren(Fader):
        fader._field.hide()  # what was being typed
    easel.hold(None)
    easel.leaveEvent(QEvent(QEvent.Type.Leave))
    window.tasks._made.clear()
    own = {window.sheet, window.second, window.reference, *window.findChildren(QDialog)} - {None}
    window.sheet = window.second = window.reference = None
    for one in own:  # they listen to the session as long as they live
        one.close()
        one.deleteLater()
    # What an event loop would do by itself, and tests run without one.
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    _copy(Hand(), session.hand)
    _copy(Looking(WorkedOn(lambda: Painting(1, 1))), session.looking, ("_work", "_alone"))
    for signal in (session.hand.brush_changed, session.hand.roll_changed, session.hand.colour_changed):
        signal.emit()
    session.hand.practice_pen_changed.emit()
    session.measuring.set(on=False, chosen=0, kind="line", against="", both=True, cells=0)
    easel.light_guides.lines_shown = easel.comb_lines.shown = False
    if easel.view.mirrored:
        easel.mirror()
    easel.view.turn_deg = 0.0
    session.open_document(new_document(480, 360, ppi=144.0))
    session.looking.look_changed.emit()
    session.strokes._told_of_growing = False
    session.aiming.over, session.aiming.pointer, session.aiming.missed = "flat", None, None
    if window.isFullScreen():
        window.showNormal()
    window.resize(1280, 800)
    window.start._unit.setCurrentText("px")
    window.start._in_unit("px")
    window.start._ppi.setValue(300)
    if window.bench.alone:
        window.toggle_alone()
    for name in PANELS:
        window.bench.set_form(name, "hidden" if name == "board" else "full")
    window.over.at_foot = False
    window.messages.bar.hide()
    window.messages.kept.clear()
    window.messages.message.clear()
    window._last_report = ""


def _copy(fresh: object, used: object, but: tuple[str, ...] = ()) -> None:
    """Give a used object the attributes of a fresh one."""
    for name, value in vars(fresh).items():
        if name not in but and not hasattr(type(fresh), name):  # the signals of an object are its own
            setattr(used, name, value)
