"""The Frisket menu: limits to where paint goes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from japanner.desk.commands.command import Command
from japanner.desk.commands.desk import Desk
from japanner.desk.tasks.frisket import DRAWN_SHAPES
from japanner.painting.operations import ChangeFrisket, DropFrisket, SetFrisket

__all__ = ["frisket_commands"]

SOFTEN_PX = 4.0


def frisket_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    session, looking, on = desk.session, desk.session.looking, desk.a_frisket

    def change(name: str, px: float = 0.0) -> Callable[[], object]:
        return lambda: session.apply(ChangeFrisket(name, px))

    def from_layer(shape: str) -> Callable[[], None]:
        return desk.on_layer(lambda uid: SetFrisket({"shape": shape, "layer": uid}))

    return [
        *(Command("Frisket", shape.capitalize(), partial(desk.tasks.frisket, shape), (drawn.key,), drawn.tip, "a")
          for shape, drawn in DRAWN_SHAPES.items()),
        Command("Frisket", "From the layer's paint", from_layer("layer"), ("Shift+K",), group="b", need=desk.a_layer),
        Command("Frisket", "From the silhouette", desk.on_part(lambda uid: SetFrisket({"shape": "silhouette",
                "part": uid})), ("Ctrl+A",), "What the part covers", "b", need=desk.a_part),
        Command("Frisket", "From the mask", from_layer("mask"), group="b", need=desk.a_layer),
        Command("Frisket", "Lights over this layer", partial(_lights_over, desk), need=desk.a_layer,
                tip="A frisket of the layer's paint, and a light layer after it to paint on", group="b"),
        Command("Frisket", "Invert", change("invert"), ("Ctrl+I",), "Let through what it keeps out", "c", need=on),
        Command("Frisket", "Soften", change("soften", SOFTEN_PX), tip=f"By {SOFTEN_PX:g} px", group="c", need=on),
        Command("Frisket", "Grow", change("grow", SOFTEN_PX), tip=f"By {SOFTEN_PX:g} px", group="c", need=on),
        Command("Frisket", "Shrink", change("shrink", SOFTEN_PX), tip=f"By {SOFTEN_PX:g} px", group="c", need=on),
        Command("Frisket", "Edge line", lambda: looking.set_view(line_shown=not looking.line_shown), ("Shift+J",),
                "Hidden, the frisket still limits", "d", checked=lambda: looking.line_shown),
        Command("Frisket", "Drop", lambda: session.apply(DropFrisket()), ("J",), "Take the frisket off", "d", need=on),
    ]  # fmt: skip


def _lights_over(desk: Desk) -> None:
    session = desk.session
    if session.layer is not None and session.part is not None:
        after = session.part.layers.index(session.layer) + 1
        if session.apply(SetFrisket({"shape": "layer", "layer": session.layer.uid})):
            desk.building.add_layer("light", after)
