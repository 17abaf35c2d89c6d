"""The Part menu: adding and ordering parts, their form, light, hair and makers."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from japanner.desk.commands.command import Command
from japanner.desk.commands.desk import Desk, has, on
from japanner.painting.makers import MAKERS, outdated
from japanner.painting.model import MATERIALS, Part
from japanner.painting.operations import DeletePart, DuplicatePart, FlattenPart, MakeAnew, SetPart

__all__ = ["part_commands"]


def part_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    session, building, there = desk.session, desk.building, desk.a_part

    def current() -> Part | None:
        return session.part

    def setter(**changes: object) -> Callable[[], None]:
        return desk.on_part(lambda uid: SetPart(uid, changes))

    def toggled(name: str) -> Callable[[], None]:
        return on(current, lambda part: session.apply(SetPart(part.uid, {name: not getattr(part, name)})))

    return [
        *(Command("Part", m.capitalize(), partial(building.add_part, m), submenu="Add part") for m in MATERIALS),
        *(Command("Part", m.capitalize(), setter(material=m), submenu="Material", group="b",
                  checked=has(current, "material", m), need=there) for m in MATERIALS),
        Command("Part", "Rename part…", on(current, lambda part: building.rename_part(part.uid)), group="b",
                need=there),
        Command("Part", "Keeps fur off", toggled("bald"), tip="Fur of other parts stays off its silhouette: eyes, nose",
                group="b", checked=has(current, "bald", True), need=there),
        Command("Part", "Break the edge", building.break_edge, group="b", need=there,
                tip="Strands along the comb lines out of its silhouette and over it, about as long as the fur in hand"),
        Command("Part", "Shown", toggled("shown"), group="c", checked=has(current, "shown", True), need=there),
        Command("Part", "Towards the back", on(current, lambda part: building.move_part(part.uid, -1)),
                ("Ctrl+Up",), group="c", need=there),
        Command("Part", "Towards the front", on(current, lambda part: building.move_part(part.uid, 1)),
                ("Ctrl+Down",), group="c", need=there),
        Command("Part", "Work on the part behind", partial(_step_part, desk, -1), ("Alt+Up",), group="c", need=there),
        Command("Part", "Work on the part in front", partial(_step_part, desk, 1), ("Alt+Down",), group="c",
                need=there),
        Command("Part", "Value scale from the flat", building.propose_scale, group="b", need=there,
                tip="Five steps for its value, material and light"),
        *_mixing_grid(desk),
        Command("Part", "Templates", partial(desk.tasks.toggle, "templates"), (),
                "Parts kept for other paintings, and dropped into this one", "b"),
        Command("Part", "Duplicate part", desk.on_part(DuplicatePart), group="b", need=there),
        Command("Part", "Flatten part", on(current, lambda part: session.carry_out(FlattenPart(part.uid))),
                tip="One layer behind, in and over the body; the picture stays", group="b", need=there),
        *_forms(desk),
        Command("Part", "Make anew what is out of date", partial(_make_anew, desk, here=True), ("F5",), group="d",
                tip="Layers of makers in this part whose surroundings, form or light have changed since", need=there),
        Command("Part", "Make anew what is out of date in all parts", partial(_make_anew, desk, here=False),
                ("Shift+F5",), group="d", tip="From back to front, each from what the former have come to", need=there),
        Command("Part", "Delete part", desk.on_part(DeletePart), group="d", need=there),
        *(Command("Part", name.capitalize(), partial(desk.tasks.make, name),
                  ("Shift+L",) if name == "lay-in" else (), maker.words, "d", "Make")
          for name, maker in MAKERS.items() if not maker.over_all),
    ]  # fmt: skip


def _step_part(desk: Desk, shift: int) -> None:
    session = desk.session
    if session.part is not None:
        index = session.painting.parts.index(session.part) + shift
        if 0 <= index < len(session.painting.parts):
            session.work.work_on_part(session.painting.parts[index].uid)


def _make_anew(desk: Desk, *, here: bool) -> None:
    """Of the part worked on, or of all; says so where nothing is out of date."""
    session = desk.session
    part = session.part
    if part is None:
        return
    if not any(outdated(session.painting, one) for one in ((part,) if here else session.painting.parts)):
        session.told.emit(f"Nothing in {part.name} is out of date." if here else "Nothing is out of date.")
        return
    session.carry_out(MakeAnew(part.uid if here else 0))


def _mixing_grid(desk: Desk) -> list[Command]:
    keeper = desk.grids

    def command(text: str, run: Callable[[], object], tip: str = "") -> Command:
        return Command("Part", text, run, tip=tip, submenu="Mixing grid", group="b", need=desk.a_part)

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


def _forms(desk: Desk) -> list[Command]:
    toggle = desk.tasks.toggle
    return [
        Command("Part", "Light from a ball", partial(toggle, "light from a ball"), (),
                "Mark where a ball shines and where its shadow begins, and take the light that does that", "c"),
        Command("Part", "Comb", partial(toggle, "comb"), ("Shift+C",),
                "Which way the part's hair lies: strokes from root to tip", "c"),
        Command("Part", "Locks", partial(toggle, "locks"), (),
                "Take single locks of hair that was filled with them: bend, move, cut, take away", "c"),
        Command("Part", "Head guide", partial(toggle, "head"), ("U",),
                "A head to sketch over, human or animal, that turns in space", "c"),
        Command("Part", "Maquette", partial(toggle, "maquette"), ("Shift+H",),
                "Forms over the canvas, lit as the painting is", "c"),
        Command("Part", "Landmarks of a head", partial(toggle, "landmarks"), (),
                "Set them on the picture, and find how a figure's head stands and whose it is", "c"),
    ]  # fmt: skip
