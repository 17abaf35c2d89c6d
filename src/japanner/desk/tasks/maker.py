"""Running a maker, with the outcome on the easel while its settings move; and running it again."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QImage, QPainter, QTransform
from PySide6.QtWidgets import QPushButton, QWidget

from japanner.desk.easel.task import CommitTask, Press, draw_handle
from japanner.desk.easel.wipe_line import WipeLine
from japanner.desk.session.latest import Latest
from japanner.desk.session.scale import fit_untouched_scale
from japanner.desk.session.session import Session
from japanner.desk.tasks.variations import Variations
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.numbers import NumberBox
from japanner.desk.widgets.option_row import Options, paint_button
from japanner.desk.widgets.world_pad import WorldPad
from japanner.painting.live.ahead import Ahead
from japanner.painting.live.trial import Outcome, Trial
from japanner.painting.makers import MAKERS, Setting, before_run, part_over_all, start_of
from japanner.painting.makers.around import surroundings_shown
from japanner.painting.makers.base import BARE, FULL
from japanner.painting.model import Made, Part
from japanner.painting.operations import Make
from japanner.raster.parallel import watched

__all__ = ["MakerTask"]

SETTLED_MS: Final = 180
MAP_PX: Final = 110
NO_MAP: Final = "no map"
# A map's veil over the part: about so many px a side, and how strong.
VEIL_PX, VEIL_STRENGTH = 800, 0.55
ALL: Final = "settings"
UNSHOWN: Final = ("strip", "edits")
"""Kinds of settings that are made elsewhere, or come from older files."""
Wish = tuple[Trial, Trial, Make]


class MakerTask(CommitTask):
    """One maker's settings. A part that it has worked on before begins with what it was made with."""

    title = "MAKE"
    hint = ""
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.name, self.again, self._on = next(iter(MAKERS)), 0, False
        self.values: dict[str, Any] = {}
        self.seed_value, self.amount_value, self.page = 1, 100.0, ""
        self.widgets: dict[str, QWidget] = {}
        self._fine: Trial | None = None
        self._coarse: Trial | None = None
        self._ahead: Ahead | None = None
        self._veiled = ""  # the map that was touched last
        self._veil_kept: tuple[Any, QImage, int] | None = None
        # Settings move in small steps; the picture follows once they rest.
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLED_MS)
        self._settle.timeout.connect(self._show)
        self._latest = Latest(self, _work_out)
        self._latest.delivered.connect(self._worked_out)
        self._latest.failed.connect(session.told)
        self.wipe = WipeLine(self, session.told.emit)
        self.wipe.redraw.connect(self.redraw)
        self.options = Options()
        self._fill()

    def take_name(self, name: str) -> None:
        """Take up a maker."""
        self.name, self.page = name, ""
        former = self._former()
        self.again = former.run if former else 0
        part = self.part
        if former is not None or part is None:
            self.values = MAKERS[name].checked(former.settings if former else {})
        else:
            self.values = start_of(MAKERS[name], self.session.painting, part)
        self.seed_value = former.seed if former else 1
        self.amount_value = 100.0 * (former.amount if former else 1.0)
        self._fill()
        if self.wipe.image is not None:
            self._wipe()  # without a run of this one
        if self._on:
            self._show()

    @property
    def part(self) -> Part | None:
        """What the maker works on; None where there is no part yet."""
        if MAKERS[self.name].over_all:
            return part_over_all(self.session.painting, self.name)
        return self.session.part

    def _former(self) -> Made | None:
        """What this maker made of the part last, if none of it was painted on."""
        part = self.part
        made = [one.made for one in part.layers if one.made and one.made.maker == self.name] if part else []
        fresh = [one for one in made if not one.on]
        return fresh[-1] if fresh else None

    def _fill(self) -> None:
        """Lay out the maker's settings."""
        maker, row = MAKERS[self.name], self.options
        assert isinstance(row, Options)
        row.clear()
        self.widgets = {}
        self._name_box = row.choice("", list(MAKERS), maker.words, self.take_name)
        self._name_box.setCurrentText(self.name)
        self.seed = row.number("seed", 0, 9999, self.seed_value, "Another number, another piece",
                               changed=lambda _: self._changed())  # fmt: skip
        self.renew = row.switch("make anew", bool(self.again), "In place of what it made before, as far as that is "
                                "not painted on; else as more layers", lambda _: self._changed())  # fmt: skip
        self.renew.setEnabled(bool(self.again))
        self.amount = row.number("all of it", 0, 100, self.amount_value, "Less of everything that it makes, at once",
                                 unit=" %", changed=lambda _: self._changed())  # fmt: skip
        self.before = row.switch("before", self.wipe.image is not None, "How it was, left of a line that you drag",
                                 lambda _: self._wipe())  # fmt: skip
        row.button("six of it…", "Six small pictures of what chance would make, to choose one from", self.vary)
        row.button("done", "Keep the layers (Enter)", self.done)
        pages = tuple(dict.fromkeys(one.page for one in maker.settings))
        if len(pages) > 1:
            box = row.choice("", [page or ALL for page in pages], "Which settings to show", self._turn_to)
            box.setCurrentText(self.page or ALL)
        row.row()
        for setting in (one for one in maker.settings if one.page == self.page and one.kind not in UNSHOWN):
            self.widgets[setting.name] = self._widget(row, setting)
        row.refilled.emit()

    def _wipe(self) -> None:
        """How it was without this run, left of a line, or not."""
        if not self.before.isChecked():
            self.wipe.take_off()
            return
        painting, part = self.session.painting, self.part
        if part is not None and self.again:
            painting = before_run(painting, part, MAKERS[self.name], self.again)
        self.wipe.show_painting(painting)

    def _turn_to(self, page: str) -> None:
        self.page = "" if page == ALL else page
        self._fill()

    def _widget(self, row: Options, one: Setting) -> QWidget:
        value = self.values.get(one.name, one.start)
        if one.kind == "number":
            return row.number(one.label, one.low, one.high, value, one.tip, unit=one.unit, digits=one.digits,
                              changed=partial(self._set, one.name))  # fmt: skip
        if one.kind == "choice":
            box = row.choice(one.label, one.choices, one.tip, partial(self._set, one.name))
            box.setCurrentText(value)
            return box
        if one.kind == "switch":
            return row.switch(one.label, value, one.tip, partial(self._set, one.name))
        if one.kind == "world":
            pad = WorldPad(self._surroundings, lambda: self.session.hand.colour, value)
            pad.setToolTip(one.tip)
            pad.changed.connect(partial(self._set, one.name))
            row.add(pad)
            row.button("clear", "Take the paint off the surroundings (Delete)", pad.clear)
            return pad
        if one.kind == "map":
            return self._map_box(row, one, value)
        button = row.button(one.label, f"{one.tip}: takes the colour in hand", partial(self._take_colour, one.name))
        paint_button(button, value)
        return button

    def _map_box(self, row: Options, one: Setting, value: int) -> QWidget:
        """A choice of the part's layers; those that the maker made itself are none."""
        part = self.part
        layers = [layer for layer in part.layers if layer.made is None] if part else []
        uids = [0, *(layer.uid for layer in layers)]
        box = row.choice(one.label, [NO_MAP, *(layer.name for layer in layers)], one.tip)
        box.setMaximumWidth(MAP_PX)
        box.setCurrentIndex(uids.index(value) if value in uids else 0)
        box.activated.connect(lambda index: self._set(one.name, uids[index]))
        row.button("invert", "Bare for full, and full for bare", partial(self._invert, one.name))
        return box

    def _invert(self, name: str) -> None:
        """Let a map say the contrary."""
        bare, full = self.values.get(name + BARE, 0), self.values.get(name + FULL, 100)
        self.values.update({name + BARE: full, name + FULL: bare})
        self._veiled = name
        self._fill()
        self._changed()

    def _veil(self) -> QImage | None:
        """The map in hand over the part, dark where it means little and light where it means much."""
        part, name = self.part, self._veiled
        layer = next((one for one in part.layers if one.uid == self.values.get(name)), None) if part and name else None
        if layer is None:
            return None
        bare, full = self.values.get(name + BARE, 0.0), self.values.get(name + FULL, 100.0)
        key = (layer.pixels, bare, full)
        if self._veil_kept is None or self._veil_kept[0] != key:
            step = 1 + max(self.session.painting.width, self.session.painting.height) // VEIL_PX
            cover = layer.pixels.read(self.session.painting.rect)[3, ::step, ::step] / 65535
            grey = np.clip((bare + (full - bare) * cover) / 100 * 255, 0, 255).astype(np.uint8)
            self._veil_kept = key, image_of(grey), step
        return self._veil_kept[1]

    def _set(self, name: str, value: Any) -> None:
        self.values[name] = value
        if name == "kind" and value in MAKERS[self.name].kinds:
            self.values.update(MAKERS[self.name].kinds[value])
            self._fill()
        base = name.removesuffix(BARE).removesuffix(FULL)
        if base.endswith("_map"):
            self._veiled = base
        if name == "around" and "strip" in self.values:
            self.values["strip"] = ()
            pad = self.widgets["world"]
            assert isinstance(pad, WorldPad)
            pad.refresh()
        self._changed()

    def _surroundings(self) -> NDArray[np.uint8]:
        """What there is to paint on, for the part worked on."""
        part = self.part
        if part is None:
            return np.full((2, 4, 3), 90, np.uint8)
        return surroundings_shown(self.session.painting, part, self.values)

    def vary(self) -> None:
        """Show six pieces of chance, and take the one that is chosen."""
        operation = self.operation()
        if operation is not None:
            button = self.sender() or self.options
            self.varied = Variations(self.options, self.session.painting, operation)
            self.varied.chosen.connect(self.seed.setValue)
            at = button if isinstance(button, QWidget) else self.options
            self.varied.open_at(at.mapToGlobal(QPoint(0, at.height())))

    def _take_colour(self, name: str) -> None:
        self.values[name] = tuple(self.session.hand.colour)
        button = self.widgets[name]
        assert isinstance(button, QPushButton)
        paint_button(button, self.session.hand.colour)
        self._changed()

    def _changed(self) -> None:
        self.seed_value, self.amount_value = round(self.seed.value()), self.amount.value()
        if self._on:
            self._settle.start()

    def operation(self) -> Make | None:
        """What would be made; None without a part."""
        part = self.part
        if part is None and not MAKERS[self.name].over_all:
            self.session.told.emit("A maker works on a part: add one first.")
            return None
        again = self.again if self.renew.isChecked() else 0
        uid = part.uid if part and not MAKERS[self.name].over_all else 0
        return Make(uid, self.name, dict(self.values), round(self.seed.value()), again, self.amount.value() / 100)

    def begin(self) -> None:
        self._on = True
        fit_untouched_scale(self.session)
        self.take_name(self.name)

    def end(self) -> None:
        self._on = False
        self._settle.stop()
        self._latest.stop()
        self.wipe.take_off()
        self._give_up()
        self._fine = self._coarse = None
        self.session.trials.end()

    def _give_up(self) -> None:
        """What was worked out ahead is not wanted any more."""
        if self._ahead is not None:
            self._ahead.stop()
            self._ahead = None

    def _show(self) -> None:
        operation = self.operation()
        if operation is not None and self._on:
            self._give_up()
            if self._fine is None or self._coarse is None or self.session.trials.trial is None:
                self.session.trials.begin()
                self._fine = self.session.trials.trial
                assert self._fine is not None
                self._coarse = self._fine.coarser()
            self._latest.want((self._coarse, self._fine, operation))
        self.redraw.emit()

    def _worked_out(self, wish: Wish, made: tuple[Trial, Outcome]) -> None:
        """Something is there to be seen, coarse at first; while it is looked at, the outcome itself is worked out."""
        trial, outcome = made
        if not self._on or wish is not self._latest.wish:
            return
        trial.take(outcome)
        self.session.trials.turn_to(trial)
        if trial is self._fine:
            self._ahead = Ahead(self.session.painting, wish[2])

    def wait(self) -> None:
        """Until the outcome of the settings is on the easel."""
        if self._settle.isActive():
            self._settle.stop()
            self._show()
        self._latest.settle()
        self.wipe.wait()

    def done(self) -> None:
        """Keep the layers, and work on the last of them."""
        self._settle.stop()
        self._latest.stop()
        operation, ahead = self.operation(), self._ahead
        self._ahead = None
        if operation is None:
            self.finished.emit()
        else:
            self.session.carry_out(operation, self.finished.emit, ahead)

    # --- the place of what has one, and what is aimed at -----------------------------------------------

    @property
    def _placed(self) -> bool:
        return "x" in self.values and "y" in self.values

    def _aimed(self) -> tuple[float, float] | None:
        """Where the handle is of what looks somewhere."""
        aim, part = MAKERS[self.name].aim, self.part
        return aim.at(self.session.painting, part, self.values) if aim is not None and part is not None else None

    def press(self, press: Press) -> None:
        if not self.wipe.takes(press, self.session.painting.width):
            self.move(press, down=True)

    def move(self, press: Press, *, down: bool) -> None:
        if not down or self.wipe.drag(press, self.session.painting.width):
            return
        x, y = press.at.x(), press.at.y()
        aim, part = MAKERS[self.name].aim, self.part
        if aim is not None and part is not None and self._aimed() is not None:
            self._show_values(aim.towards(self.session.painting, part, self.values, x, y))
        elif self._placed:
            self._show_values({"x": max(round(x, 1), 0.0), "y": max(round(y, 1), 0.0)})

    def release(self, press: Press) -> None:
        self.wipe.let_go()

    def _show_values(self, values: dict[str, float]) -> None:
        """Numbers that a drag has set."""
        self.values.update(values)
        for name in values:
            box = self.widgets[name]
            assert isinstance(box, NumberBox)
            box.blockSignals(True)
            box.setValue(self.values[name])
            box.blockSignals(False)
        self._changed()
        self.redraw.emit()

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        veil = self._veil()
        if veil is not None and self._veil_kept is not None:
            painter.save()
            painter.setTransform(QTransform.fromScale(self._veil_kept[2], self._veil_kept[2]) * to_view)
            painter.setOpacity(VEIL_STRENGTH)
            painter.drawImage(0, 0, veil)
            painter.restore()
        self.wipe.draw(painter, to_view, self.session.painting.width, self.session.painting.height)
        aimed = self._aimed()
        if aimed is not None:
            draw_handle(painter, to_view.map(QPointF(*aimed)))
        elif self._placed:
            painting = self.session.painting
            x, y = self.values["x"] or painting.width / 2, self.values["y"] or painting.height / 2
            # Beside it: what is made there is to be seen.
            draw_handle(painter, to_view.map(QPointF(x, y + self.values["width"] / 2)))


def _work_out(wish: Wish, deliver: Callable[[tuple[Trial, Outcome]], None], told: Callable[[float], None]) -> None:
    coarse, fine, operation = wish
    with watched(told):
        deliver((coarse, coarse.sketched(operation)))
        deliver((fine, fine.worked(operation)))
