"""The Stroke menu: brushes, values, fills, pens."""

from __future__ import annotations

from functools import partial

from japanner.desk.commands.command import Command
from japanner.desk.commands.desk import Desk, has
from japanner.desk.session.aiming import AIM_OVER
from japanner.desk.tasks.fill import fill
from japanner.painting.model import STEP_NAMES
from japanner.painting.picture.picking import PICK_AREAS, PICK_SOURCES
from japanner.stroke.pen.practice_pen import PRESSURE_FROM
from japanner.stroke.pen.traces import TRACES

__all__ = ["stroke_commands"]

PEN_WORDS = {"fixed": "Fixed pressure", "speed": "Pressure from speed", "taper": "Pressure tapers in"}


def stroke_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    session, hand = desk.session, desk.session.hand
    return [
        *_picking(desk),
        Command("Stroke", "Swap in hand and resting", hand.swap_brushes, ("Q",), group="a"),
        Command("Stroke", "Wipe with the brush in hand", hand.toggle_wiping, ("W",), group="a",
                checked=lambda: hand.wiping),
        Command("Stroke", "Brush sheet", desk.pages.toggle_brush_sheet, ("L",), "Every setting of the brush in hand",
                "a"),
        Command("Stroke", "Smaller tip", partial(hand.resize_brush, -1), (), "G, tapped", "a"),
        Command("Stroke", "Larger tip", partial(hand.resize_brush, 1), ("T",), group="a"),
        *(Command("Stroke", name.capitalize(), partial(session.take_step, index), (str(index + 1),),
                  submenu="Value step", tip=f"Take the part's {name} value in the hue in hand", group="b",
                  need=desk.a_part) for index, name in enumerate(STEP_NAMES)),
        Command("Stroke", "Lift by one value step", partial(session.lift, 1), ("E",), group="b", need=desk.a_part),
        Command("Stroke", "Lower by one value step", partial(session.lift, -1), ("D",), group="b", need=desk.a_part),
        *_aiming(desk),
        *(Command("Stroke", PEN_WORDS[source], partial(hand.set_practice_pen, source=source), submenu="Practice pen",
                  group="d", checked=has(lambda: hand.practice_pen, "source", source),
                  tip="Where pressure comes from when there is no pen") for source in PRESSURE_FROM),
        *(Command("Stroke", name.capitalize(), partial(desk.traces.play, name), submenu="Play a trace", group="d",
                  tip="A recorded stroke of a pen, with the brush in hand, in the middle of the easel")
          for name in TRACES),
        *_fills(desk),
    ]  # fmt: skip


def _aiming(desk: Desk) -> list[Command]:
    aiming = desk.session.aiming
    words = {"flat": "Over the part's flat", "pointer": "Over what is under the pointer"}
    return [Command("Stroke", words[over], partial(aiming.set_over, over), submenu="Aim through modes", group="b",
                    tip="What values are reckoned over on a layer that is not Normal",
                    checked=has(lambda: aiming, "over", over)) for over in AIM_OVER]  # fmt: skip


def _picking(desk: Desk) -> list[Command]:
    looking = desk.session.looking
    return [
        *(Command("Stroke", f"Mean of {side} × {side} px" if side > 1 else "One pixel",
                  partial(looking.set_view, pick_side=side), submenu="Pick up", group="d",
                  checked=has(lambda: looking, "pick_side", side)) for side in PICK_AREAS),
        *(Command("Stroke", "From all that shows" if source == "visible" else "From this layer",
                  partial(looking.set_view, pick_source=source), submenu="Pick up", group="d",
                  checked=has(lambda: looking, "pick_source", source)) for source in PICK_SOURCES),
    ]  # fmt: skip


def _fills(desk: Desk) -> list[Command]:
    session, tasks, clipboard = desk.session, desk.tasks, desk.clipboard
    return [
        Command("Stroke", "Scratch", partial(tasks.toggle, "scratch"), ("Shift+G",),
                "Scratches with a lit and a shaded side", "e"),
        Command("Stroke", "Fill from a point", partial(tasks.toggle, "fill"), ("P",),
                "Click into a closed shape; small gaps in its line do not leak", "e"),
        Command("Stroke", "Fill the silhouette", partial(fill, session, "silhouette"), group="e"),
        Command("Stroke", "Fill all", partial(fill, session, "canvas"), ("Shift+P",),
                "All that the frisket lets through", "e"),
        Command("Stroke", "From the layer", clipboard.stamp, (), "A brush whose tip is what is on the layer", "f",
                "New stamp"),
        Command("Stroke", "From a picture…", partial(clipboard.import_file, "stamp"), (),
                "A brush whose tip is a picture", "f", "New stamp"),
        Command("Stroke", "Gradient", partial(tasks.toggle, "gradient"), ("Alt+G",), group="e"),
    ]  # fmt: skip
