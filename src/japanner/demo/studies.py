"""The studies sheet: a ball, an egg and a tube, painted from flat to highlight."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import oklab, srgb
from japanner.color.value import srgb_from_value
from japanner.demo import hand, light_study
from japanner.demo.hand import Flow
from japanner.demo.light_study import Form, LightStudy
from japanner.scripting import Script, shipped_brush
from japanner.stroke.brush import Brush

__all__ = ["STAGES", "paint"]

Progress = Callable[[float, str], None]
Colour = tuple[float, float, float]

SIZE: Final = (4000, 2000)
SCALE: Final = 5
UNIT_PX: Final = 440.0
MIDDLE: Final = (2000.0, 1330.0)
STAGES: Final = ("ground", "flat", "shadow", "accent", "bounce", "light", "blending", "highlight")
NAMES: Final = ("Ball", "Egg", "Tube")
# A middle grey-brown and a darker table; linear light of their L* 47 and 33.
BROWN: Final = srgb_from_value(47, 0.036, 62)
TABLE: Final = srgb_from_value(33, 0.018, 75)


@dataclass(eq=False)
class _Sheet:
    """What the stages share."""

    script: Script
    study: LightStudy
    rng: np.random.Generator
    progress: Progress
    layers: dict[tuple[str, str], int]


def paint(progress: Progress = lambda done, words: None, until: str = "highlight") -> Script:
    """Paint the sheet up to and with the stage `until`; the same seed gives the same strokes."""
    script = Script.new(*SIZE, ppi=300.0, title="Studies sheet", ground=srgb_from_value(16, 0.012, 80))
    progress(0.0, "Setting the light")
    sheet = _Sheet(script, _study(script), np.random.default_rng(7), progress, {})
    steps = (_ground, _flats, _shadows, _accents, _bounce, _lights, _blending, _highlights)
    for index, (stage, step) in enumerate(zip(STAGES, steps, strict=True)):
        progress(0.06 + 0.94 * index / len(STAGES), f"Painting: {stage}")
        step(sheet)
        if stage == until:
            break
    progress(1.0, "Done")
    return script


def _study(script: Script) -> LightStudy:
    brown = tuple(float(c) for c in srgb.decode(np.array(BROWN)))
    forms = (
        Form("Ball", light_study.ball(-2.55, 0.0, 1.0), brown),  # type: ignore[arg-type]
        Form("Egg", light_study.egg(0.0, 0.1, 0.86, 1.18, 0.16), brown),  # type: ignore[arg-type]
        Form("Tube", light_study.tube(2.55, 0.0, 0.74, 1.95, 0.15), brown),  # type: ignore[arg-type]
    )
    table = tuple(float(c) for c in srgb.decode(np.array(TABLE)))
    return light_study.render(forms, table, script.painting.light, SIZE, SCALE, UNIT_PX, MIDDLE)  # type: ignore[arg-type]


# --- stages -------------------------------------------------------------------------------------------


def _ground(sheet: _Sheet) -> None:
    """Broad strokes of the table and the dark behind it, then the cast shadows over them."""
    part = sheet.script.part("Table", "plain")
    flat = sheet.script.layer(part, "flat")
    shadow = sheet.script.layer(part, "shadow", mode="Normal", strength=1.0)
    value, colour = sheet.study.value.copy(), _table_colours(sheet.study)
    value = _values_of(colour)
    everywhere = np.ones(value.shape, bool)
    flow = hand.flow_along(value, everywhere, SCALE, 26, rest=0.12)
    wide = Brush("Broad", tip="round", edge=0.55, size_px=330, strength=0.9, spacing=0.06)
    _strokes(sheet, flat, flow, colour, wide, spacing=150, reach=520, tolerance=30, jitter=2.6)
    middle = wide.with_changes(size_px=170, strength=0.8, edge=0.65)
    _strokes(sheet, flat, flow, colour, middle, spacing=118, reach=300, tolerance=14, jitter=2.2)
    small = wide.with_changes(size_px=86, strength=0.7, edge=0.8)
    near = _busy(value, 1.2)
    _strokes(sheet, shadow, flow, colour, small, spacing=50, reach=150, tolerance=5, jitter=1.0, where=near)
    deep = small.with_changes(size_px=46, strength=0.75)
    _strokes(sheet, shadow, flow, colour, deep, spacing=26, reach=90, tolerance=4, jitter=0.6, where=_busy(value, 4.5))
    smudge = shipped_brush("Smudge").with_changes(size_px=120, strength=0.35, carry=0.6)
    _blend(sheet, shadow, flow, smudge, spacing=110, reach=180, where=near)


def _flats(sheet: _Sheet) -> None:
    """One closed shape per form: its outline with a crisp tip, then filled."""
    tip = Brush("Outline", tip="round", edge=0.06, size_px=64, strength=1.0, spacing=0.03)
    fill = tip.with_changes(name="Fill", size_px=150)
    for index, name in enumerate(NAMES):
        part = sheet.script.part(name, "plain")
        for role in ("flat", "shadow", "accent", "bounce", "light"):
            sheet.layers[name, role] = sheet.script.layer(part, role)
        sheet.layers[name, "blending"] = sheet.script.layer(part, "detail", name="Blending")
        sheet.layers[name, "highlight"] = sheet.script.layer(part, "highlight")
        mask, flat = sheet.study.mask(index), sheet.layers[name, "flat"]
        for rows in hand.closed_outline(mask, SCALE, inset_px=tip.size_px / 2):
            sheet.script.stroke(flat, tip, BROWN, rows)
        for rows in hand.fill_rows(mask, SCALE, fill.size_px):
            sheet.script.stroke(flat, fill, BROWN, rows)
        for rows in hand.closed_outline(mask, SCALE, inset_px=tip.size_px * 0.9):
            sheet.script.stroke(flat, fill.with_changes(size_px=70), BROWN, rows)


def _shadows(sheet: _Sheet) -> None:
    """All that the key light does not reach, from broad to narrow, as a glaze over the flat."""
    for index, name in enumerate(NAMES):
        flow, colours = _form(sheet, index)
        where = (sheet.study.lit < 0.30) & flow.inside
        glaze = _glaze(colours, strength=0.8)
        layer = sheet.layers[name, "shadow"]
        _passes(sheet, layer, flow, glaze, where, ((150, 66, 300, 20), (84, 36, 190, 9), (46, 21, 110, 5)))


def _accents(sheet: _Sheet) -> None:
    """The darkest places: where forms meet the table, and the inside of the tube. Burned in small steps."""
    for index, name in enumerate(NAMES):
        flow, colours = _form(sheet, index)
        where = (flow.value < 17) & flow.inside
        layer = sheet.layers[name, "accent"]
        darker = _glaze(colours * np.float32(0.86), strength=0.7, over=colours)
        _passes(sheet, layer, flow, darker, where, ((90, 44, 160, 8), (44, 24, 90, 5)))
        burn = shipped_brush("Burn").with_changes(size_px=150, strength=0.22)
        _blend(sheet, sheet.layers[name, "shadow"], flow, burn, spacing=130, reach=170, where=where)


def _bounce(sheet: _Sheet) -> None:
    """Light that the table throws back into the shadow."""
    for index, name in enumerate(NAMES):
        flow, colours = _form(sheet, index)
        where = (sheet.study.lit < 0.02) & (flow.value > 23) & flow.inside
        warm = np.clip(colours * np.array((1.06, 1.0, 0.93), np.float32), 0, 1)
        layer = sheet.layers[name, "bounce"]
        _passes(sheet, layer, flow, warm, where, ((110, 60, 220, 7),), strength=0.4)


def _lights(sheet: _Sheet) -> None:
    """Lighter planes, towards the light, then a little dodging where it strikes fullest."""
    for index, name in enumerate(NAMES):
        flow, colours = _form(sheet, index)
        where = (sheet.study.lit >= 0.24) & flow.inside
        layer = sheet.layers[name, "light"]
        _passes(sheet, layer, flow, colours, where, ((150, 62, 300, 16), (84, 34, 190, 7), (46, 21, 110, 4)))
        dodge = shipped_brush("Dodge").with_changes(size_px=260, strength=0.10)
        _blend(sheet, layer, flow, dodge, spacing=150, reach=200, where=(sheet.study.lit > 0.86) & flow.inside)


def _blending(sheet: _Sheet) -> None:
    """Smudge along the form, picking up from all that is visible, most where light turns to shadow."""
    soft = shipped_brush("Smudge").with_changes(size_px=96, strength=0.42, carry=0.7, pick_from="visible")
    for index, name in enumerate(NAMES):
        flow, _ = _form(sheet, index)
        inside = _eroded(flow.inside, 60 / SCALE)
        layer = sheet.layers[name, "blending"]
        turn = (sheet.study.lit > 0.04) & (sheet.study.lit < 0.55) & inside
        _blend(sheet, layer, flow, soft, spacing=62, reach=150, where=turn)
        _blend(sheet, layer, flow, soft.with_changes(strength=0.3), spacing=92, reach=170, where=inside)
        across = Flow(flow.scale, flow.inside, flow.angle + np.float32(np.pi / 2), flow.value)
        _blend(sheet, layer, across, soft.with_changes(size_px=130, strength=0.18), spacing=120, reach=90, where=turn)


def _highlights(sheet: _Sheet) -> None:
    """Few and small, where the light says, and a rim where the tube's lip catches it."""
    mop = shipped_brush("Mop")
    for index, name in enumerate(NAMES):
        flow, _ = _form(sheet, index)
        layer = sheet.layers[name, "highlight"]
        top = np.where(flow.inside, flow.value, 0)
        best = float(np.percentile(top[flow.inside], 99.4))
        rows, columns = np.nonzero(top >= best)
        if index < 2:
            x, y = (float(columns.mean()) + 0.5) * SCALE, (float(rows.mean()) + 0.5) * SCALE
            for size, strength, value in ((300, 0.16, 82), (170, 0.2, 87), (84, 0.3, 92), (36, 0.4, 95)):
                brush = mop.with_changes(size_px=float(size), strength=strength)
                colour = srgb_from_value(value, 0.03, 82)
                for points in _dashes(sheet, flow, x, y, size):
                    sheet.script.stroke(layer, brush, colour, hand.taper(points))
        else:
            lip = shipped_brush("Point").with_changes(size_px=11.0, strength=0.5)
            _strokes(
                sheet, layer, flow, np.broadcast_to(np.float32(srgb_from_value(93, 0.03, 82)), (*top.shape, 3)), lip,
                spacing=24, reach=60, tolerance=6, jitter=1.0, where=top >= best,
            )  # fmt: skip


# --- the hand's habits --------------------------------------------------------------------------------


def _form(sheet: _Sheet, index: int) -> tuple[Flow, NDArray[np.float32]]:
    """Flow and colours of a form; strokes may run a little over its edge, the silhouette holds them."""
    mask = sheet.study.mask(index)
    flow = hand.flow_along(sheet.study.value, mask, SCALE, 7, rest=-0.6)
    return flow, sheet.study.colour


def _passes(
    sheet: _Sheet, layer: int, flow: Flow, colours: NDArray[np.float32], where: NDArray[np.bool_],
    plan: tuple[tuple[int, int, int, int], ...], strength: float = 0.85,
) -> None:  # fmt: skip
    """From large to small: (size, spacing, reach, tolerance); the smaller, the more only where values turn."""
    for number, (size, spacing, reach, tolerance) in enumerate(plan):
        brush = Brush(
            "Filling", tip="round", edge=0.6, size_px=float(size), strength=strength, spacing=0.06,
            pressure_size=shipped_brush("Round").pressure_size,
        )  # fmt: skip
        here = where if number < 2 else where & _busy(flow.value, 1.6)
        _strokes(sheet, layer, flow, colours, brush, spacing, reach, tolerance, jitter=1.5 - 0.4 * number, where=here)


def _strokes(
    sheet: _Sheet, layer: int, flow: Flow, colours: NDArray[np.float32], brush: Brush, spacing: float, reach: float,
    tolerance: float, jitter: float, where: NDArray[np.bool_] | None = None,
) -> None:  # fmt: skip
    """Strokes along the flow from scattered starts, each in the colour wanted where it starts."""
    step = max(brush.size_px / 3, 10.0)
    for x, y in _starts(sheet.rng, flow.inside if where is None else where, spacing):
        points = flow.stroke(x, y, reach * float(sheet.rng.uniform(0.6, 1.1)), step, tolerance)
        if len(points) < 2:
            points = [points[0], (points[0][0] + step, points[0][1])]
        row, column = int(y / SCALE), int(x / SCALE)
        colour = _jittered(sheet.rng, colours[row, column], jitter)
        sheet.script.stroke(layer, brush, colour, hand.taper(points))
    sheet.progress(_progress_of(sheet), f"{len(sheet.script.document.records)} strokes")


def _blend(
    sheet: _Sheet, layer: int, flow: Flow, brush: Brush, spacing: float, reach: float, where: NDArray[np.bool_]
) -> None:
    """Strokes that change paint: smudge, dodge, burn."""
    for x, y in _starts(sheet.rng, where, spacing):
        points = flow.stroke(x, y, reach * float(sheet.rng.uniform(0.6, 1.1)), 20.0, 60.0)
        if len(points) > 2:
            if sheet.rng.random() < 0.5:
                points.reverse()
            sheet.script.stroke(layer, brush, (0, 0, 0), hand.taper(points))


def _progress_of(sheet: _Sheet) -> float:
    return min(0.06 + len(sheet.script.document.records) / 5200, 0.99)


def _starts(rng: np.random.Generator, where: NDArray[np.bool_], spacing: float) -> list[tuple[float, float]]:
    """Points of a shaken grid that lie in `where`, in no order."""
    height, width = where.shape
    xs, ys = np.meshgrid(
        np.arange(spacing / 2, width * SCALE, spacing), np.arange(spacing / 2, height * SCALE, spacing)
    )
    points = np.column_stack((xs.ravel(), ys.ravel())) + rng.uniform(-0.45, 0.45, (xs.size, 2)) * spacing
    points = points[(points[:, 0] >= 0) & (points[:, 0] < width * SCALE - 1)]
    points = points[(points[:, 1] >= 0) & (points[:, 1] < height * SCALE - 1)]
    kept = points[where[(points[:, 1] / SCALE).astype(int), (points[:, 0] / SCALE).astype(int)]]
    rng.shuffle(kept)
    return [(float(x), float(y)) for x, y in kept]


def _jittered(rng: np.random.Generator, colour: NDArray[np.float32], spread: float) -> Colour:
    """A mixed colour is never quite the one wanted: a little off in value, chroma and hue."""
    light, chroma, hue = (float(c) for c in oklab.oklch_from_srgb(np.asarray(colour, float)))
    light += float(rng.normal(0, spread)) / 100
    chroma *= float(rng.normal(1, 0.10))
    mixed = oklab.srgb_from_oklch(np.array((max(light, 0.0), max(chroma, 0.0), hue + float(rng.normal(0, 4)))))
    r, g, b = np.clip(mixed, 0, 1)
    return float(r), float(g), float(b)


def _glaze(
    wanted: NDArray[np.float32], strength: float, over: NDArray[np.float32] | None = None
) -> NDArray[np.float32]:
    """What a Multiply layer of `strength` needs so that the flat (or `over`) comes out as wanted."""
    below = np.asarray(BROWN, np.float32) if over is None else np.maximum(over, np.float32(1e-3))
    result: NDArray[np.float32] = np.clip((wanted / below - (1 - strength)) / strength, 0, 1).astype(np.float32)
    return result


def _busy(value: NDArray[np.float32], least: float) -> NDArray[np.bool_]:
    """Where the value changes by at least this many L* over some 25 px."""
    gy, gx = np.gradient(value)
    busy: NDArray[np.bool_] = np.hypot(gx, gy) * 5 > least
    return busy


def _eroded(mask: NDArray[np.bool_], reach: float) -> NDArray[np.bool_]:
    import cv2  # noqa: PLC0415

    depth = cv2.distanceTransform(mask.astype(np.uint8), cv2.DIST_L2, 5)
    inside: NDArray[np.bool_] = depth > reach
    return inside


def _values_of(colour: NDArray[np.float32]) -> NDArray[np.float32]:
    from japanner.color.lab import lightness_from_srgb  # noqa: PLC0415

    return lightness_from_srgb(colour).astype(np.float32)


def _table_colours(study: LightStudy) -> NDArray[np.float32]:
    """The table without the forms on it, darkening towards the back and the corners."""
    import cv2  # noqa: PLC0415

    table = (study.form < 0).astype(np.uint8)
    codes = np.rint(study.colour * 255).astype(np.uint8)
    # Under the forms, the ground goes on as it is around them.
    whole = cv2.inpaint(codes, 1 - table, 7, cv2.INPAINT_TELEA).astype(np.float32) / 255
    height, width = table.shape
    ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
    up = np.clip((MIDDLE[1] / SCALE - 30 - ys) / (height * 0.62), 0, 1)
    side = np.hypot((xs / width - 0.44) * 1.5, (ys / height - 0.72) * 1.1)
    shade = (1 - 0.66 * up**0.8) * (1 - 0.34 * np.clip(side - 0.25, 0, 1))
    dark = whole * shade[..., None]
    result: NDArray[np.float32] = dark.astype(np.float32)
    return result


def _dashes(sheet: _Sheet, flow: Flow, x: float, y: float, size: float) -> list[list[tuple[float, float]]]:
    """A few short strokes through a point, each a little off it."""
    count = 3 if size > 60 else 2
    offsets = sheet.rng.normal(0, size * 0.10, (count, 2))
    return [
        [(x + dx - size * 0.14, y + dy + size * 0.05), (x + dx + size * 0.14, y + dy - size * 0.05)]
        for dx, dy in offsets
    ]
