"""All tasks, made when they are first taken up."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from japanner.desk.easel.easel import Easel
from japanner.desk.easel.task import Task
from japanner.desk.session.session import Session
from japanner.desk.tasks.adjust import AdjustTask
from japanner.desk.tasks.cage import CageTask
from japanner.desk.tasks.canvas import FrameTask, ScaleTask
from japanner.desk.tasks.comb import CombTask
from japanner.desk.tasks.fill import FillTask, GradientTask
from japanner.desk.tasks.frisket import FrisketTask
from japanner.desk.tasks.head_guide import GuideTask
from japanner.desk.tasks.landmarks import LandmarksTask
from japanner.desk.tasks.light import LightFromBallTask, ScratchTask
from japanner.desk.tasks.locks import LocksTask
from japanner.desk.tasks.maker import MakerTask
from japanner.desk.tasks.maquette.task import MaquetteTask
from japanner.desk.tasks.move import MoveTask
from japanner.desk.tasks.output.export import OutputTask
from japanner.desk.tasks.output.printing import PrintTask
from japanner.desk.tasks.over import OverTask
from japanner.desk.tasks.relief import ReliefTask
from japanner.desk.tasks.review.compare import CompareTask
from japanner.desk.tasks.review.critique import CritiqueTask
from japanner.desk.tasks.review.film import FilmTask
from japanner.desk.tasks.review.measure import MeasureTask
from japanner.desk.tasks.review.proportion import ProportionTask
from japanner.desk.tasks.templates import TemplateTask
from japanner.desk.tasks.texture import TextureTask

__all__ = ["Tasks"]

TASKS: Final[dict[str, Callable[..., Task]]] = {
    "frisket": FrisketTask,
    "fill": FillTask,
    "gradient": GradientTask,
    "move": MoveTask,
    "cage": CageTask,
    "adjust": AdjustTask,
    "frame": FrameTask,
    "scale": ScaleTask,
    "head": GuideTask,
    "maquette": MaquetteTask,
    "landmarks": LandmarksTask,
    "maker": MakerTask,
    "light from a ball": LightFromBallTask,
    "scratch": ScratchTask,
    "comb": CombTask,
    "locks": LocksTask,
    "texture": TextureTask,
    "templates": TemplateTask,
    "relief": ReliefTask,
    "over": OverTask,
    "compare": CompareTask,
    "critique": CritiqueTask,
    "film": FilmTask,
    "proportion": ProportionTask,
    "measure": MeasureTask,
    "print": PrintTask,
    "output": OutputTask,
}
PATH: Final = " › "
OVER: Final = (OverTask, LandmarksTask)
"""Tasks that have to do with the reference over the canvas."""


class Tasks:
    """Keeps each task with the options it was left with."""

    def __init__(self, session: Session, easel: Easel) -> None:
        self._session, self._easel = session, easel
        self._made: dict[str, Task] = {}
        self.command: Callable[[str], object] = lambda path: None
        """Runs a command by its path in the menus; the window has them."""

    def __getitem__(self, name: str) -> Task:
        if name not in self._made:
            make = TASKS[name]
            task = self._made[name] = make(self._session, self._easel.over) if make in OVER else make(self._session)
            if isinstance(task, MaquetteTask):
                task.lay_in_wanted.connect(lambda: self.make("lay-in"))
                task.landmarks_wanted.connect(lambda: self.take_up("landmarks"))
            if isinstance(task, CritiqueTask):
                task.tool_wanted.connect(self._take_tool)
            if isinstance(task, ProportionTask):
                task.landmarks_wanted.connect(lambda: self.take_up("landmarks"))
            if isinstance(task, LandmarksTask):
                task.maquette_wanted.connect(lambda: self.take_up("maquette"))
        return self._made[name]

    def _take_tool(self, name: str) -> None:
        """A brush by its name in hand, or a command by its path."""
        if PATH in name:
            self.command(name)
        else:
            self._easel.leave_task()
            self._session.hand.take_brush_named(name)

    def take_up(self, name: str) -> Task:
        """Begin a task on the easel; the one that is on is left."""
        task = self[name]
        self._easel.take_up(task)
        return task

    def toggle(self, name: str) -> None:
        """Begin a task, or leave it if it is on."""
        if self._easel.task is not None and self._easel.task is self._made.get(name):
            self._easel.leave_task()
        else:
            self.take_up(name)

    def frisket(self, shape: str) -> None:
        """Draw friskets of a shape."""
        task = self["frisket"]
        assert isinstance(task, FrisketTask)
        task.take_shape(shape)
        self.take_up("frisket")

    def adjust(self, name: str) -> None:
        """Try an adjustment or filter."""
        task = self["adjust"]
        assert isinstance(task, AdjustTask)
        task.take_name(name)
        self.take_up("adjust")

    def make(self, name: str) -> None:
        """Try a maker."""
        task = self["maker"]
        assert isinstance(task, MakerTask)
        task.name = name
        self.take_up("maker")

    def texture(self, kind: str) -> None:
        """Try a texture."""
        task = self["texture"]
        assert isinstance(task, TextureTask)
        task.take_kind(kind)
        self.take_up("texture")
