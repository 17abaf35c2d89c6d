"""Colours through the profile of the screen: the easel, the second look, swatches; and what the desktop keeps."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QEvent, QPointF
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication, QWidget

from japanner.desk.panels.second_look import SecondLook
from japanner.desk.screen import DESKTOP, OFF, screens
from japanner.desk.x_profile import desktop_profile
from japanner.files.colour.profiles import matte_paper, srgb_icc
from japanner.painting.operations import Fill
from tests.desk.hand import Hand

DARK = (0.04, 0.04, 0.04)


@pytest.fixture
def dim(tmp_path):
    """A screen whose black is as light as paper's: what is darker is shown with code 0 of it."""
    path = tmp_path / "dim.icc"
    path.write_bytes(matte_paper().data)
    return path


@pytest.fixture
def dark(hand: Hand):
    session = hand.window.session
    session.apply(Fill(session.work.active_layer, (0.6, 0.3, 0.2), "canvas"))
    yield hand
    screens.choose(hand.easel.screen(), OFF)
    screens.forget()


def seen(hand):
    at = hand.easel.view.to_view().map(QPointF(240, 180)).toPoint()
    return hand.easel.grab().toImage().pixelColor(at)


def test_the_easel_the_second_look_and_swatches_are_shown_through_it(dark, dim):
    plain, look = seen(dark), dark.window.findChild(SecondLook).views[0]
    before = look.grab().toImage()
    screens.choose(dark.easel.screen(), str(dim))
    screens.wait()
    assert seen(dark) != plain
    assert look.grab().toImage() != before
    swatch = screens.colour((0.6, 0.3, 0.2), dark.easel)
    assert abs(swatch.red() - seen(dark).red()) <= 1, "the same colour everywhere"
    screens.choose(dark.easel.screen(), OFF)
    assert seen(dark) == plain


def test_looks_and_trials_go_through_it_too(dark, dim):
    session = dark.window.session
    session.looking.set_look("values")
    plain = seen(dark)
    screens.choose(dark.easel.screen(), str(dim))
    screens.wait()
    assert seen(dark) != plain
    session.looking.set_look("colour")


def test_what_cannot_be_used_is_said_and_nothing_changes(dark, tmp_path):
    said = []
    screens.told.connect(said.append)
    broken = tmp_path / "broken.icc"
    broken.write_bytes(srgb_icc()[:222])
    plain = seen(dark)
    screens.choose(dark.easel.screen(), str(broken))
    assert "damaged" in said[-1]
    screens.choose(dark.easel.screen(), DESKTOP)
    assert "keeps no profile" in said[-1], "there is no X server here"
    assert seen(dark) == plain
    screens.told.disconnect(said.append)


def test_a_file_that_went_away_leaves_colours_as_they_are(dark, dim):
    screens.choose(dark.easel.screen(), str(dim))
    screens.wait()
    dim.unlink()
    screens.forget()
    assert seen(dark).green() == pytest.approx(0.3 * 255, abs=1)


def test_the_desktops_profile_is_asked_for(dark, monkeypatch):
    monkeypatch.setattr("japanner.desk.screen.desktop_profile", lambda index: matte_paper().data)
    plain = seen(dark)
    dark.command("Look › Profile of the screen › As the desktop has it")
    screens.wait()
    assert seen(dark) != plain
    dark.command("Look › Profile of the screen › Off")
    assert seen(dark) == plain
    assert desktop_profile(0) == b""


def test_a_window_that_is_gone_is_asked_nothing(dark):
    gone, kept = QWidget(), screens.easel
    screens.easel = gone
    gone.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    image = QImage(4, 3, QImage.Format.Format_RGB32)
    assert screens.image(image) is image
    screens.easel = kept
