"""What each command of the main window does."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtWidgets import QInputDialog, QMessageBox

from japanner import __version__
from japanner.desk.commands.command import Command
from japanner.desk.commands.task_commands import task_commands
from japanner.desk.easel.light_guides import AGAINST_LIGHT
from japanner.desk.theme import THEMES, theme
from japanner.desk.window.keys_view import KeysView
from japanner.painting.live.moments import LAST_CHANGE, LAST_SAVE, MOST_KEPT
from japanner.painting.model import MATERIALS, PLACES, ROLES, STEP_NAMES, Layer, Part
from japanner.painting.operations import (
    BreakEdge,
    DeleteLayer,
    DeletePart,
    DuplicateLayer,
    DuplicatePart,
    FlattenPart,
    MergeDown,
    SetLayer,
    SetPainting,
    SetPart,
)
from japanner.painting.picture.looks import EVEN_STEPS, LOOKS, SQUINTS
from japanner.painting.picture.picking import PICK_AREAS, PICK_SOURCES
from japanner.painting.working_order import Stage
from japanner.raster.modes import MODES
from japanner.stroke.pen.practice_pen import PRESSURE_FROM
from japanner.stroke.pen.traces import TRACES

if TYPE_CHECKING:
    from japanner.desk.session.session import Session
    from japanner.desk.window.main_window import MainWindow

__all__ = ["all_commands"]

Item = TypeVar("Item")
# A layer to dodge and burn on without touching the paint beneath.
APART = Stage("light", "Soft Light", 1.0, "body", neutral=True, brush="Dodge")

SURROUNDS = (20, 35, 50, 65, 80)
EDGE_PX = 24.0
PLACE_WORDS = {"behind": "Behind", "body": "Inside", "over": "Over"}
PEN_WORDS = {"fixed": "Fixed pressure", "speed": "Pressure from speed", "taper": "Pressure tapers in"}


def all_commands(window: MainWindow) -> list[Command]:
    """The whole table, menu by menu."""
    return [
        *_painting(window),
        *_edit(window),
        *_part(window),
        *_layer(window),
        *_stroke(window),
        *task_commands(window),
        *_look(window),
        *_help(window),
    ]


def _painting(window: MainWindow) -> list[Command]:
    files, session = window.files, window.session
    return [
        Command("Painting", "New…", window.show_start, ("Ctrl+N",), "The start view: new, recent, recover, demo", "a"),
        Command("Painting", "Open…", partial(files.open, None), ("Ctrl+O",), group="a"),
        Command("Painting", "Back to the bench", window.show_bench, group="a"),
        Command("Painting", "Save", files.save, ("Ctrl+S",), group="b"),
        Command("Painting", "Save as…", files.save_as, ("Ctrl+Shift+S",), group="b"),
        Command("Painting", "8-bit PNG…", partial(files.export, 8), group="b", submenu="Export"),
        Command("Painting", "The look, as it is…", files.export_look, group="b", submenu="Export",
                tip="What values, steps or colour show, as a PNG"),
        Command("Painting", "16-bit PNG…", partial(files.export, 16), group="b", submenu="Export"),
        Command("Painting", "As a sketch…", partial(window.clipboard.import_file, "sketch"), group="b",
                submenu="Import a picture"),
        Command("Painting", "As a texture…", partial(window.clipboard.import_file, "texture"), group="b",
                submenu="Import a picture"),
        Command("Painting", "To the reference board…", partial(window.clipboard.import_file, "reference"), group="b",
                submenu="Import a picture"),
        Command("Painting", "Frame the canvas", partial(window.tasks.toggle, "frame"),
                tip="Crop or extend it", group="c"),
        Command("Painting", "Scale the picture", partial(window.tasks.toggle, "scale"), group="c"),
        Command("Painting", "Title…", lambda: _ask_title(window), group="c"),
        Command("Painting", "Ground colour from the hand", lambda: session.apply(SetPainting({"ground": session.hand.colour})),
                tip="Give the ground the colour in hand", group="c"),
        Command("Painting", "Quit", window.close, ("Ctrl+Q",), group="d"),
    ]  # fmt: skip


def _ask_title(window: MainWindow) -> None:
    title, agreed = QInputDialog.getText(window, "Title", "Title", text=window.session.painting.title)
    if agreed and title.strip() != window.session.painting.title:
        window.session.apply(SetPainting({"title": title.strip()}))


def _edit(window: MainWindow) -> list[Command]:
    session = window.session
    return [
        Command("Edit", "Undo", session.undo, ("Ctrl+Z",), ready=lambda: session.document.undo_words is not None),
        Command("Edit", "Redo", session.redo, ("Ctrl+Shift+Z",), ready=lambda: session.document.redo_words is not None),
        Command("Edit", "Before and back", session.comparing.blink, ("B",),
                "Blink between now and the moment to compare with: before the last change, if no other is chosen",
                checked=lambda: session.comparing.before_shown),
        Command("Edit", "Cut", window.clipboard.cut, ("Ctrl+X",), "What the frisket lets through, or the whole layer",
                group="a2"),
        Command("Edit", "Copy", window.clipboard.copy, ("Ctrl+C",), "What the frisket lets through, or the whole layer",
                group="a2"),
        Command("Edit", "Copy all that shows", window.clipboard.copy_visible, ("Ctrl+Shift+C",), group="a2"),
        Command("Edit", "Paste", window.paste, ("Ctrl+V",), "The picture on the clipboard, as a new layer",
                group="a2"),
        Command("Edit", "Clear", window.clipboard.clear, ("Delete",), "Take the paint off inside the frisket",
                group="a2"),
        Command("Edit", "Find a command", window.find_command, ("Ctrl+K",), group="b"),
    ]  # fmt: skip


def _on(current: Callable[[], Item | None], act: Callable[[Item], object]) -> Callable[[], None]:
    """A command on the part or layer worked on; without one it does nothing."""

    def run() -> None:
        item = current()
        if item is not None:
            act(item)

    return run


def _has(current: Callable[[], object], name: str, value: object) -> Callable[[], bool]:
    """Whether the present part, layer or tool has a setting at `value`."""

    def check() -> bool:
        return getattr(current(), name, None) == value

    return check


def _part(window: MainWindow) -> list[Command]:
    session, parts = window.session, window.parts

    def current() -> Part | None:
        return session.part

    def setter(**changes: object) -> Callable[[], None]:
        return _on(current, lambda part: session.apply(SetPart(part.uid, changes)))

    def there() -> bool:
        return session.part is not None

    adding = [Command("Part", m.capitalize(), partial(parts.add_part, m), submenu="Add part") for m in MATERIALS]
    materials = [
        Command("Part", m.capitalize(), setter(material=m), submenu="Material", group="b",
                checked=_has(current, "material", m), ready=there)
        for m in MATERIALS
    ]  # fmt: skip
    toggle = _on(current, lambda part: session.apply(SetPart(part.uid, {"shown": not part.shown})))
    bald = _on(current, lambda part: session.apply(SetPart(part.uid, {"bald": not part.bald})))
    return [
        *adding,
        *materials,
        Command("Part", "Rename part…", _on(current, lambda part: parts.rename(part.uid)), group="b", ready=there),
        Command("Part", "Keeps fur off", bald, tip="Fur of other parts stays off its silhouette: eyes, nose", group="b",
                checked=_has(current, "bald", True), ready=there),
        Command("Part", "Break the edge", _on(current, lambda part: _break_edge(session, part)), group="b", ready=there,
                tip="Strands along the comb lines out of its silhouette and over it, about as long as the fur in hand"),
        Command("Part", "Shown", toggle, group="c", checked=_has(current, "shown", True), ready=there),
        Command("Part", "Towards the back", _on(current, lambda part: parts.dropped(part.uid, -1)),
                ("Ctrl+Up",), group="c", ready=there),
        Command("Part", "Towards the front", _on(current, lambda part: parts.dropped(part.uid, 1)),
                ("Ctrl+Down",), group="c", ready=there),
        Command("Part", "Work on the part behind", partial(_step_part, window, -1), ("Alt+Up",), group="c",
                ready=there),
        Command("Part", "Work on the part in front", partial(_step_part, window, 1), ("Alt+Down",), group="c",
                ready=there),
        Command("Part", "Value scale from the flat", parts.propose_scale, group="b", ready=there,
                tip="Five steps for its value, material and light"),
        *_mixing_grid(window),
        Command("Part", "Duplicate part", _on(current, lambda part: session.apply(DuplicatePart(part.uid))), group="b",
                ready=there),
        Command("Part", "Flatten part", _on(current, lambda part: session.carry_out(FlattenPart(part.uid))),
                tip="One layer behind, in and over the body; the picture stays", group="b", ready=there),
        Command("Part", "Delete part", _on(current, lambda part: session.apply(DeletePart(part.uid))), group="d",
                ready=there),
    ]  # fmt: skip


def _break_edge(session: Session, part: Part) -> None:
    """As long as the hairs of a brush for fur, if that is in hand."""
    length = session.hand.brush.hair_px if session.hand.brush.kind in ("fur", "comb") else EDGE_PX
    session.carry_out(BreakEdge(part.uid, round(min(length, 600.0), 1), secrets.randbits(31)))


def _mixing_grid(window: MainWindow) -> list[Command]:
    keeper = window.grids

    def command(text: str, run: Callable[[], object], tip: str = "") -> Command:
        return Command("Part", text, run, tip=tip, submenu="Mixing grid", group="b",
                       ready=lambda: window.session.part is not None)  # fmt: skip

    return [
        command("Keep it under a name…", keeper.keep, "In the painting; it no longer follows the flat"),
        command("Write it to a file…", keeper.save, "To take into other paintings"),
        command("Take it from a file…", keeper.open, "With the value scale that it was mixed for"),
        command("Take it from another part…", keeper.from_other_part),
        command("Work it out anew", keeper.work_out, "From the flat, the light and the surroundings"),
        command("Surroundings from around the part", partial(keeper.surround, "picture"), "What shows there"),
        command("Surroundings from the hand", partial(keeper.surround, "hand"), "The colour in hand"),
        command("Surroundings as the ground", partial(keeper.surround, "ground")),
    ]


def _compare_with(window: MainWindow) -> list[Command]:
    session = window.session

    def command(what: str | int, text: str) -> Command:
        return Command(
            "Look", text, partial(session.comparing.compare_with, what), submenu="Compare with", group="b",
            checked=lambda: session.comparing.moments.chosen == what,
            ready=lambda: isinstance(what, str) or what < len(session.comparing.moments.kept),
            words=lambda: session.comparing.moments.name_of(what).capitalize(),
        )  # fmt: skip

    kept = [command(index, f"Kept moment {index + 1}") for index in range(MOST_KEPT)]
    return [command(LAST_CHANGE, "The last change"), command(LAST_SAVE, "The last save"), *kept]


def _step_part(window: MainWindow, shift: int) -> None:
    session = window.session
    if session.part is not None:
        index = session.painting.parts.index(session.part) + shift
        if 0 <= index < len(session.painting.parts):
            session.work.work_on_part(session.painting.parts[index].uid)


def _step_layer(window: MainWindow, shift: int) -> None:
    session = window.session
    if session.part is not None and session.layer is not None:
        index = session.part.layers.index(session.layer) + shift
        if 0 <= index < len(session.part.layers):
            session.work.work_on_layer(session.part.layers[index].uid)


def _step_mode(window: MainWindow, shift: int) -> None:
    session, modes = window.session, list(MODES)
    if session.layer is not None:
        mode = modes[(modes.index(session.layer.mode) + shift) % len(modes)]
        session.apply(SetLayer(session.layer.uid, {"mode": mode}))


def _step_strength(window: MainWindow, by: float) -> None:
    session = window.session
    if session.layer is not None:
        strength = min(max(round(session.layer.strength + by, 2), 0.0), 1.0)
        if strength != session.layer.strength:
            session.apply(SetLayer(session.layer.uid, {"strength": strength}))


def _layer(window: MainWindow) -> list[Command]:
    session, build = window.session, window.build

    def current() -> Layer | None:
        return session.layer

    def setter(**changes: object) -> Callable[[], None]:
        return _on(current, lambda layer: session.apply(SetLayer(layer.uid, changes)))

    def there() -> bool:
        return session.layer is not None

    def in_part() -> bool:
        return session.part is not None

    roles = [
        Command("Layer", role.capitalize(), partial(build.add_layer, role), submenu="Add layer", ready=in_part)
        for role in ROLES
    ]
    modes = [
        Command("Layer", mode, setter(mode=mode), submenu="Mode", group="b", ready=there,
                checked=_has(current, "mode", mode))
        for mode in MODES
    ]  # fmt: skip
    places = [
        Command("Layer", PLACE_WORDS[place], setter(place=place), submenu="Place", group="b", ready=there,
                checked=_has(current, "place", place))
        for place in PLACES
    ]  # fmt: skip
    toggle = _on(current, lambda layer: session.apply(SetLayer(layer.uid, {"shown": not layer.shown})))
    apart = Command("Layer", "Dodge and burn apart", lambda: build.add_stage(APART), submenu="Add layer", ready=in_part,
                    tip="A neutral sheet in Soft Light: dodge and burn it, and wipe it back")  # fmt: skip
    return [
        *roles,
        apart,
        *modes,
        *places,
        Command("Layer", "Rename layer…", _on(current, lambda layer: build.rename(layer.uid)), group="b", ready=there),
        Command("Layer", "Duplicate layer", _on(current, lambda layer: session.apply(DuplicateLayer(layer.uid))),
                group="b", ready=there),
        Command("Layer", "Shown", toggle, group="c", checked=_has(current, "shown", True), ready=there),
        Command("Layer", "Earlier in the build", _on(current, lambda layer: build.dropped(layer.uid, -1)),
                ("Ctrl+Left",), group="c", ready=there),
        Command("Layer", "Later in the build", _on(current, lambda layer: build.dropped(layer.uid, 1)),
                ("Ctrl+Right",), group="c", ready=there),
        Command("Layer", "Work on the layer before", partial(_step_layer, window, -1), ("Alt+Left",), group="c",
                ready=there),
        Command("Layer", "Work on the layer after", partial(_step_layer, window, 1), ("Alt+Right",), group="c",
                ready=there),
        Command("Layer", "The mode after", partial(_step_mode, window, 1), ("Ctrl+Shift+Down",), group="b",
                ready=there),
        Command("Layer", "The mode before", partial(_step_mode, window, -1), ("Ctrl+Shift+Up",), group="b",
                ready=there),
        Command("Layer", "Stronger", partial(_step_strength, window, 0.05), ("Ctrl+Shift+Right",), group="b",
                ready=there),
        Command("Layer", "Weaker", partial(_step_strength, window, -0.05), ("Ctrl+Shift+Left",), group="b",
                ready=there),
        Command("Layer", "Merge down", _on(current, lambda layer: session.apply(MergeDown(layer.uid))),
                tip="Into the layer it lies on; the picture stays", group="b", ready=there),
        Command("Layer", "Holds its edges",
                _on(current, lambda layer: session.apply(SetLayer(layer.uid, {"hold_edges": not layer.hold_edges}))),
                ("H",), "Paint goes only where the layer has paint already", group="c",
                checked=_has(current, "hold_edges", True), ready=there),
        *_fur_maps(window),
        Command("Layer", "Delete layer", _on(current, lambda layer: session.apply(DeleteLayer(layer.uid))), group="d",
                ready=there),
    ]  # fmt: skip


def _fur_maps(window: MainWindow) -> list[Command]:
    """Fur of the part grows as the paint of a layer says."""
    session = window.session

    def command(text: str, name: str, tip: str) -> Command:
        def chosen() -> bool:
            return (
                session.part is not None
                and session.layer is not None
                and getattr(session.part, name) == session.layer.uid
            )

        def run() -> None:
            if session.part is not None and session.layer is not None:
                session.apply(SetPart(session.part.uid, {name: 0 if chosen() else session.layer.uid}))

        return Command("Layer", text, run, tip=tip, submenu="Fur follows it", group="b", checked=chosen,
                       ready=lambda: session.layer is not None)  # fmt: skip

    return [
        command("In length", "length_map", "Where it is bare fur is shortest, where it is full fur has all its length"),
        command("In density", "density_map", "Where it is bare no fur grows, where it is full all of it"),
    ]


def _stroke(window: MainWindow) -> list[Command]:
    session = window.session
    steps = [
        Command("Stroke", name.capitalize(), partial(session.take_step, index), (str(index + 1),), submenu="Value step",
                tip=f"Take the part's {name} value in the hue in hand", group="b")
        for index, name in enumerate(STEP_NAMES)
    ]  # fmt: skip
    pens = [
        Command("Stroke", PEN_WORDS[source], partial(session.hand.set_practice_pen, source=source), submenu="Practice pen",
                group="d", checked=_has(lambda: session.hand.practice_pen, "source", source),
                tip="Where pressure comes from when there is no pen")
        for source in PRESSURE_FROM
    ]  # fmt: skip
    return [
        *(Command("Stroke", f"Mean of {side} × {side} px" if side > 1 else "One pixel",
                  partial(session.looking.set_view, pick_side=side), submenu="Pick up", group="d",
                  checked=_has(lambda: session, "pick_side", side)) for side in PICK_AREAS),
        *(Command("Stroke", "From all that shows" if source == "visible" else "From this layer",
                  partial(session.looking.set_view, pick_source=source), submenu="Pick up", group="d",
                  checked=_has(lambda: session, "pick_source", source)) for source in PICK_SOURCES),
        Command("Stroke", "Swap in hand and resting", session.hand.swap_brushes, ("Q",), group="a"),
        Command("Stroke", "Wipe with the brush in hand", session.hand.toggle_wiping, ("W",), group="a",
                checked=lambda: session.hand.wiping),
        Command("Stroke", "Brush sheet", window.show_brush_sheet, ("L",), "Every setting of the brush in hand", "a"),
        Command("Stroke", "Smaller tip", lambda: session.hand.resize_brush(-1), ("G",), group="a"),
        Command("Stroke", "Larger tip", lambda: session.hand.resize_brush(1), ("T",), group="a"),
        *steps,
        Command("Stroke", "Lift by one value step", lambda: session.lift(1), ("E",), group="b"),
        Command("Stroke", "Lower by one value step", lambda: session.lift(-1), ("D",), group="b"),
        *pens,
        *(Command("Stroke", name.capitalize(), partial(window.traces.play, name), submenu="Play a trace", group="d",
                  tip="A recorded stroke of a pen, with the brush in hand, in the middle of the easel")
          for name in TRACES),
    ]  # fmt: skip


def _look(window: MainWindow) -> list[Command]:
    session, easel, guides = window.session, window.easel, window.easel.light_guides
    combs = easel.comb_lines
    looks = [
        Command("Look", name.capitalize(), partial(session.looking.set_look, name), checked=_has(lambda: session, "look", name),
                group="a")
        for name in LOOKS
    ]  # fmt: skip
    surrounds = [
        Command("Look", f"L* {value}", partial(easel.set_surround, float(value)), submenu="Surround", group="d",
                checked=_has(lambda: easel, "surround", value))
        for value in SURROUNDS
    ]  # fmt: skip
    themes = [
        Command("Look", name, partial(window.use_theme, name), submenu="Theme", group="d",
                checked=_has(lambda: theme, "name", name))
        for name in THEMES
    ]  # fmt: skip
    return [
        *looks,
        *(Command("Look", f"{count} even", partial(session.looking.set_view, even_steps=count), submenu="Steps of the look",
                  group="a", checked=_has(lambda: session, "even_steps", count)) for count in EVEN_STEPS),
        Command("Look", "The part's own scale", partial(session.looking.set_view, even_steps=0), submenu="Steps of the look",
                group="a", checked=_has(lambda: session, "even_steps", 0)),
        *(Command("Look", f"{share} %", partial(session.looking.set_view, squint=share), submenu="Squint (S held)", group="a",
                  checked=_has(lambda: session, "squint", share)) for share in SQUINTS),
        Command("Look", "This part only", lambda: session.looking.show_part_alone(not session.looking.part_alone), ("I",),
                "The part worked on, on the ground", group="b", checked=lambda: session.looking.part_alone),
        Command("Look", "Outlines of parts", lambda: session.looking.set_view(outlines_shown=not session.looking.outlines_shown),
                ("Shift+I",), group="b", checked=lambda: session.looking.outlines_shown),
        Command("Look", "Keep this moment", session.comparing.keep_moment, ("Shift+B",), "To compare with it later", group="b"),
        *_compare_with(window),
        Command("Look", "Next look", session.looking.next_look, ("V",), group="a"),
        Command("Look", "Sketch on top", lambda: session.looking.show_sketch_on_top(not session.looking.sketch_on_top), ("Y",),
                "Sketches once more over everything, light on dark and dark on light", group="b",
                checked=lambda: session.looking.sketch_on_top),
        Command("Look", "Guides", lambda: session.looking.set_view(guides_shown=not session.looking.guides_shown), ("Shift+U",),
                "Lines to sketch over", group="b", checked=lambda: session.looking.guides_shown),
        Command("Look", "The mask alone", lambda: session.looking.set_look("mask" if session.looking.look != "mask" else "colour"),
                ("Shift+Y",), "The mask of the layer worked on, as the grey sheet it is", group="b",
                checked=_has(lambda: session, "look", "mask")),
        Command("Look", "Comb lines", lambda: combs.show(not combs.shown), ("R",),
                "Which way the hair of the part lies, from thick roots to thin tips", group="b",
                checked=lambda: combs.shown),
        Command("Look", "Lines of the light", lambda: guides.show_lines(not guides.lines_shown), ("Shift+T",),
                "Borders of values, terminator, highlight and cast shadow of the part worked on", group="b",
                checked=lambda: guides.lines_shown),
        Command("Look", "Against the light", lambda: session.looking.set_look(AGAINST_LIGHT if session.looking.look != AGAINST_LIGHT
                else "colour"), ("Shift+V",), "Darker and lighter than the light has it; middle grey is right",
                group="b", checked=_has(lambda: session, "look", AGAINST_LIGHT)),
        Command("Look", "Mirror the easel", easel.mirror, ("X",), group="b", checked=lambda: easel.view.mirrored),
        Command("Look", "Upright", easel.upright, ("Shift+X",), "Turn the easel back", group="b"),
        Command("Look", "Whole canvas", easel.fit, ("Home",), group="c"),
        Command("Look", "One to one", lambda: easel.zoom_to(1.0), ("End",), group="c"),
        Command("Look", "Closer", lambda: easel.zoom_by(1.25), ("+", "="), group="c"),
        Command("Look", "Further", lambda: easel.zoom_by(0.8), ("-",), group="c"),
        *surrounds,
        *themes,
        Command("Look", "Second look in its own window", window.show_second_window, group="e"),
        Command("Look", "Right column", window.toggle_right, ("F10",), group="e", checked=window.right.isVisible),
        Command("Look", "Full screen", window.toggle_full_screen, ("F11",), group="e", checked=window.isFullScreen),
    ]  # fmt: skip


HELD = (
    ("Space, drag", "move the easel; with Shift turn it"),
    ("wheel", "zoom at the pointer"),
    ("A, right button, barrel button", "pick up a colour"),
    ("S", "squint"),
    ("C", "before, as long as it is held"),
    ("F, drag", "stroke ring: size and strength; digits set strength"),
)


def _help(window: MainWindow) -> list[Command]:
    return [
        Command("Help", "Keys", lambda: _show_keys(window), ("F1",)),
        Command("Help", "About Japanner", lambda: _show_about(window)),
    ]


def _show_keys(window: MainWindow) -> None:
    rows = [
        (action.shortcut().toString(), str(action.data()))
        for action in window.actions_by_text.values()
        if not action.shortcut().isEmpty()
    ]
    KeysView(window, [*HELD, *rows]).show()


def _show_about(window: MainWindow) -> None:
    text = (
        f"Japanner {__version__}\n\nA bench for rendering characters and creatures, value first.\nApache License 2.0."
    )
    QMessageBox.about(window, "About Japanner", text)
