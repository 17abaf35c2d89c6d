"""The eight stages of Tidebell, one function each: what a painter does first, and what waits."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import Final

import numpy as np

from japanner.demo.sheets import Progress, Staging
from japanner.demo.tidebell import brindle, ground, hanging
from japanner.demo.tidebell.brushwork import Lch, Painter, tapered
from japanner.demo.tidebell.sitter import bell, glass_float, otter
from japanner.painting.operations import Gradient, SetLayer, SetLight, SetPart
from japanner.scripting import OnForm, Script, lch, shipped_brush

__all__ = ["SIZE", "STAGES", "paint"]

SIZE: Final = (1600, 1200)
"""Of the canvas that all figures are given for; the full picture is 1.5 times as large."""
RECORDS: Final = 3460
"""How many operations there will be, so that progress can be told."""
PARTS: Final = (
    ("Ground", "plain"), ("Net float", "glass"), ("Tide bell", "metal"), ("Brindle", "fur"), ("Nose", "skin"),
    ("Near eye", "eye"), ("Far eye", "eye"), ("Rims and whiskers", "hair"),
)  # fmt: skip
FLATS: Final[dict[str, Lch]] = {
    "Net float": (40.0, 24.0, 162.0), "Tide bell": (46.0, 36.0, 82.0), "Brindle": (37.0, 15.0, 68.0),
    "Nose": (19.0, 4.0, 45.0), "Near eye": (14.0, 12.0, 55.0), "Far eye": (14.0, 12.0, 55.0),
}  # fmt: skip


@dataclass(eq=False)
class Sitting:
    """What the stages share: the painter, the parts by name, and the three forms."""

    painter: Painter
    parts: dict[str, int] = field(default_factory=dict)
    forms: dict[str, OnForm] = field(default_factory=dict)
    layers: dict[str, int] = field(default_factory=dict)

    @property
    def script(self) -> Script:
        return self.painter.script

    def stand(self, name: str) -> None:
        """Put one of the forms before the canvas."""
        self.script.stand(self.forms[name].maquette)
        self.painter.form = self.forms[name]


def paint(
    progress: Progress = lambda done, words: None, until: str = "step back", scale: float = 1.0,
    watch: int = 0,
) -> Script:  # fmt: skip
    """Paint Tidebell up to and with the stage `until`; `scale` of its canvas of 1600 x 1200 px; `watch`: keep a
    moment of its growth after every so many operations.
    """
    script = Script.new(*SIZE, scale=scale, ppi=200.0 * scale, title="Tidebell", ground=lch(17, 5, 100))
    staging = Staging(script, progress, RECORDS, watch)
    sitting = Sitting(Painter(script, staging.told))
    return staging.run(((name, partial(step, sitting)) for name, step in _STEPS.items()), until)


# --- 1: sketch --------------------------------------------------------------------------------------------


def sketch(sitting: Sitting) -> None:
    """Light, forms and their outlines: where everything is, before anything is painted."""
    script, painter = sitting.script, sitting.painter
    script.do(SetLight(up_deg=43.0, right_deg=-56.0, kelvin=4300.0, key=1.0, size_deg=16.0, sky=0.20,
                       sky_kelvin=8500.0, bounce=0.22, bounce_colour=(0.55, 0.48, 0.36), rim=0.0))  # fmt: skip
    for name, material in PARTS:
        sitting.parts[name] = script.part(name, material)
    p = sitting.parts
    for name, maquette in (("float", glass_float(p["Net float"])), ("bell", bell(p["Tide bell"])),
                           ("otter", otter(p["Brindle"], p["Nose"], p["Near eye"], p["Far eye"]))):  # fmt: skip
        sitting.forms[name] = script.stand(maquette)
    drawing = script.part("Drawing", "drawing")
    layer = script.layer(drawing, "sketch")
    sitting.parts["Drawing"] = drawing
    chalk = tapered("Soft lead", 3.0, 0.8, edge=0.3)
    line: Lch = (58.0, 14.0, 60.0)
    painter.line(
        layer, chalk, line, [(20, ground.HORIZON), (560, ground.HORIZON), (1580, ground.HORIZON)], (0.5, 0.9, 0.5)
    )
    for form, names in (
        ("otter", ("Brindle", "Nose", "Near eye", "Far eye")),
        ("bell", ("Tide bell",)),
        ("float", ("Net float",)),
    ):
        painter.form = sitting.forms[form]
        for name in names:
            ring = painter.form.outline(part=p[name], step=4)
            inside = [one for one in ring[::4] if 4 < one[0] < SIZE[0] - 4 and 4 < one[1] < SIZE[1] - 4]
            for piece in np.array_split(np.array(inside), max(len(inside) // 40, 1)):
                painter.line(layer, chalk, line, piece, (0.6, 1.0, 0.7), 0.6)
    for guide in (brindle.LIP_LINE, ((0.0, 0.19, 0.05), (0.0, 0.10, 0.36), (0.0, 0.06, 0.50))):
        painter.form = sitting.forms["otter"]
        painter.line(layer, chalk, line, painter.form.curve(guide), (0.4, 0.8, 0.4))


# --- 2: flats ---------------------------------------------------------------------------------------------


def flats(sitting: Sitting) -> None:
    """One local colour for each thing, and the whole ground laid in, dark."""
    script, painter, p = sitting.script, sitting.painter, sitting.parts
    script.do(SetPart(p["Drawing"], {"shown": False}))
    air = script.layer(p["Ground"], "flat", name="Air")
    ground.air(painter, air)
    land = script.layer(p["Ground"], "flat", name="Flats")
    ground.mud(painter, land)
    sitting.layers |= {"air": air, "land": land}
    for form, names in (
        ("float", ("Net float",)),
        ("bell", ("Tide bell",)),
        ("otter", ("Brindle", "Nose", "Near eye", "Far eye")),
    ):
        sitting.stand(form)
        for name in names:
            script.fill(p[name], "flat", lch(*FLATS[name]))
    for name in ("Nose", "Near eye", "Far eye"):
        script.do(SetPart(p[name], {"bald": True}))
    script.do(SetPart(p["Brindle"], {"scale": [4.0, 13.0, 35.0, 62.0, 92.0]}))
    script.do(SetPart(p["Nose"], {"scale": [2.0, 7.0, 17.0, 27.0, 60.0]}))


# --- 3 and 4: values --------------------------------------------------------------------------------------


def values(sitting: Sitting) -> None:
    """The large lights and darks: shore and water, the animal's pale and dark fur."""
    painter, layers = sitting.painter, sitting.layers
    ground.shore(painter, layers["land"])
    ground.water(painter, layers["land"])
    layers["markings"] = brindle.markings(painter, sitting.parts["Brindle"])


def deeper(sitting: Sitting) -> None:
    """Accents: posts, and the darks between the forms, that everything later is measured by."""
    painter, script, p = sitting.painter, sitting.script, sitting.parts
    ground.posts(painter, sitting.layers["land"])
    under = script.layer(p["Brindle"], "shadow", name="Under the jaw", mode="Multiply", strength=0.7, neutral=True)
    for start, end, size in (
        ((0.05, -0.28, 0.38), (0.3, -0.33, 0.05), 110), ((1150, 720), (1330, 800), 150),
        ((0.40, 0.06, -0.24), (0.5, 0.1, -0.2), 40),
    ):  # fmt: skip
        painter.veil(under, (34.0, 10.0, 60.0), start, end, size, 0.5)


# --- 5: blending ------------------------------------------------------------------------------------------


def blending(sitting: Sitting) -> None:
    """Strokes of the air drawn into each other; markings smudged along the coat; nothing is blended to plastic."""
    painter = sitting.painter
    ground.calmed(painter, sitting.layers["air"])
    smudge = shipped_brush("Smudge").with_changes(size_px=46.0, strength=0.35)
    rng = painter.rng
    for lines in (brindle.DARK_LINES, brindle.PALE_LINES):
        for start, end, size, _ in lines:
            at = np.array(start) + (np.array(end) - start) * float(rng.random())
            x, y = painter.seen(at)
            reach = 0.4 * size
            painter.stroke(sitting.layers["markings"], smudge, (0.0, 0.0, 0.0),
                           [(x - reach, y - reach / 3, 0.6), (x, y, 0.9), (x + reach, y + reach / 2, 0.4)])  # fmt: skip


# --- 6: material ------------------------------------------------------------------------------------------


def material(sitting: Sitting) -> None:
    """What everything is made of: glass, brass, coat, wet leather, eyes."""
    painter, p = sitting.painter, sitting.parts
    sitting.stand("float")
    hanging.float_glass(painter, p["Net float"])
    sitting.stand("bell")
    hanging.bell_metal(painter, p["Tide bell"])
    sitting.stand("otter")
    brindle.comb_lines(painter, p["Brindle"])
    brindle.coat(painter, p["Brindle"])
    brindle.nose(painter, p["Nose"])
    brindle.eyes(painter, p["Near eye"], p["Far eye"])


# --- 7: details -------------------------------------------------------------------------------------------


def details(sitting: Sitting) -> None:
    """By hand, over what the makers made: lids, mouth, whiskers, lifted hairs, bands and glints, cords."""
    painter, p = sitting.painter, sitting.parts
    hanging.float_values(painter, p["Net float"])
    hanging.net(painter, p["Net float"])
    hanging.bell_values(painter, p["Tide bell"])
    hanging.cords(painter, p["Tide bell"], p["Net float"])
    fur, rims = p["Brindle"], p["Rims and whiskers"]
    brindle.nostrils(painter, p["Nose"])
    brindle.sheen(painter, p["Nose"])
    brindle.lids(painter, fur, rims)
    brindle.lip(painter, fur)
    sitting.layers["shade"] = brindle.shade(painter, fur)
    brindle.lights(painter, fur)
    brindle.rim(painter, fur)
    brindle.whiskers(painter, fur, rims)


# --- 8: step back -----------------------------------------------------------------------------------------


def step_back(sitting: Sitting) -> None:
    """What the whole needs: edges lost below, corners down, one warm light over all, a tooth to the surface."""
    script, painter, p = sitting.script, sitting.painter, sitting.parts
    for one in script.painting.part(p["Brindle"]).layers:
        if one.name == "Edge":
            script.do(SetLayer(one.uid, {"hold_edges": True}))
            dark = lch(10, 6, 70)
            script.do(Gradient(one.uid, "linear", (0.0, 520.0, 120.0, 1160.0), (*dark, 0.0), (*dark, 0.34)))
    grade = script.part("Grade")
    corners = script.layer(grade, "shadow", place="over", name="Corners", mode="Multiply", strength=0.6, neutral=True)
    for x, y, size in ((0, 1200, 520), (1600, 1200, 700), (1600, 0, 560), (0, 0, 420), (800, 1260, 520)):
        painter.veil(corners, (40.0, 4.0, 110.0), (x, y), (x, y), size, 0.6)
    warm = script.layer(grade, "light", place="over", name="Warm light", mode="Soft Light", strength=0.5)
    for place, size, strength in (((0.0, 0.0, 0.62), 420, 0.35), ((0.1, 0.16, 0.2), 380, 0.3), ((560, 815), 300, 0.35)):
        painter.veil(warm, (72.0, 24.0, 72.0), place, place, size, strength)


_STEPS: Final[dict[str, Callable[[Sitting], None]]] = {
    "sketch": sketch, "flats": flats, "values": values, "deeper": deeper, "blending": blending, "material": material,
    "details": details, "step back": step_back,
}  # fmt: skip
STAGES: Final = tuple(_STEPS)
