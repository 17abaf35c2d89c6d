"""A hand that does whatever comes into its head: the same walk for the same seed."""

from __future__ import annotations

import json
import random
from collections.abc import Callable

from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QApplication

from japanner.desk.window.main_window import MainWindow
from japanner.painting.document.document import begun
from japanner.painting.live.moments import LAST_CHANGE, LAST_SAVE
from tests.desk.hand import Hand
from tests.desk.pressing import TASKS
from tests.paintings import same_painting

__all__ = ["Walk"]

# What would lead out of the walk, or takes long.
NEVER = (
    "Painting › New…", "Painting › Open…", "Painting › Quit", "Painting › Save as…", "Look › Full screen",
    "Part › Make › coat", "Part › Make › Coat", "Part › Make › Thin cloth", "Painting › Back to the bench",
)  # fmt: skip
MOST_PARTS, MOST_LAYERS, LARGEST_PX = 5, 12, 420


class Walk:
    """Random valid actions on the window; at any time, replaying the records gives the painting that is shown."""

    def __init__(self, window: MainWindow, seed: int) -> None:
        self.window, self.hand, self.chance = window, Hand(window), random.Random(seed)
        self.done: list[str] = []

    def go(self, steps: int) -> None:
        window = self.window
        acts: list[tuple[int, Callable[[], str]]] = [
            (40, self.pen), (14, self.mouse), (16, self.command), (6, self.undo), (5, self.brush), (4, self.colour),
            (5, self.task), (3, self.interrupted), (3, self.blink), (2, self.layer), (2, self.operation),
        ]  # fmt: skip
        weights = [weight for weight, _ in acts]
        for _ in range(steps):
            (act,) = self.chance.choices([one for _, one in acts], weights)
            self.done.append(act())
            self.settle()
            window.show_bench()
            self.keep_small()

    def settle(self) -> None:
        for _ in range(2):
            self.window.session.jobs.wait()
            QApplication.processEvents()

    def keep_small(self) -> None:
        """What has grown too large for a walk is taken back."""
        session = self.window.session
        painting = session.painting
        layers = sum(1 for _ in painting.layers())
        if layers > MOST_LAYERS or len(painting.parts) > MOST_PARTS or max(painting.rect[2:]) > LARGEST_PX:
            session.undo()

    def check(self) -> None:
        """Replay equals the painting, and the easel shows that."""
        session = self.window.session
        self.window.easel.leave_task()
        session.rest_hand()
        session.comparing.end()
        records = json.loads(json.dumps(session.document.records))
        assert same_painting(begun(records), session.painting), self.done[-20:]
        assert session.picture.painting.rect == session.painting.rect

    # --- actions --------------------------------------------------------------------------------------

    def _points(self, count: int) -> list[tuple[float, float, float]]:
        painting, chance = self.window.session.painting, self.chance
        x, y = chance.uniform(0, painting.width), chance.uniform(0, painting.height)
        found = []
        for _ in range(count):
            found.append((x, y, chance.random()))
            x, y = x + chance.uniform(-60, 60), y + chance.uniform(-60, 60)
        return found

    def pen(self) -> str:
        self.window.easel.leave_task()
        self.hand.pen(self._points(self.chance.randint(1, 8)))
        return "pen"

    def mouse(self) -> str:
        """On the easel: a stroke, or whatever the task that is on makes of it."""
        self.hand.mouse(
            [(x, y) for x, y, _ in self._points(self.chance.randint(2, 6))], shift=self.chance.random() < 0.2
        )
        return "mouse"

    def command(self) -> str:
        commands = self.window.menus.commands
        path = self.chance.choice([one for one in commands if one not in NEVER and "Keeping" not in one])
        self.window.menus.actions[path].trigger()
        return path

    def undo(self) -> str:
        session = self.window.session
        for _ in range(self.chance.randint(1, 4)):
            (session.undo if self.chance.random() < 0.6 else session.redo)()
        return "undo"

    def brush(self) -> str:
        hand = self.window.session.hand
        hand.take_brush(self.chance.randrange(len(hand.brushes)))
        hand.set_brush(size_px=self.chance.uniform(2, 60), strength=self.chance.random())
        return hand.brush.name

    def colour(self) -> str:
        self.window.session.hand.set_colour([self.chance.random() for _ in range(3)])
        return "colour"

    def task(self) -> str:
        name = self.chance.choice(TASKS)
        self.window.tasks.toggle(name)
        return f"task {name}"

    def interrupted(self) -> str:
        """Something begins while the pen is down."""
        from PySide6.QtCore import QEvent

        (x, y, _), (u, v, _) = self._points(2)
        self.window.easel.leave_task()
        left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
        self.hand.mouse_event(QEvent.Type.MouseButtonPress, self.hand.view(x, y), left)
        self.hand.mouse_event(QEvent.Type.MouseMove, self.hand.view(u, v), none)
        what = self.chance.choice([self.command, self.undo, self.task, self.blink, self.operation])()
        self.hand.mouse_event(QEvent.Type.MouseMove, self.hand.view(x, v), none)
        self.hand.mouse_event(QEvent.Type.MouseButtonRelease, self.hand.view(x, v), left)
        return f"interrupted by {what}"

    def blink(self) -> str:
        comparing = self.window.session.comparing
        comparing.compare_with(self.chance.choice([LAST_CHANGE, LAST_SAVE]))
        comparing.blink()
        return "blink"

    def layer(self) -> str:
        session = self.window.session
        layers = [layer.uid for _, layer in session.painting.layers()]
        if layers:
            session.work.work_on_layer(self.chance.choice(layers))
        return "layer"

    def operation(self) -> str:
        self.window.easel.zoom_by(self.chance.choice([0.8, 1.25]))
        self.window.easel.view.move(QPointF(self.chance.uniform(-5, 5), 0))
        self.window.building.add_layer(self.chance.choice(["light", "shadow", "glow"]))
        return "layer added"
