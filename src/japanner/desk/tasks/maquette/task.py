"""The maquette view: forms over the dimmed canvas, taken by handles and numbers, in grey clay or in planes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Final

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QTransform

from japanner.desk.easel.task import Press, Task, draw_handle, draw_line, draw_word
from japanner.desk.session.session import Session
from japanner.desk.tasks.maquette.begin import open_under
from japanner.desk.tasks.maquette.clay import Clay, Wish
from japanner.desk.tasks.maquette.making import figure_piece, form_piece, mesh_piece, with_figure, with_shipped
from japanner.desk.tasks.maquette.options import MaquetteOptions
from japanner.desk.tasks.maquette.posing import (
    HEAD,
    LIGHT,
    Drag,
    anchor_of,
    dragged,
    landmark_of,
    light_at,
    lit_from,
    scale_of,
)
from japanner.desk.tasks.maquette.states import States
from japanner.desk.theme import theme
from japanner.errors import InputError
from japanner.light.figure.fit import landmarks
from japanner.light.figure.sliders import checked
from japanner.light.maquette import Maquette
from japanner.light.mesh.mesh import Mesh
from japanner.light.pieces import Piece
from japanner.light.rays.surface import hit, seen_at
from japanner.light.rows import laid_over
from japanner.light.shipped import shipped_maquette
from japanner.light.turning import turned
from japanner.painting.form.outlines import puff_of
from japanner.painting.model import Light
from japanner.painting.operations import DressFigure, Fill, LayFace, SetLight, SetMaquette

__all__ = ["MaquetteTask"]

HANDLE_PX: Final = 46.0
DIM: Final = QColor(0, 0, 0, 120)
CURVES: Final = ("cord", "stroke")
WITH_POINTS: Final = (*CURVES, "sheet", "head")


class MaquetteTask(Task):
    """Builds the painting's maquette; every change counts at once, and can be undone."""

    title = "MAQUETTE"
    hint = (
        "click a form to take it, drag it to move it (Shift: nearer, farther); its handles size and turn it, a "
        "figure's head, and the light; a drag beside it turns the whole"
    )
    cursor = Qt.CursorShape.ArrowCursor
    unfolds = True

    lay_in_wanted = Signal()
    landmarks_wanted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.clay = Clay(self)
        self.clay.changed.connect(self._pictured)
        self.clay.told.connect(session.told)
        self.index: int | None = None
        self.maquette = Maquette()
        self._held = ""
        self._grip: tuple[QPointF, Maquette] | None = None
        self._line: list[tuple[float, float, float]] = []
        self._on = False
        self._light: Light | None = None
        self.states = States()
        session.opened.connect(self.states.clear)
        self.options = self.form = self._listening(MaquetteOptions())
        for signal in (session.changed, session.opened):
            signal.connect(self._from_painting)

    def _listening(self, form: MaquetteOptions) -> MaquetteOptions:
        """Do what the options ask for."""
        form.changed.connect(lambda settings: self.change(**settings))
        form.whole_changed.connect(lambda settings: self.change_whole(**settings))
        form.taken.connect(self.take)
        form.wanted.connect(self.want)
        form.read.connect(self.add_mesh)
        form.slid.connect(self.slide)
        form.opened.connect(self.commit)
        form.laid_flat.connect(self.lay_flat)
        form.face_laid.connect(self.lay_face)
        form.copied.connect(self.copy)
        form.taken_away.connect(self.take_away)
        form.lay_in_wanted.connect(self.lay_in_wanted)
        form.landmarks_wanted.connect(self.landmarks_wanted)
        form.states_wanted.connect(self.show_states)
        form.drag_changed.connect(self.redraw)
        form.planes_changed.connect(self.renew)
        form.told.connect(self.session.told)
        return form

    def _show_form(self) -> None:
        self.form.show_maquette(self.maquette, self.index, self.session.painting.parts)

    # --- the maquette -----------------------------------------------------------------------------------

    @property
    def piece(self) -> Piece | None:
        """The form in hand."""
        if self.index is None or self.index >= len(self.maquette.pieces):
            return None
        return self.maquette.pieces[self.index]

    def _pictured(self) -> None:
        """There is a picture of the maquette: of what counts, a state is kept."""
        if self.maquette == self.session.painting.maquette and self.maquette.pieces:
            self.states.keep(self.maquette, self.clay.image)
        self.redraw.emit()

    def show_states(self) -> None:
        """Earlier states, to come back to."""
        if not self.states.kept:
            self.session.told.emit("There is no picture of the maquette yet.")
            return
        open_under(self.form.states_button, self.states.menu(self.form, self.commit))

    def begin(self) -> None:
        self._on = True
        self._from_painting()

    def end(self) -> None:
        self._on = False
        self.clay.stop()

    def _from_painting(self, *_: object) -> None:
        if not self._on:
            return
        painting = self.session.painting
        self.maquette = painting.maquette
        if not self.maquette.pieces and self.maquette == Maquette():
            side = min(painting.width, painting.height)
            self.maquette = Maquette((), (painting.width / 2, painting.height / 2), side / 4)
        if self.index is not None and self.index >= len(self.maquette.pieces):
            self.index = len(self.maquette.pieces) - 1 if self.maquette.pieces else None
        self.renew()

    def renew(self, *, fine: bool = True, shown: bool = True) -> None:
        """Show the maquette as it is now, roughly while it is being dragged; its options too, if they are `shown`."""
        painting = replace(self.session.painting, maquette=self.maquette, light=self.light)
        self.clay.show(Wish(painting, self.form.planes_count, fine) if self.maquette.pieces else None)
        if shown:
            self._show_form()
        self.redraw.emit()

    @property
    def light(self) -> Light:
        """The light, as it is dragged."""
        return self._light or self.session.painting.light

    def commit(self, maquette: Maquette) -> bool:
        """Make a maquette count."""
        return self.session.apply(SetMaquette(maquette.to_record()))

    def change(self, **changes: Any) -> None:
        """Change the form in hand; what it cannot be is told."""
        if self.index is not None:
            self._try(lambda: self.maquette.with_piece(self.index or 0, **changes))

    def change_whole(self, **changes: Any) -> None:
        self._try(lambda: replace(self.maquette, **changes))

    def _try(self, make: Any) -> None:
        try:
            maquette = make()
        except InputError as error:
            self.session.told.emit(str(error))
            self._show_form()
        else:
            self.commit(maquette)

    def take(self, index: int | None) -> None:
        """Take a form in hand."""
        self.index = index
        self._show_form()
        self.redraw.emit()

    def want(self, what: str, name: str) -> None:
        """Begin from, or add, what a menu offers: see `begin.Wanted`."""
        if what == "figure":
            self.add_figure(name)
        elif what == "shipped":
            self.add_shipped(shipped_maquette(name))
        elif what == "cloth":
            self.drape()
        elif what == "cape":
            self.dress()
        else:
            self.add("puff" if what == "silhouette" else name)

    def add(self, kind: str) -> None:
        """Add a form in the middle, in hand."""
        self._try(lambda: self._with(self._begun(kind)))

    def _with(self, piece: Piece) -> Maquette:
        fresh = replace(self.maquette, pieces=(*self.maquette.pieces, piece))
        self.index = len(fresh.pieces) - 1
        return fresh

    def _begun(self, kind: str) -> Piece:
        if kind == "puff":
            if self.session.part is None:
                raise InputError("A puff is blown up from a part's silhouette: add a part first")
            return puff_of(self.session.painting, self.session.part, self.maquette)
        return form_piece(kind, self.maquette, self._part)

    @property
    def _part(self) -> int:
        return self.session.work.active_part or 0

    @property
    def _size(self) -> tuple[int, int]:
        return self.session.painting.width, self.session.painting.height

    def add_figure(self, name: str) -> None:
        """A figure, in hand: one of the people, or without a name somebody by chance."""
        piece = figure_piece(name, self.maquette, self._part)
        self.index = len(self.maquette.pieces)
        self._try(lambda: with_figure(self.maquette, piece, self._size))

    def add_mesh(self, mesh: Mesh, name: str) -> None:
        """A mesh from a file, in hand."""
        self._try(lambda: self._with(mesh_piece(name, mesh, self._part)))

    def slide(self, name: str, value: float, stays: bool) -> None:
        """A slider of the figure in hand; while it moves it is only looked at."""
        piece = self.piece
        if piece is None or piece.kind != "figure":
            return
        sliders = tuple(sorted(checked({**dict(piece.sliders), name: value}).items()))
        if stays:
            self.maquette = self.session.painting.maquette
            self.change(sliders=sliders)
        else:
            self.maquette = self.maquette.with_piece(self.index or 0, sliders=sliders)
            self.renew(fine=False, shown=False)

    def drape(self) -> None:
        """Lay a cloth over the forms."""
        part = self.session.work.active_part or 0
        self._try(lambda: self._with(replace(laid_over(self.maquette.pieces), part=part)))

    def dress(self) -> None:
        """Put a cape round the shoulders of the figure in hand, or of the last one."""
        pieces = self.maquette.pieces
        figures = [i for i, one in enumerate(pieces) if one.kind == "figure"]
        if not figures:
            self.session.told.emit("There is no figure to put it on yet: begin from one.")
            return
        chosen = self.index if self.index in figures else figures[-1]
        self.session.carry_out(DressFigure(chosen or 0, self.session.hand.colour))

    def add_shipped(self, maquette: Maquette) -> None:
        """Put a whole maquette where this one is; its pieces become the part's that is worked on."""
        self._try(lambda: with_shipped(self.maquette, maquette, self._part, self._size))
        self.take(None)

    def copy(self) -> None:
        piece = self.piece
        if piece is not None:
            x, y, z = piece.place
            self._try(lambda: self._with(replace(piece, name=f"{piece.name[:54]} copy", place=(x + 0.2, y, z))))

    def lay_flat(self) -> None:
        """Make the silhouette from the forms."""
        session = self.session
        if session.work.active_layer is None:
            session.told.emit("There is no layer to fill yet: add a part and a layer first.")
        else:
            session.carry_out(Fill(session.work.active_layer, session.hand.colour, "maquette", session.work.on))

    def lay_face(self) -> None:
        """Skin, lips, eyes and hair of the figure in hand as parts, each with its flat."""
        if self.index is not None:
            self.session.carry_out(LayFace(self.index, self.session.hand.colour))

    def take_away(self) -> None:
        if self.index is not None:
            gone = self.index
            kept = tuple(one for i, one in enumerate(self.maquette.pieces) if i != gone)
            self.index = None
            self.commit(replace(self.maquette, pieces=kept))

    # --- the hand ---------------------------------------------------------------------------------------

    def _handles(self) -> dict[str, tuple[float, float]]:
        """Where the handles of the light and of the form in hand are on the canvas."""
        piece = self.piece
        handles = {LIGHT: self._light_at()} if self.maquette.pieces else {}
        if piece is None:
            return handles
        x, y = seen_at(self.maquette, anchor_of(piece))
        reach = HANDLE_PX * self._px
        handles |= {"move": (x, y), "size": (x + reach, y + reach), "turn": (x + reach, y - reach)}
        if piece.kind == "figure":
            handles[HEAD] = seen_at(self.maquette, landmark_of(piece, "between the brows"))
        return {**handles, **{f"point {i}": at for i, at in enumerate(self._points(piece))}}

    def _light_at(self) -> tuple[float, float]:
        """On a ring around the maquette, where the light comes from; in the middle, from the viewer."""
        return light_at(self.light, self.maquette)

    def _points(self, piece: Piece) -> list[tuple[float, float]]:
        """Where the points of a curve, the hooks of a sheet or the landmarks of a head are on the canvas."""
        if piece.kind == "figure" and self.form.pulls:
            return [seen_at(self.maquette, landmark_of(piece, name)) for name in landmarks()]
        if piece.kind not in WITH_POINTS:
            return []
        own = np.asarray(piece.points, float).reshape(-1, 3) * scale_of(piece)
        places = own if piece.kind == "stroke" else own @ turned(piece.turn).T + piece.place
        return [seen_at(self.maquette, (float(x), float(y), float(z))) for x, y, z in places]

    _px = 1.0

    def press(self, press: Press) -> None:
        self._px = press.px
        self._grip = (press.at, self.maquette)
        if self.form.stroke_kind:
            self._held, self._line = "stroke", []
            self._add_to_line(press)
            return
        # Points lie close together on a head: the nearest one is meant.
        handles = {name: QPointF(*at) for name, at in self._handles().items() if press.near(*at)}
        near = {name: (press.at - at).manhattanLength() for name, at in handles.items()}
        found = sorted(near, key=lambda name: (name.startswith("point"), near[name]))
        if found:
            self._held = found[0]
            return
        self._held = "whole"
        seen = self._piece_at(press)
        if seen is not None:
            self.take(seen)
            self._held = "move"

    def _piece_at(self, press: Press) -> int | None:
        seen = self.clay.surface
        if seen is None:
            return None
        column, row = int(press.at.x() // seen.step), int(press.at.y() // seen.step)
        if not (0 <= row < seen.piece.shape[0] and 0 <= column < seen.piece.shape[1]):
            return None
        found = int(seen.piece[row, column])
        return found if 0 <= found < len(self.maquette.pieces) else None

    def move(self, press: Press, *, down: bool) -> None:
        self._px = press.px
        if not down or self._grip is None:
            return
        if self._held == "stroke":
            self._add_to_line(press)
            self.redraw.emit()
            return
        start, before = self._grip
        dx, dy = press.at.x() - start.x(), press.at.y() - start.y()
        if self._held == LIGHT:
            x, y = press.at.x(), press.at.y()
            self._light = lit_from(self.session.painting.light, self.maquette, (x, y), behind=press.shift)
            self.renew(fine=False, shown=False)
            return
        try:
            drag = Drag(dx, dy, press.px, press.shift)
            self.maquette = dragged(before, self.index, self._held, drag)
        except InputError:
            return
        self.renew(fine=False)

    def double(self, press: Press) -> None:
        """A double-click on a curve puts one more point there."""
        piece = self.piece
        if piece is None or piece.kind not in CURVES:
            return
        at = np.array((press.at.x(), press.at.y()))
        seen = np.array(self._points(piece))
        middles = (seen[1:] + seen[:-1]) / 2
        if not len(middles):
            return
        after = int(np.linalg.norm(middles - at, axis=1).argmin())
        x, y, z = (float(v) for v in np.mean(piece.points[after : after + 2], axis=0))
        points = (*piece.points[: after + 1], (x, y, z), *piece.points[after + 1 :])
        self.change(points=points)

    def release(self, press: Press) -> None:
        grip, self._grip = self._grip, None
        light, self._light = self._light, None
        if self._held == "stroke":
            self._stroked()
        elif light is not None:
            self.session.apply(SetLight.of(light))
        elif grip is not None and self.maquette != grip[1]:
            self.commit(self.maquette)
        self._held = ""

    def _add_to_line(self, press: Press) -> None:
        found = hit(self.maquette, press.at.x(), press.at.y())
        if found is not None:
            self._line.append(found[0])

    def _stroked(self) -> None:
        """A stroke over the forms becomes a piece."""
        line, self._line = self._line, []
        if not line:
            self.session.told.emit("A stroke over the clay begins on a form.")
            return
        kind, width, height = self.form.stroke()
        every = max(len(line) // 60, 1)
        points = [(round(x, 4), round(y, 4), round(z, 4)) for x, y, z in line[::every]]
        number = sum(one.kind == "stroke" for one in self.maquette.pieces) + 1
        mirror = self.form.stroke_mirrored
        piece = Piece(
            f"{kind.capitalize()} {number}",
            "stroke",
            size=(width, height, 1.0),
            join=kind,
            points=tuple(points),
            mirror=mirror,
        )
        self._try(lambda: self._with(piece))

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key == Qt.Key.Key_Backspace:
            self.take_away()
            return True
        return False

    # --- what is seen -----------------------------------------------------------------------------------

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        canvas = QRectF(0, 0, self.session.painting.width, self.session.painting.height)
        painter.save()
        painter.setTransform(to_view)
        painter.fillRect(canvas, DIM)
        seen = self.clay.surface
        if seen is not None and self.maquette.pieces:
            painter.setClipRect(canvas, Qt.ClipOperation.IntersectClip)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            height, width = seen.piece.shape
            painter.drawImage(QRectF(0, 0, width * seen.step, height * seen.step), self.clay.image)
        painter.restore()
        self._px = 1 / max(abs(to_view.m11()) + abs(to_view.m12()), 1e-6)
        if self._line:
            points = [to_view.map(QPointF(*seen_at(self.maquette, place))) for place in self._line]
            draw_line(painter, points)
        if self.maquette.pieces and not self.form.stroke_kind:
            self._draw_handles(painter, to_view)

    def _draw_handles(self, painter: QPainter, to_view: QTransform) -> None:
        handles = {name: to_view.map(QPointF(*at)) for name, at in self._handles().items()}
        if "move" in handles:
            draw_line(painter, [handles["turn"], handles["move"], handles["size"]], thin=True)
        draw_line(painter, [to_view.map(QPointF(*self.maquette.middle)), handles[LIGHT]], thin=True)
        points = [at for name, at in handles.items() if name.startswith("point")]
        piece = self.piece
        if piece is not None and piece.kind in CURVES and len(points) > 1:
            draw_line(painter, points, thin=True)
        for name, at in handles.items():
            if name.startswith("point"):
                painter.setBrush(theme["gold" if self._held != name else "cinnabar"])
                painter.setPen(QColor(0, 0, 0, 180))
                painter.drawEllipse(at, 3.0, 3.0)
            else:
                draw_handle(painter, at, hot=self._held == name)
                if name in (LIGHT, HEAD):
                    draw_word(painter, at + QPointF(12, 4), name)
        names = () if piece is None else landmarks() if piece.kind == "figure" else piece.names
        if names and self._held.startswith("point"):
            name = names[int(self._held.split()[1])]
            draw_word(painter, handles[self._held] + QPointF(10, -8), name)
