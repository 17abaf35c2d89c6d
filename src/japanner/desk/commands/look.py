"""The Look menu: how the picture and the bench are seen."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from japanner.desk.commands.command import PANEL_KEYS, Command, Need
from japanner.desk.commands.desk import Desk, has
from japanner.desk.easel.light_guides import AGAINST_LIGHT
from japanner.desk.screen import DESKTOP, OFF, screens
from japanner.desk.settings import recall
from japanner.desk.theme import THEMES, theme
from japanner.desk.widgets.questions import ask_where_from
from japanner.desk.widgets.working import working
from japanner.errors import FileFormatError
from japanner.painting.live.moments import LAST_CHANGE, LAST_SAVE, MOST_KEPT
from japanner.painting.picture.looks import EVEN_STEPS, LOOKS, SQUINTS

__all__ = ["look_commands"]

PANEL_WORDS = {
    "parts": "Parts", "roll": "Brush roll", "build": "Build", "rail": "Value rail", "right": "Right column",
}  # fmt: skip
SURROUNDS = (20, 35, 50, 65, 80)


def look_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    return [*_looks(desk), *_over_the_picture(desk), *_view(desk), *_bench(desk)]


def _looks(desk: Desk) -> list[Command]:
    looking = desk.session.looking

    def choice(text: str, submenu: str, name: str, value: object) -> Command:
        return Command("Look", text, partial(looking.set_view, **{name: value}), submenu=submenu, group="a",
                       checked=has(lambda: looking, name, value))  # fmt: skip

    def toggle(text: str, look: str, keys: str, tip: str) -> Command:
        def run() -> None:
            looking.set_look(look if looking.look != look else "colour")

        return Command("Look", text, run, (keys,), tip, group="b", checked=has(lambda: looking, "look", look))

    return [
        *(Command("Look", name.capitalize(), partial(looking.set_look, name), group="a",
                  checked=has(lambda: looking, "look", name)) for name in LOOKS),
        *(choice(f"{count} even", "Steps of the look", "even_steps", count) for count in EVEN_STEPS),
        choice("The part's own scale", "Steps of the look", "even_steps", 0),
        *(choice(f"{share} %", "Squint (S held)", "squint", share) for share in SQUINTS),
        Command("Look", "Next look", looking.next_look, ("V",), group="a"),
        toggle("The mask alone", "mask", "Shift+Y", "The mask of the layer worked on, as the grey sheet it is"),
        toggle("Against the light", AGAINST_LIGHT, "Shift+V",
               "Darker and lighter than the light has it; middle grey is right"),
    ]  # fmt: skip


def _over_the_picture(desk: Desk) -> list[Command]:
    looking, guides, combs = desk.session.looking, desk.easel.light_guides, desk.easel.comb_lines

    def toggle(text: str, name: str, keys: str, tip: str = "") -> Command:
        def run() -> None:
            looking.set_view(**{name: not getattr(looking, name)})

        return Command("Look", text, run, (keys,), tip, group="b", checked=has(lambda: looking, name, True))

    return [
        Command("Look", "This part only", lambda: looking.show_part_alone(not looking.part_alone), ("I",),
                "The part worked on, on the ground", group="b", checked=lambda: looking.part_alone),
        toggle("Outlines of parts", "outlines_shown", "Shift+I"),
        Command("Look", "Keep this moment", desk.session.comparing.keep_moment, ("Shift+B",),
                "To compare with it later", group="b"),
        *_compare_with(desk),
        Command("Look", "Sketch on top", lambda: looking.show_sketch_on_top(not looking.sketch_on_top), ("Y",),
                "Sketches once more over everything, light on dark and dark on light", group="b",
                checked=lambda: looking.sketch_on_top),
        toggle("Guides", "guides_shown", "Shift+U", "Lines to sketch over"),
        Command("Look", "Comb lines", lambda: combs.show(not combs.shown), ("R",),
                "Which way the hair of the part lies, from thick roots to thin tips", group="b",
                checked=lambda: combs.shown),
        Command("Look", "Lines of the light", lambda: guides.show_lines(not guides.lines_shown), ("Shift+T",),
                "Borders of values, terminator, highlight and cast shadow of the part worked on", group="b",
                checked=lambda: guides.lines_shown),
    ]  # fmt: skip


def _compare_with(desk: Desk) -> list[Command]:
    comparing = desk.session.comparing

    def command(what: str | int, text: str) -> Command:
        there: Callable[[], bool] = lambda: isinstance(what, str) or what < len(comparing.moments.kept)  # noqa: E731
        return Command(
            "Look", text, partial(comparing.compare_with, what), submenu="Compare with", group="b",
            checked=lambda: comparing.moments.chosen == what, need=Need(there, "No such moment has been kept yet."),
            words=lambda: comparing.moments.name_of(what).capitalize(),
        )  # fmt: skip

    kept = [command(index, f"Kept moment {index + 1}") for index in range(MOST_KEPT)]
    return [command(LAST_CHANGE, "The last change"), command(LAST_SAVE, "The last save"), *kept]


def _view(desk: Desk) -> list[Command]:
    easel, looking = desk.easel, desk.session.looking
    return [
        Command("Look", "Mirror the easel", easel.mirror, ("X",), group="b", checked=lambda: easel.view.mirrored),
        Command("Look", "Upright", easel.upright, ("Shift+X",), "Turn the easel back", group="b"),
        Command("Look", "Whole canvas", easel.fit, ("Home",), group="c"),
        Command("Look", "One to one", partial(easel.zoom_to, 1.0), ("End",), group="c"),
        Command("Look", "Closer", partial(easel.zoom_by, 1.25), ("+", "="), group="c"),
        Command("Look", "Further", partial(easel.zoom_by, 0.8), ("-",), group="c"),
        *(Command("Look", f"L* {value}", partial(looking.set_view, surround=float(value)), submenu="Surround",
                  group="d", checked=has(lambda: looking, "surround", value)) for value in SURROUNDS),
    ]  # fmt: skip


def _bench(desk: Desk) -> list[Command]:
    pages = desk.pages
    return [
        *(Command("Look", name, partial(pages.use_theme, name), submenu="Theme", group="d",
                  checked=has(lambda: theme, "name", name)) for name in THEMES),
        *(Command("Look", words, partial(pages.show_reference, where), keys, group="e", submenu="Reference")
          for where, words, keys in (("beside", "Beside the easel", ("F7",)), ("window", "In its own window", ()),
                                     ("over", "Over the canvas", ("Shift+F7",)))),
        Command("Look", "Place what lies over the canvas", partial(desk.tasks.toggle, "over"), group="e",
                submenu="Reference", need=Need(lambda: desk.easel.over.laid is not None,
                                               "Nothing lies over the canvas.")),
        *_screen(desk),
        *_proof(desk),
        Command("Look", "Second look in its own window", pages.show_second_window, group="e"),
        Command("Look", "Easel alone", pages.toggle_alone, ("F",), "All panels away; a touched edge, or a panel's key "
                "held, brings it in over the picture", "e", checked=lambda: pages.bench.alone),
        *(_panel(desk, name, text) for name, text in PANEL_WORDS.items()),
        Command("Look", "Full screen", pages.toggle_full_screen, ("F11",), group="e",
                checked=lambda: pages.full_screen),
    ]  # fmt: skip


def _panel(desk: Desk, name: str, text: str) -> Command:
    pages = desk.pages

    def words() -> str:
        return f"{text} — {pages.bench.form_of(name)}"

    return Command("Look", text, lambda: pages.bench.next_form(name), (PANEL_KEYS[name],), "Hidden, slim, full in turn",
                   "e", "Panels", words=words)  # fmt: skip


def _screen(desk: Desk) -> list[Command]:
    """The profile of the screen that the easel is on."""
    easel = desk.easel

    def chosen(which: str) -> Callable[[], bool]:
        return lambda: screens.choice(easel.screen()) == which

    def ask() -> None:
        path = ask_where_from(easel.window(), "The screen's profile", "Colour profiles (*.icc *.icm)")
        if path is not None:
            screens.choose(easel.screen(), str(path))

    def command(text: str, run: Callable[[], object], tip: str, checked: Callable[[], bool]) -> Command:
        return Command("Look", text, run, tip=tip, group="d", submenu="Profile of the screen", checked=checked)

    return [
        command("As the desktop has it", lambda: screens.choose(easel.screen(), DESKTOP),
                "Colours through the profile that the desktop keeps for this screen", chosen(DESKTOP)),
        command("From a file…", ask, "A profile that was measured for this screen",
                lambda: screens.choice(easel.screen()) not in (DESKTOP, OFF)),
        command("Off", lambda: screens.choose(easel.screen(), OFF), "As on an sRGB screen", chosen(OFF)),
    ]  # fmt: skip


def _proof(desk: Desk) -> list[Command]:
    """The picture as a print of it would look, while it is painted."""
    looking = desk.session.looking

    def toggle(*, warned: bool) -> None:
        from japanner.files.colour.profiles import MATTE_PAPER, proof_of  # noqa: PLC0415 - it takes a moment

        if looking.proof is not None and looking.warned == warned:
            looking.set_view(proof=None, warned=False)
            return
        name = str(recall("print", {}).get("profile", MATTE_PAPER))
        try:
            with working():
                looking.set_view(proof=proof_of(name), warned=warned)
            desk.session.told.emit(f"Seen as printed through {name}.")
        except FileFormatError as error:
            desk.session.told.emit(str(error))

    return [
        Command("Look", "Proof of a print", partial(toggle, warned=False), group="d",
                tip="Through the profile that was chosen last in Print",
                checked=lambda: looking.proof is not None and not looking.warned),
        Command("Look", "What a print loses", partial(toggle, warned=True), group="d",
                tip="Colours out of reach in violet, darks that close in blue",
                checked=lambda: looking.proof is not None and looking.warned),
    ]  # fmt: skip
