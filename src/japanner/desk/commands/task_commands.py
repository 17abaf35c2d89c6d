"""Commands that take up tasks: friskets, fills, masks, moving, adjusting, textures."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from japanner.desk.commands.command import Command
from japanner.desk.tasks.adjust import ADJUST_NAMES
from japanner.desk.tasks.fill import fill
from japanner.desk.tasks.frisket import DRAWN_SHAPES
from japanner.painting.makers import MAKERS
from japanner.painting.operations import (
    AddMask,
    ApplyMask,
    ChangeFrisket,
    ChangeMask,
    DropFrisket,
    DropMask,
    DropRelief,
    FlattenRelief,
    FormRelief,
    Operation,
    SetFrisket,
)
from japanner.raster.textures import TEXTURES

if TYPE_CHECKING:
    from japanner.desk.window.main_window import MainWindow

__all__ = ["task_commands"]

SOFTEN_PX = 4.0
KEYS = {"oval": "O", "box": "Shift+O", "outline": "Z", "curve": "Shift+Z", "colour": "K"}
TIPS = {
    "oval": "Drag an oval; Shift: circle, Ctrl: from the centre",
    "box": "Drag a box; Shift: square, Ctrl: from the centre",
    "outline": "Freehand, and straight while Shift is held",
    "curve": "A curve through nodes with handles",
    "colour": "By colour, with a tolerance",
}


def task_commands(window: MainWindow) -> list[Command]:
    """Their part of the command table."""
    return [
        *_friskets(window),
        *_masks(window),
        *_reliefs(window),
        *_moving(window),
        *_fills(window),
        *_textures(window),
        *_makers(window),
    ]


def _friskets(window: MainWindow) -> list[Command]:
    session, tasks = window.session, window.tasks

    def on() -> bool:
        return session.painting.frisket is not None

    def change(name: str, px: float = 0.0) -> Callable[[], object]:
        return lambda: session.apply(ChangeFrisket(name, px))

    drawn = [
        Command("Frisket", f"{shape.capitalize()}", partial(tasks.frisket, shape), (KEYS[shape],), TIPS[shape], "a")
        for shape in DRAWN_SHAPES
    ]
    return [
        *drawn,
        Command("Frisket", "From the layer's paint", _from_layer(window, "layer"), ("Shift+K",), group="b"),
        Command("Frisket", "From the silhouette", _from_part(window), ("Ctrl+A",),
                "What the part covers", "b"),
        Command("Frisket", "From the mask", _from_layer(window, "mask"), group="b"),
        Command("Frisket", "Lights over this layer", partial(_lights_over, window),
                tip="A frisket of the layer's paint, and a light layer after it to paint on", group="b"),
        Command("Frisket", "Invert", change("invert"), ("Ctrl+I",), "Let through what it keeps out", "c", ready=on),
        Command("Frisket", "Soften", change("soften", SOFTEN_PX), tip=f"By {SOFTEN_PX:g} px", group="c", ready=on),
        Command("Frisket", "Grow", change("grow", SOFTEN_PX), tip=f"By {SOFTEN_PX:g} px", group="c", ready=on),
        Command("Frisket", "Shrink", change("shrink", SOFTEN_PX), tip=f"By {SOFTEN_PX:g} px", group="c", ready=on),
        Command("Frisket", "Edge line", lambda: session.looking.set_view(line_shown=not session.looking.line_shown), ("Shift+J",),
                "Hidden, the frisket still limits", "d", checked=lambda: session.looking.line_shown),
        Command("Frisket", "Drop", lambda: session.apply(DropFrisket()), ("J",), "Take the frisket off", "d", ready=on),
    ]  # fmt: skip


def _from_layer(window: MainWindow, shape: str) -> Callable[[], None]:
    session = window.session
    return lambda: _apply(window, lambda: SetFrisket({"shape": shape, "layer": session.work.active_layer}))


def _from_part(window: MainWindow) -> Callable[[], None]:
    session = window.session

    def run() -> None:
        if session.work.active_part is None:
            session.told.emit("There is no part yet: add one first.")
        else:
            session.apply(SetFrisket({"shape": "silhouette", "part": session.work.active_part}))

    return run


def _lights_over(window: MainWindow) -> None:
    session = window.session
    if session.layer is not None and session.part is not None:
        after = session.part.layers.index(session.layer) + 1
        if session.apply(SetFrisket({"shape": "layer", "layer": session.layer.uid})):
            window.build.add_layer("light", after)


def _apply(window: MainWindow, make: Callable[[], Operation]) -> None:
    """Apply an operation on the layer worked on."""
    if window.session.layer is None:
        window.session.told.emit("There is no layer yet: add a part and a layer first.")
    else:
        window.session.apply(make())


def _masks(window: MainWindow) -> list[Command]:
    session = window.session

    def there() -> bool:
        return session.layer is not None and session.layer.mask is not None

    def command(text: str, make: Callable[[int], Operation], tip: str, **rest: object) -> Command:
        run = partial(_apply, window, lambda: make(session.work.active_layer or 0))
        return Command("Layer", text, run, tip=tip, submenu="Mask", group="b", **rest)  # type: ignore[arg-type]

    return [
        command("Add, hiding nothing", AddMask, "An empty mask to paint on"),
        command("Add, from the frisket", lambda uid: AddMask(uid, True), "Shows what the frisket lets through"),
        Command("Layer", "Paint in it", lambda: session.work.work_on("paint" if session.work.on == "mask" else "mask"),
                ("N",), "Strokes go into the mask, in greys", "b", "Mask", checked=lambda: session.work.on == "mask",
                ready=there),
        command("Invert", lambda uid: ChangeMask(uid, "invert"), "Show what it hides", ready=there),
        command("Soften", lambda uid: ChangeMask(uid, "soften", SOFTEN_PX), f"By {SOFTEN_PX:g} px", ready=there),
        command("Apply", ApplyMask, "What it hides goes for good", ready=there),
        command("Drop", DropMask, "All of the layer shows again", ready=there),
    ]  # fmt: skip


def _reliefs(window: MainWindow) -> list[Command]:
    session, tasks = window.session, window.tasks

    def there() -> bool:
        return session.layer is not None and session.layer.relief is not None

    def command(text: str, make: Callable[[int], Operation], tip: str) -> Command:
        run = partial(_apply, window, lambda: make(session.work.active_layer or 0))
        return Command("Layer", text, run, tip=tip, submenu="Relief", group="b", ready=there)

    return [
        Command("Layer", "Amount and gloss", partial(tasks.toggle, "relief"), ("Shift+R",),
                "How the key light shows the thickness of the layer's paint", "b", "Relief"),
        Command("Layer", "From the form", partial(_apply, window, lambda: FormRelief(session.work.active_layer or 0)),
                tip="The layer's paint stands up as the part's form does", submenu="Relief", group="b",
                ready=lambda: session.layer is not None),
        command("Flatten into paint", FlattenRelief, "Paint it as the light shows it now; the relief goes"),
        command("Drop", DropRelief, "The paint lies flat"),
    ]  # fmt: skip


def _moving(window: MainWindow) -> list[Command]:
    tasks = window.tasks
    return [
        Command("Edit", "Move, scale, turn", partial(tasks.toggle, "move"), ("M",),
                "With handles and numbers: layer, part, or what the frisket lets through", "c"),
        Command("Edit", "Cage", partial(tasks.toggle, "cage"), ("Shift+M",), "Warp by a grid of points", "c"),
        Command("Part", "Light from a ball", partial(tasks.toggle, "light from a ball"), (),
                "Mark where a ball shines and where its shadow begins, and take the light that does that", "c"),
        Command("Part", "Comb", partial(tasks.toggle, "comb"), ("Shift+C",),
                "Which way the part's hair lies: strokes from root to tip", "c"),
        Command("Stroke", "Scratch", partial(tasks.toggle, "scratch"), ("Shift+G",),
                "Scratches with a lit and a shaded side", "e"),
        *(Command("Edit", name.capitalize(), partial(tasks.adjust, name), submenu="Adjust", group="c")
          for name in ADJUST_NAMES),
        Command("Part", "Head guide", partial(tasks.toggle, "head"), ("U",),
                "A head to sketch over, human or animal, that turns in space", "c"),
        Command("Part", "Maquette", partial(tasks.toggle, "maquette"), ("Shift+H",),
                "Forms over the canvas, lit as the painting is", "c"),
    ]  # fmt: skip


def _fills(window: MainWindow) -> list[Command]:
    session, tasks = window.session, window.tasks
    return [
        Command("Stroke", "Fill from a point", partial(tasks.toggle, "fill"), ("P",),
                "Click into a closed shape; small gaps in its line do not leak", "e"),
        Command("Stroke", "Fill the silhouette", partial(fill, session, "silhouette"), group="e"),
        Command("Stroke", "Fill all", partial(fill, session, "canvas"), ("Shift+P",),
                "All that the frisket lets through", "e"),
        Command("Stroke", "From the layer", window.clipboard.stamp, (),
                "A brush whose tip is what is on the layer", "f", "New stamp"),
        Command("Stroke", "From a picture…", partial(window.clipboard.import_file, "stamp"), (),
                "A brush whose tip is a picture", "f", "New stamp"),
        Command("Stroke", "Gradient", partial(tasks.toggle, "gradient"), ("Ctrl+P",), group="e"),
    ]  # fmt: skip


def _makers(window: MainWindow) -> list[Command]:
    return [
        Command("Part", name.capitalize(), partial(window.tasks.make, name), ("Shift+L",) if name == "lay-in" else (),
                maker.words, "d", "Make")
        for name, maker in MAKERS.items()
    ]  # fmt: skip


def _textures(window: MainWindow) -> list[Command]:
    texture = window.tasks.texture
    return [
        Command("Layer", kind.capitalize(), partial(texture, kind), submenu="Add texture", group="a")
        for kind in TEXTURES
    ]
