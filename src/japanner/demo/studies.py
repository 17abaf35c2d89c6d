"""The studies sheet: a ball, an egg and a tube, painted from flat to highlight."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from typing import Final

import cv2
import numpy as np

from japanner.color import lab, srgb
from japanner.color.value import srgb_from_value
from japanner.demo import hand, light_study
from japanner.demo.brushwork import Painter, Pass, busy
from japanner.demo.hand import Flow, Grid, Mask
from japanner.demo.light_study import Form, LightStudy
from japanner.demo.sheets import Progress, Staging
from japanner.scripting import Script, shipped_brush
from japanner.stroke.brush import Brush

__all__ = ["STAGES", "paint"]

SIZE: Final = (4000, 2000)
SCALE: Final = 5
UNIT_PX: Final = 440.0
MIDDLE: Final = (2000.0, 1330.0)
STAGES: Final = ("ground", "flat", "shadow", "accent", "bounce", "light", "blending", "highlight")
NAMES: Final = ("Ball", "Egg", "Tube")
# The axis that strokes run round: x right, y up, z out of the picture.
AXES: Final = ((0.45, 0.85, 0.3), (0.16, 0.97, 0.25), (0.0, 0.96, 0.29))
# A middle grey-brown and a darker table.
BROWN: Final = srgb_from_value(46, 0.032, 62)
TABLE: Final = srgb_from_value(31, 0.016, 75)
# How many strokes there will be, so that progress can be told.
STROKES: Final = 13125


@dataclass(eq=False)
class _Sheet:
    """What the stages share."""

    script: Script
    study: LightStudy
    painter: Painter
    layers: dict[tuple[str, str], int]
    forms: list[tuple[int, str]]


def paint(
    progress: Progress = lambda done, words: None, until: str = "highlight", scale: float = 1.0,
    names: tuple[str, ...] = NAMES, watch: int = 0,
) -> Script:  # fmt: skip
    """Paint the sheet up to and with the stage `until`; the same seed gives the same strokes.

    scale: of its canvas. names: the forms that are painted, of `NAMES`.
    watch: keep a moment of its growth after every so many operations.
    """
    forms = [(index, name) for index, name in enumerate(NAMES) if name in names]
    script = Script.new(*SIZE, scale=scale, ppi=300.0, title="Studies sheet", ground=srgb_from_value(16, 0.012, 80))
    progress(0.0, "Setting the light")
    staging = Staging(script, progress, STROKES, watch)
    painter = Painter(script, np.random.default_rng(7), staging.told)
    sheet = _Sheet(script, _study(script), painter, {}, forms)
    steps = (_ground, _flats, _shadows, _accents, _bounce, _lights, _blending, _highlights)
    return staging.run(((name, partial(step, sheet)) for name, step in zip(STAGES, steps, strict=True)), until)


def _study(script: Script) -> LightStudy:
    r, g, b = (float(c) for c in srgb.decode(np.array(BROWN)))
    forms = (
        Form("Ball", light_study.ball(-2.55, 0.0, 1.0), (r, g, b)),
        Form("Egg", light_study.egg(0.0, 0.1, 0.86, 1.18, 9.2), (r, g, b)),
        Form("Tube", light_study.tube(2.55, 0.0, 0.74, 1.95, 0.15), (r, g, b)),
    )
    r, g, b = (float(c) for c in srgb.decode(np.array(TABLE)))
    return light_study.render(forms, (r, g, b), script.painting.light, SIZE, SCALE, UNIT_PX, MIDDLE)


# --- stages -------------------------------------------------------------------------------------------


def _ground(sheet: _Sheet) -> None:
    """The table with a broad flat brush, then the cast shadows over it, then a smudge where they end."""
    part = sheet.script.part("Table", "plain")
    flat = sheet.script.layer(part, "flat")
    shadow = sheet.script.layer(part, "shadow", mode="Normal", strength=1.0)
    colour = _table_colours(sheet.study)
    value = lab.lightness_from_srgb(colour).astype(np.float32)
    everywhere = np.ones(value.shape, bool)
    flow = hand.flow_along(value, everywhere, SCALE, 26, rest=0.06)
    painter = sheet.painter
    wash = Brush("Wash", tip="round", edge=0.5, size_px=420, strength=1.0, spacing=0.05)
    for y in range(0, SIZE[1] + 1, 160):
        mean = colour[min(y // SCALE, colour.shape[0] - 1)].mean(axis=0)
        sheet.script.stroke(flat, wash, mean.tolist(), [(-100, y, 1.0), (SIZE[0] + 100, y, 1.0)])
    painter.cover(flat, flow, colour, everywhere, (Pass(330, 0.5, 480, 30, 1.0, edge=0.5, strength=1.0),))
    bristle = Brush("Bristle", tip="round", edge=0.7, strength=0.55, spacing=0.1)
    wide = Pass(170, 1.0, 280, 12, 1.3, turn=0.16)
    painter.flat_brush(flat, flow, colour, everywhere, wide, bristle, count=5)
    # Cast shadows, a little way under the forms too.
    cast = _grown((sheet.study.lit < 0.5) & (sheet.study.form < 0), 20)
    near = busy(value, 1.0, SCALE) | cast
    calm = ~_grown(busy(value, 2.4, SCALE) | cast, 35)
    narrow = Pass(90, 1.9, 170, 6, 1.0, turn=0.12)
    painter.flat_brush(shadow, flow, colour, (value > 17) & calm, narrow, bristle.with_changes(strength=0.4), count=3)
    painter.cover(shadow, flow, colour, near, (Pass(90, 0.5, 150, 5, 0.8, 14, 0.7, 0.8, 0.1),))
    edge = Pass(46, 0.6, 110, 4, 0.5, 13, strength=0.6, edge=0.95, turn=0.08)
    painter.cover(shadow, flow, colour, busy(value, 2.4, SCALE) | cast, (edge,))
    fine = Pass(26, 0.8, 80, 3, 0.4, strength=0.75, edge=0.95, turn=0.04)
    painter.cover(shadow, flow, colour, busy(value, 4.5, SCALE), (fine,))
    smudge = shipped_brush("Smudge").with_changes(size_px=72, strength=0.26, carry=0.5, pick_from="visible")
    painter.blend(shadow, flow, smudge, near & ~busy(value, 9, SCALE), apart_px=80, reach_px=90)


def _flats(sheet: _Sheet) -> None:
    """One closed shape per form: crisp where it is lit, softer where it turns into the dark."""
    script, study = sheet.script, sheet.study
    tip = Brush("Outline", tip="round", edge=0.07, size_px=64, strength=1.0, spacing=0.03)
    # A soft edge has half its coverage further in, so the tip has to be wider for the same outline.
    soft = tip.with_changes(edge=0.36, size_px=tip.size_px / (1 - 0.36 / 2))
    for index, name in sheet.forms:
        part = script.part(name, "plain")
        for role in ("flat", "shadow", "accent", "bounce", "light"):
            sheet.layers[name, role] = script.layer(part, role)
        sheet.layers[name, "blending"] = script.layer(part, "detail", name="Blending")
        sheet.layers[name, "highlight"] = script.layer(part, "highlight")
        mask, flat = study.mask(index), sheet.layers[name, "flat"]
        shade = cv2.medianBlur((study.lit < 0.12).astype(np.uint8), 15) > 0
        for rows in hand.closed_outline(mask, SCALE, inset_px=tip.size_px / 2):
            dark = [bool(shade[int(y / SCALE), int(x / SCALE)]) for x, y, _ in rows]
            for piece in hand.runs(rows, dark):
                script.stroke(flat, soft, BROWN, piece)
            for piece in hand.runs(rows, [not here for here in dark]):
                script.stroke(flat, tip, BROWN, piece)
        for rows in hand.fill_rows(mask, SCALE, 150):
            script.stroke(flat, tip.with_changes(size_px=150.0), BROWN, rows)
        for rows in hand.closed_outline(mask, SCALE, inset_px=58):
            script.stroke(flat, tip.with_changes(size_px=72.0), BROWN, rows)


def _shadows(sheet: _Sheet) -> None:
    """All that the key light does not reach, from broad to narrow, as a glaze over the flat."""
    passes = (Pass(150, 0.42, 200, 14, 1.0, 13), Pass(76, 0.42, 130, 8, 0.9, 10), Pass(38, 0.5, 80, 5, 0.8))
    for index, name in sheet.forms:
        flow = _flow(sheet, index)
        glaze, _ = _glaze(sheet.study.colour, 0.8, _flat_colours(sheet.study))
        where = (sheet.study.lit < 0.34) & flow.inside
        sheet.painter.cover(sheet.layers[name, "shadow"], flow, glaze, where, passes)


def _accents(sheet: _Sheet) -> None:
    """The darkest places, where forms meet the table and inside the tube; then a little burning in."""
    passes = (Pass(84, 0.42, 130, 7, 0.6, 9, 0.7), Pass(40, 0.5, 90, 5, 0.5, strength=0.7))
    burn = shipped_brush("Burn").with_changes(size_px=130, strength=0.16)
    for index, name in sheet.forms:
        flow = _flow(sheet, index)
        _, reached = _glaze(sheet.study.colour, 0.8, _flat_colours(sheet.study))
        darker, _ = _glaze(sheet.study.colour, 0.7, reached)
        where = (flow.value < 16) & flow.inside
        sheet.painter.cover(sheet.layers[name, "accent"], flow, darker, where, passes)
        sheet.painter.blend(sheet.layers[name, "shadow"], flow, burn, where, apart_px=140, reach_px=150)


def _bounce(sheet: _Sheet) -> None:
    """Light that the table throws back into the shadow, warmer than the shadow itself."""
    warm = np.clip(sheet.study.colour * np.array((1.05, 1.0, 0.94), np.float32), 0, 1)
    passes = (Pass(96, 0.5, 170, 6, 1.0, 12, 0.45, 0.8), Pass(46, 0.6, 90, 4, 0.8, 12, 0.45, 0.8))
    for index, name in sheet.forms:
        flow = _flow(sheet, index)
        where = (sheet.study.lit < 0.02) & (flow.value > 21) & flow.inside
        sheet.painter.cover(sheet.layers[name, "bounce"], flow, warm, where, passes)


def _lights(sheet: _Sheet) -> None:
    """Lighter planes towards the light, small strokes where they turn, a little dodging where it strikes fullest."""
    passes = (
        Pass(170, 0.36, 220, 10, 1.2, 15, 0.8, 0.7),
        Pass(92, 0.36, 150, 7, 1.2, 12, 0.75, 0.7),
        Pass(52, 0.50, 100, 4.5, 1.1, 11, 0.7, 0.8),
        Pass(30, 0.55, 70, 3.5, 0.8, strength=0.65, edge=0.85),
    )
    dodge = shipped_brush("Dodge").with_changes(size_px=240, strength=0.06)
    for index, name in sheet.forms:
        flow, layer = _flow(sheet, index), sheet.layers[name, "light"]
        # The half-light belongs to both: lights run a little into the shadow, where they are as dark as it is.
        lit = _grown(sheet.study.lit > 0.03, 20) & flow.inside
        sheet.painter.cover(layer, flow, sheet.study.colour, lit, passes[:3])
        fine = lit & busy(flow.value, 3.2, SCALE)
        sheet.painter.cover(layer, flow, sheet.study.colour, fine, passes[3:])
        full = (sheet.study.lit > 0.9) & flow.inside
        sheet.painter.blend(layer, flow, dodge, full, apart_px=150, reach_px=160)


def _blending(sheet: _Sheet) -> None:
    """Smudge lightly along the form, from all that is visible, most where light turns into shadow."""
    soft = shipped_brush("Smudge").with_changes(size_px=64, strength=0.30, carry=0.5, pick_from="visible")
    for index, name in sheet.forms:
        flow, layer = _flow(sheet, index), sheet.layers[name, "blending"]
        depth = cv2.distanceTransform(flow.inside.astype(np.uint8), cv2.DIST_L2, 5)
        inside = (depth > 44 / SCALE) & ~busy(flow.value, 9, SCALE)
        along = hand.flow_along(sheet.study.value, flow.inside, SCALE, 7, rest=-0.6)
        edge = (sheet.study.lit > 0.004) & (sheet.study.lit < 0.3) & inside
        across = replace(along, angle=along.angle + np.float32(np.pi / 2))
        sheet.painter.blend(layer, across, soft.with_changes(size_px=90, strength=0.16), edge, apart_px=40, reach_px=50)
        turn = (sheet.study.lit > 0.004) & (sheet.study.lit < 0.5) & inside
        sheet.painter.blend(layer, along, soft, turn, apart_px=50, reach_px=80)
        sheet.painter.blend(layer, flow, soft.with_changes(strength=0.2), inside, apart_px=84, reach_px=90)


def _highlights(sheet: _Sheet) -> None:
    """Few and small, where the light says; on the tube's lip they follow the edge."""
    glow = shipped_brush("Mop")
    touch = Brush("Touch", tip="round", edge=0.8, strength=0.5, spacing=0.06)
    for index, name in sheet.forms:
        flow, layer = _flow(sheet, index), sheet.layers[name, "highlight"]
        top = np.where(flow.inside & (sheet.study.lit > 0.3), flow.value, 0)
        where = top >= np.percentile(top[flow.inside], 98.2)
        if index < 2:
            for size, strength, value in ((200, 0.10, 84), (110, 0.14, 88)):
                brush = glow.with_changes(size_px=float(size), strength=strength)
                sheet.painter.blend(layer, flow, brush, where, size * 0.6, size * 0.3, srgb_from_value(value, 0.02, 82))
        one = Pass(26, 1.0, 44, 4, 1.0, turn=0.3)
        best = top >= np.percentile(top[flow.inside], 99.0)
        bright = np.clip(sheet.study.colour * np.float32(1.07), 0, 1)
        sheet.painter.strokes(layer, flow, bright, best, one, touch.with_changes(size_px=24.0))


# --- what the stages ask for ---------------------------------------------------------------------------


def _flow(sheet: _Sheet, index: int) -> Flow:
    """Strokes round the form; they may run a little over its edge, the silhouette holds them."""
    mask = sheet.study.mask(index)
    return hand.flow_round(sheet.study.normal, sheet.study.value, mask, SCALE, AXES[index])


def _grown(mask: Mask, by_px: int) -> Mask:
    side = 2 * (by_px // SCALE) + 1
    result: Mask = cv2.dilate(mask.astype(np.uint8), np.ones((side, side), np.uint8)) > 0
    return result


def _flat_colours(study: LightStudy) -> Grid:
    return np.broadcast_to(np.asarray(BROWN, np.float32), study.colour.shape)


def _glaze(wanted: Grid, strength: float, below: Grid) -> tuple[Grid, Grid]:
    """What a Multiply layer of `strength` needs so that `below` comes out as wanted, and what then comes out."""
    glaze = np.clip((wanted / np.maximum(below, 1e-3) - (1 - strength)) / strength, 0, 1).astype(np.float32)
    reached: Grid = (below * (1 - strength + strength * glaze)).astype(np.float32)
    return glaze, reached


def _table_colours(study: LightStudy) -> Grid:
    """The table without the forms on it, darkening towards the back and the corners."""
    table: Mask = study.form < 0
    codes = np.rint(study.colour * 255).astype(np.uint8)
    # Under the forms, the ground goes on as it is around them.
    whole = cv2.inpaint(codes, _grown(~table, 5).astype(np.uint8), 7, cv2.INPAINT_TELEA).astype(np.float32) / 255
    height, width = table.shape
    ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
    up = np.clip((MIDDLE[1] / SCALE - 30 - ys) / (height * 0.62), 0, 1)
    side = np.hypot((xs / width - 0.44) * 1.5, (ys / height - 0.72) * 1.1)
    shade = (1 - 0.66 * up**0.8) * (1 - 0.34 * np.clip(side - 0.25, 0, 1))
    result: Grid = (whole * shade[..., None]).astype(np.float32)
    return result
