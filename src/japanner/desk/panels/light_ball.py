"""The light: a ball in the colour in hand; drag its red point to move the key light."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from japanner.color.srgb import decode, encode
from japanner.color.temperature import COOLEST_K, WARMEST_K
from japanner.color.value import with_value
from japanner.desk.brushes.setting_rows import Choice
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.option_row import paint_button
from japanner.desk.widgets.painter import painter_on
from japanner.light.sources import SURFACES, shaded
from japanner.painting.model import Light
from japanner.painting.operations import SetLight
from japanner.painting.picture.lighting import LIGHTS, sources_of

__all__ = ["LightBall", "LightPanel", "angles_from_ball", "ball_from_angles"]

SIDE = 76
TIPS = {
    "kelvin": "Colour temperature: a candle 1900 K, a lamp 2900 K, noon 5500 K, open shade 8000 K",
    "key": "Strength of the key light",
    "size_deg": "How wide the key light is seen: a sun half a degree, a window 30°; the wider, the softer its shadows",
    "sky": "Light from all above",
    "bounce": "Light that the ground throws up",
    "rim": "Light from behind, along edges that nothing lies behind",
    "rim_right_deg": "Where the rim light stands: to your right, 180 is straight behind",
    "rim_up_deg": "How high the rim light stands",
    "rim_size_deg": "How wide the rim light is: the wider, the farther in it reaches",
    "rim_kelvin": "Colour of the rim light, from candle to clear sky",
}


def angles_from_ball(x: float, y: float) -> tuple[float, float]:
    """Degrees up and right of the light whose point is at (x, y) on the unit ball's disc, y up."""
    length = math.hypot(x, y)
    if length > 1:
        x, y = x / length, y / length
    z = math.sqrt(max(1 - x * x - y * y, 0.0))
    return math.degrees(math.asin(min(max(y, -1.0), 1.0))), math.degrees(math.atan2(x, z))


def ball_from_angles(direction: tuple[float, float, float]) -> tuple[float, float]:
    """Where the light's point lies on the disc; a light from behind lies on the rim."""
    x, y, z = direction
    if z < 0:
        length = math.hypot(x, y) or 1.0
        return x / length, y / length
    return x, y


class LightBall(QWidget):
    """Stores the direction of the key light; arrow keys turn it by five degrees."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._dragging: tuple[float, float] | None = None
        self._key: object = None
        self._image = QImage()
        self.setFixedHeight(SIDE + 6)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Key light")
        self.setToolTip("Drag the red point to move the key light; arrow keys turn it by 5°")
        for signal in (session.changed, session.opened, session.hand.colour_changed, session.work.active_changed):
            signal.connect(self.update)

    def _disc(self) -> QRectF:
        return QRectF(2, 3, SIDE, SIDE)

    def _angles(self) -> tuple[float, float]:
        light = self._session.painting.light
        return self._dragging or (light.up_deg, light.right_deg)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._disc().contains(event.position()):
            self._drag(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragging is not None:
            self._drag(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._dragging is not None:
            operation = self._turned(*self._dragging)
            self._dragging = None
            self._session.apply(operation)

    def _turned(self, up: float, right: float) -> SetLight:
        return SetLight.of(replace(self._session.painting.light, up_deg=round(up, 1), right_deg=round(right, 1)))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Up: (5, 0),
            Qt.Key.Key_Down: (-5, 0),
            Qt.Key.Key_Left: (0, -5),
            Qt.Key.Key_Right: (0, 5),
        }
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        light = self._session.painting.light
        up = min(max(light.up_deg + step[0], -90), 90)
        right = min(max(light.right_deg + step[1], -90), 90)
        self._session.apply(SetLight.of(replace(light, up_deg=up, right_deg=right)))

    def _drag(self, position: QPointF) -> None:
        disc = self._disc()
        x = (position.x() - disc.center().x()) / (disc.width() / 2)
        y = (disc.center().y() - position.y()) / (disc.height() / 2)
        self._dragging = angles_from_ball(x, y)
        # Relief is lit as the light moves.
        self._session.trials.preview(self._turned(*self._dragging))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            up, right = self._angles()
            direction = _direction(up, right)
            disc = self._disc()
            painter.drawImage(disc, self._ball(up, right))
            x, y = ball_from_angles(direction)
            at = QPointF(disc.center().x() + x * SIDE / 2, disc.center().y() - y * SIDE / 2)
            painter.setPen(QPen(theme["lacquer"], 1))
            painter.setBrush(theme["cinnabar"])
            painter.drawEllipse(at, 4.5, 4.5)
            if self.hasFocus():
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(theme["gold"], 1))
                painter.drawEllipse(disc)
            self._words(painter, up, right)

    def _words(self, painter: QPainter, up: float, right: float) -> None:
        painter.setFont(font(11))
        painter.setPen(theme["quiet"])
        painter.drawText(QPointF(SIDE + 18, 26), "key")
        painter.setPen(theme["text"])
        painter.drawText(QPointF(SIDE + 18, 44), f"{abs(up):.0f}° {'up' if up >= 0 else 'down'}")
        painter.drawText(QPointF(SIDE + 18, 61), f"{abs(right):.0f}° {'right' if right >= 0 else 'left'}")

    def _ball(self, up: float, right: float) -> QImage:
        """A ball of the colour in hand and of the part's material under the light."""
        colour = with_value(self._session.hand.colour, 55)
        light = replace(self._session.painting.light, up_deg=up, right_deg=right)
        material = "plain" if self._session.part is None else self._session.part.material
        key = (light, colour, material)
        if key != self._key:
            self._key, self._image = key, _ball_image(light, colour, material)
        return self._image


class LightPanel(QWidget):
    """The ball, lights to begin from, and what the light is made of."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._begin = Choice("light", tuple(LIGHTS), "Begin from a light")
        self._begin.box.setPlaceholderText("own")
        self._begin.box.textActivated.connect(lambda name: session.apply(SetLight.of(LIGHTS[name])))
        self._faders = {
            "kelvin": Fader("key colour", WARMEST_K, COOLEST_K, unit=" K", logarithmic=True),
            "key": Fader("key", 0, 200, unit=" %"),
            "size_deg": Fader("key size", 0.5, 120, digits=1, unit="°", logarithmic=True),
            "sky": Fader("sky", 0, 150, unit=" %"),
            "bounce": Fader("bounce", 0, 150, unit=" %"),
            "rim": Fader("rim", 0, 300, unit=" %"),
            "rim_right_deg": Fader("rim aside", -180, 180, unit="°"),
            "rim_up_deg": Fader("rim height", -90, 90, unit="°"),
            "rim_size_deg": Fader("rim width", 1, 120, unit="°"),
            "rim_kelvin": Fader("rim colour", WARMEST_K, COOLEST_K, unit=" K", logarithmic=True),
        }
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(LightBall(session))
        column.addWidget(self._begin)
        details = QWidget()
        below = QVBoxLayout(details)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(2)
        for name, fader in self._faders.items():
            fader.setToolTip(TIPS[name])
            fader.settled.connect(lambda value, n=name: self._set(n, value))
            (column if name == "kelvin" else below).addWidget(fader)
        self.bounce_colour = QPushButton("colour of the ground")
        self.bounce_colour.setToolTip("What the ground throws up: press to take the colour in hand")
        self.bounce_colour.clicked.connect(self._take_bounce)
        below.addWidget(self.bounce_colour)
        column.addWidget(details)
        details.hide()
        self.more = QPushButton("more")
        self.more.setObjectName("plain")
        self.more.setToolTip("Strength and size of the key, sky, bounce and rim")
        self.more.clicked.connect(lambda: self._unfold(details))
        for signal in (session.changed, session.opened):
            signal.connect(self._refresh)
        self._refresh()

    def _unfold(self, details: QWidget) -> None:
        details.setVisible(details.isHidden())
        self.more.setText("more" if details.isHidden() else "less")

    def _take_bounce(self) -> None:
        r, g, b = (round(float(c), 4) for c in self._session.hand.colour)
        self._session.apply(SetLight.of(replace(self._session.painting.light, bounce_colour=(r, g, b))))

    def _set(self, name: str, shown: float) -> None:
        light = self._session.painting.light
        value = round(shown / _shown_as(name), 0 if name.endswith("kelvin") else 3)
        if value != round(getattr(light, name), 3):
            self._session.apply(SetLight.of(replace(light, **{name: value})))  # type: ignore[arg-type]

    def _refresh(self, *_: object) -> None:
        light = self._session.painting.light
        for name, fader in self._faders.items():
            fader.set_value(getattr(light, name) * _shown_as(name))
        paint_button(self.bounce_colour, light.bounce_colour)
        found = next((name for name, one in LIGHTS.items() if one == light), "")
        self._begin.box.setCurrentIndex(list(LIGHTS).index(found) if found else -1)


def _shown_as(name: str) -> float:
    """Strengths are shown in per cent."""
    return 100.0 if name in ("key", "sky", "bounce", "rim") else 1.0


def _direction(up_deg: float, right_deg: float) -> tuple[float, float, float]:
    up, right = math.radians(up_deg), math.radians(right_deg)
    return math.cos(up) * math.sin(right), math.sin(up), math.cos(up) * math.cos(right)


def _ball_image(light: Light, colour: tuple[float, float, float], material: str) -> QImage:
    side = SIDE * 2
    ys, xs = np.mgrid[0:side, 0:side]
    x, y = (xs + 0.5) / side * 2 - 1, 1 - (ys + 0.5) / side * 2
    rr = x * x + y * y
    outside = np.sqrt(np.maximum(rr, 1))
    normal = np.dstack((x / outside, y / outside, np.sqrt(np.maximum(1 - rr, 0))))
    linear = np.clip(shaded(normal, decode(np.asarray(colour)), sources_of(light), SURFACES[material]), 0, 1)
    cover = np.clip((1 - np.sqrt(rr)) * side / 2 + 0.5, 0, 1)
    rgba = np.dstack((encode(linear), cover))
    return image_of(np.rint(rgba * 255).astype(np.uint8))
