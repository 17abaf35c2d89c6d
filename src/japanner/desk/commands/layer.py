"""The Layer menu: adding, ordering and setting layers, their masks, relief and textures."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from japanner.desk.commands.command import Command
from japanner.desk.commands.desk import Desk, has, on
from japanner.desk.easel.landing import PLACE_WORDS
from japanner.painting.model import PLACES, ROLES, Layer
from japanner.painting.operations import (
    AddMask,
    ApplyMask,
    ChangeMask,
    DeleteLayer,
    DropMask,
    DropRelief,
    FlattenRelief,
    FormRelief,
    MergeDown,
    Operation,
    SetLayer,
    SetPart,
)
from japanner.painting.working_order import Stage
from japanner.raster.modes import MODES
from japanner.raster.textures import TEXTURES

__all__ = ["layer_commands"]

# A layer to dodge and burn on without touching the paint beneath.
APART = Stage("light", "Soft Light", 1.0, "body", neutral=True, brush="Dodge")
SOFTEN_PX = 4.0
STRENGTH_STEP = 0.05


def layer_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    session, building, there = desk.session, desk.building, desk.a_layer

    def current() -> Layer | None:
        return session.layer

    def setter(**changes: object) -> Callable[[], None]:
        return desk.on_layer(lambda uid: SetLayer(uid, changes))

    def toggled(name: str) -> Callable[[], None]:
        return on(current, lambda layer: session.apply(SetLayer(layer.uid, {name: not getattr(layer, name)})))

    return [
        *(Command("Layer", role.capitalize(), partial(building.add_layer, role), submenu="Add layer", need=desk.a_part)
          for role in ROLES),
        Command("Layer", "Dodge and burn apart", partial(building.add_stage, APART), submenu="Add layer",
                need=desk.a_part, tip="A neutral sheet in Soft Light: dodge and burn it, and wipe it back"),
        *(Command("Layer", mode, setter(mode=mode), submenu="Mode", group="b", need=there,
                  checked=has(current, "mode", mode)) for mode in MODES),
        *(Command("Layer", PLACE_WORDS[place].capitalize(), setter(place=place), submenu="Place", group="b", need=there,
                  checked=has(current, "place", place)) for place in PLACES),
        Command("Layer", "Rename layer…", on(current, lambda layer: building.rename_layer(layer.uid)), group="b",
                need=there),
        Command("Layer", "Duplicate layer", on(lambda: desk.session.work.active_layer, desk.building.duplicate_layer),
                group="b", need=there),
        Command("Layer", "Shown", toggled("shown"), group="c", checked=has(current, "shown", True), need=there),
        Command("Layer", "Earlier in the build", on(current, lambda layer: building.move_layer(layer.uid, -1)),
                ("Ctrl+Left",), group="c", need=there),
        Command("Layer", "Later in the build", on(current, lambda layer: building.move_layer(layer.uid, 1)),
                ("Ctrl+Right",), group="c", need=there),
        Command("Layer", "Work on the layer before", partial(_step_layer, desk, -1), ("Alt+Left",), group="c",
                need=there),
        Command("Layer", "Work on the layer after", partial(_step_layer, desk, 1), ("Alt+Right",), group="c",
                need=there),
        Command("Layer", "The mode after", partial(_step_mode, desk, 1), ("Ctrl+Shift+Down",), group="b", need=there),
        Command("Layer", "The mode before", partial(_step_mode, desk, -1), ("Ctrl+Shift+Up",), group="b", need=there),
        Command("Layer", "Stronger", partial(_step_strength, desk, STRENGTH_STEP), ("Ctrl+Shift+Right",), group="b",
                need=there),
        Command("Layer", "Weaker", partial(_step_strength, desk, -STRENGTH_STEP), ("Ctrl+Shift+Left",), group="b",
                need=there),
        Command("Layer", "Merge down", desk.on_layer(MergeDown), tip="Into the layer it lies on; the picture stays",
                group="b", need=there),
        Command("Layer", "Holds its edges", toggled("hold_edges"), ("H",),
                "Paint goes only where the layer has paint already", group="c",
                checked=has(current, "hold_edges", True), need=there),
        *_fur_maps(desk),
        *_masks(desk),
        *_reliefs(desk),
        Command("Layer", "Delete layer", desk.on_layer(DeleteLayer), group="d", need=there),
        *(Command("Layer", kind.capitalize(), partial(desk.tasks.texture, kind), submenu="Add texture", group="a")
          for kind in TEXTURES),
    ]  # fmt: skip


def _step_layer(desk: Desk, shift: int) -> None:
    session = desk.session
    if session.part is not None and session.layer is not None:
        index = session.part.layers.index(session.layer) + shift
        if 0 <= index < len(session.part.layers):
            session.work.work_on_layer(session.part.layers[index].uid)


def _step_mode(desk: Desk, shift: int) -> None:
    session, modes = desk.session, list(MODES)
    if session.layer is not None:
        mode = modes[(modes.index(session.layer.mode) + shift) % len(modes)]
        session.apply(SetLayer(session.layer.uid, {"mode": mode}))


def _step_strength(desk: Desk, by: float) -> None:
    session = desk.session
    if session.layer is not None:
        strength = min(max(round(session.layer.strength + by, 2), 0.0), 1.0)
        if strength != session.layer.strength:
            session.apply(SetLayer(session.layer.uid, {"strength": strength}))


def _fur_maps(desk: Desk) -> list[Command]:
    """Fur of the part grows as the paint of a layer says."""
    session = desk.session

    def command(text: str, name: str, tip: str) -> Command:
        def chosen() -> bool:
            part, layer = session.part, session.layer
            return part is not None and layer is not None and getattr(part, name) == layer.uid

        def run() -> None:
            if session.part is not None and session.layer is not None:
                session.apply(SetPart(session.part.uid, {name: 0 if chosen() else session.layer.uid}))

        return Command("Layer", text, run, tip=tip, submenu="Fur follows it", group="b", checked=chosen,
                       need=desk.a_layer)  # fmt: skip

    return [
        command("In length", "length_map", "Where it is bare fur is shortest, where it is full fur has all its length"),
        command("In density", "density_map", "Where it is bare no fur grows, where it is full all of it"),
    ]


def _masks(desk: Desk) -> list[Command]:
    work, layer, mask = desk.session.work, desk.a_layer, desk.a_mask

    def command(text: str, make: Callable[[int], Operation], tip: str, **rest: object) -> Command:
        return Command("Layer", text, desk.on_layer(make), tip=tip, submenu="Mask", group="b", **rest)  # type: ignore[arg-type]

    return [
        command("Add, hiding nothing", AddMask, "An empty mask to paint on", need=layer),
        command("Add, from the frisket", lambda uid: AddMask(uid, True), "Shows what the frisket lets through",
                need=layer),
        Command("Layer", "Paint in it", lambda: work.work_on("paint" if work.on == "mask" else "mask"),
                ("N",), "Strokes go into the mask, in greys", "b", "Mask", checked=lambda: work.on == "mask",
                need=mask),
        command("Invert", lambda uid: ChangeMask(uid, "invert"), "Show what it hides", need=mask),
        command("Soften", lambda uid: ChangeMask(uid, "soften", SOFTEN_PX), f"By {SOFTEN_PX:g} px", need=mask),
        command("Apply", ApplyMask, "What it hides goes for good", need=mask),
        command("Drop", DropMask, "All of the layer shows again", need=mask),
    ]  # fmt: skip


def _reliefs(desk: Desk) -> list[Command]:
    def command(text: str, make: Callable[[int], Operation], tip: str) -> Command:
        return Command("Layer", text, desk.on_layer(make), tip=tip, submenu="Relief", group="b", need=desk.a_relief)

    return [
        Command("Layer", "Amount and gloss", partial(desk.tasks.toggle, "relief"), ("Shift+R",),
                "How the key light shows the thickness of the layer's paint", "b", "Relief"),
        Command("Layer", "From the form", desk.on_layer(FormRelief), tip="The layer's paint stands up as the part's "
                "form does", submenu="Relief", group="b", need=desk.a_layer),
        command("Flatten into paint", FlattenRelief, "Paint it as the light shows it now; the relief goes"),
        command("Drop", DropRelief, "The paint lies flat"),
    ]  # fmt: skip
