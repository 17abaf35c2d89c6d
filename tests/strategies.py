"""Generated operations, on a small painting that has something of everything."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

from hypothesis import strategies as st

from japanner.painting import operations as ops
from japanner.painting.document.document import Document
from japanner.painting.makers import MAKERS
from japanner.painting.model import MATERIALS, PLACES, ROLES, Measure
from japanner.painting.operations.fills import FILLS
from japanner.painting.operations.filters import FILTERS
from japanner.painting.operations.friskets import FRISKET_CHANGES
from japanner.painting.operations.masks import MASK_CHANGES
from japanner.painting.picture.reference import REFERENCES
from japanner.raster.adjust import ADJUSTMENTS
from japanner.raster.codec import to_text
from japanner.raster.gradient import GRADIENTS
from japanner.raster.modes import MODES
from japanner.raster.textures import TEXTURES
from japanner.raster.tiles import straight
from japanner.scripting import Script
from japanner.stroke.brush import BRUSH_KINDS, Brush
from tests.paintings import HARD, solid

__all__ = ["operations", "prepared"]

WIDTH, HEIGHT = 72, 60
PARTS, LAYERS = (1, 2), (3, 4, 5, 6)


def picture_text() -> str:
    """A small picture as records hold one."""
    raster = solid(8, 6, (0.7, 0.3, 0.2))
    return to_text(straight(raster.read(raster.rect)))


@cache
def _made() -> tuple[object, tuple[dict, ...]]:
    script = Script.new(WIDTH, HEIGHT, title="Everything", ground=(0.3, 0.3, 0.3))
    body, back = script.part("Body", "fur"), script.part("Back", "skin")
    flat = script.layer(body, "flat")
    script.stroke(flat, HARD.with_changes(size_px=30, thick_px=4), (0.6, 0.4, 0.3), [(30, 30, 1.0), (46, 34, 1.0)])
    light = script.layer(body, "light")
    script.stroke(light, HARD.with_changes(size_px=12), (0.9, 0.8, 0.7), [(26, 22, 1.0), (40, 26, 0.5)])
    script.do(ops.AddMask(light))
    over = script.layer(body, "glow", place="over")
    script.stroke(over, HARD.with_changes(size_px=9), (0.9, 0.9, 0.9), [(50, 40, 1.0)])
    base = script.layer(back, "flat")
    script.stroke(base, HARD.with_changes(size_px=24), (0.4, 0.5, 0.6), [(20, 46, 1.0), (60, 50, 1.0)])
    script.do(ops.SetFrisket({"shape": "box", "x0": 4, "y0": 4, "x1": 66, "y1": 56}))
    script.do(ops.SetComb(body, ({"points": ((20, 20), (50, 40))},)))
    script.do(ops.PinPicture("Board", picture_text()))
    maquette = {**script.painting.maquette.to_record(), "middle": (36, 30), "unit_px": 16.0}
    script.do(ops.SetMaquette({**maquette, "pieces": [{"name": "Ball", "part": body}]}))
    return script.painting, tuple(script.document.records)


def prepared() -> Document:
    """A document of its own: two parts, four layers, mask, relief, frisket, comb, maquette and a pinned picture."""
    painting, records = _made()
    return Document(painting, records=records)  # type: ignore[arg-type]


@cache
def _template(chosen: int) -> ops.AddParts:
    return ops.template_of(prepared().painting, [chosen])


unit = st.floats(0, 1, width=32)
x, y = st.floats(-20, WIDTH + 20, width=32), st.floats(-20, HEIGHT + 20, width=32)
colour = st.tuples(unit, unit, unit)
part, layer, seed = st.sampled_from(PARTS), st.sampled_from(LAYERS), st.integers(0, 999)
on = st.sampled_from(("paint", "mask"))
some = st.lists(layer, min_size=1, max_size=3).map(tuple)
name = st.text("abc äß", min_size=1, max_size=8).map(lambda text: text.strip() or "a")
rows = st.lists(st.tuples(x, y, unit), min_size=1, max_size=5).map(tuple)
mode, role, place = st.sampled_from(sorted(MODES)), st.sampled_from(ROLES), st.sampled_from(PLACES)
px = st.floats(0, 12, width=32)
size = st.integers(20, 90)


def small_brush(kind: str, width: float, edge: float) -> dict:
    """A brush of a kind whose hairs and lengths suit a stamp of a canvas."""
    return Brush(
        "Any", kind=kind, size_px=width, edge=edge, spacing=0.2, hair_px=12.0, hairs=6, soften_px=2.0, mm_px=1.0
    ).to_record()


brush = st.builds(small_brush, st.sampled_from(BRUSH_KINDS), st.floats(2, 24, width=32), unit)
shape = st.one_of(
    st.builds(lambda kind, a, b, c, d: {"shape": kind, "x0": a, "y0": b, "x1": c, "y1": d},
              st.sampled_from(("oval", "box")), x, y, x, y),
    st.builds(lambda points: {"shape": "outline", "points": points}, st.lists(st.tuples(x, y), min_size=3, max_size=6)),
    st.builds(lambda nodes: {"shape": "curve", "nodes": nodes},
              st.lists(st.tuples(x, y, x, y, x, y), min_size=2, max_size=4)),
    st.builds(lambda kind, uid: {"shape": kind, "layer": uid}, st.sampled_from(("layer", "mask")), layer),
    st.builds(lambda uid: {"shape": "silhouette", "part": uid}, part),
    st.just({"shape": "all"}),
    st.builds(lambda a, b, how, uid, joined: {"shape": "colour", "x": a, "y": b, "tolerance": 20, "reference": how,
              "layer": uid, "connected": joined}, x, y, st.sampled_from(REFERENCES), layer, st.booleans()),
)  # fmt: skip
picture = picture_text()
matrix = st.tuples(st.floats(0.5, 2), px, px, px, st.floats(0.5, 2), px).map(
    lambda m: (m[0], 0.0, m[1], 0.0, m[4], m[2], 0.0, 0.0, 1.0)
)
four = st.tuples(unit, unit, unit, unit)
filters = st.one_of(
    st.sampled_from(sorted(set(ADJUSTMENTS) - {"curve", "gradient map"}) + sorted(FILTERS)).map(lambda one: (one, {})),
    st.just(("curve", {"points": [[0, 0], [50, 60], [100, 100]]})),
    st.just(("gradient map", {"steps": [10, 90], "colours": [[0, 0, 0], [1, 1, 0.9]]})),
)
guide = st.builds(lambda a, b, c, d: {"points": [[a, b], [c, d]]}, x, y, x, y)
quick_makers = sorted(set(MAKERS) - {"coat", "thin cloth"})
cage = st.lists(st.tuples(x, y), min_size=4, max_size=4).map(tuple)


def operations() -> st.SearchStrategy:
    """Any operation; most can be applied to what `prepared` gives."""
    return st.sampled_from(every_operation()).flatmap(lambda one: one)


def every_operation() -> tuple[st.SearchStrategy, ...]:
    """A strategy for each."""
    b = st.builds
    return (
        b(ops.Stroke, layer, brush, colour, rows, st.booleans(), seed, on),
        b(ops.Scratch, part, rows, st.floats(1, 6), unit, seed),
        b(ops.Fill, layer, colour, st.sampled_from(FILLS), on),
        b(ops.FloodFill, layer, colour, x, y, st.sampled_from(REFERENCES)),
        b(ops.Gradient, layer, st.sampled_from(GRADIENTS), st.tuples(x, y, x, y), four, four,
          st.sampled_from(FILLS)),
        b(ops.ClearPaint, layer, on),
        b(ops.SetFrisket, shape, st.sampled_from(("new", "add", "take", "meet"))),
        b(ops.ChangeFrisket, st.sampled_from(sorted(FRISKET_CHANGES)), px),
        b(ops.DropFrisket),
        b(ops.AddMask, layer, st.booleans()),
        b(ops.ChangeMask, layer, st.sampled_from(sorted(MASK_CHANGES)), px),
        b(ops.ApplyMask, layer), b(ops.DropMask, layer),
        b(ops.AddPart, name, st.sampled_from(MATERIALS), st.sampled_from((None, 0, 1, 2))),
        b(ops.DuplicatePart, part), b(ops.DeletePart, part), b(ops.MovePart, part, st.integers(0, 1)),
        b(lambda uid, word, share: ops.SetPart(uid, {"name": word, "strength": share}), part, name, unit),
        b(lambda uid, one: ops.SetComb(uid, tuple(one)), part, st.lists(guide, max_size=3)),
        b(lambda uid, a, b: ops.SetGuide(uid, {"x": a, "y": b}), part, x, y),
        b(ops.FlattenPart, part),
        b(ops.AddLayer, part, role, name, place, mode, unit, st.sampled_from((None, 0)), st.booleans()),
        b(ops.DeleteLayer, layer), b(ops.DuplicateLayer, layer), b(ops.MoveLayer, layer, st.integers(0, 2)),
        b(lambda uid, how, where: ops.SetLayer(uid, {"mode": how, "place": where}), layer, mode, place),
        b(ops.MergeDown, layer),
        b(ops.SetRelief, layer, st.floats(0, 4), unit), b(ops.DropRelief, layer), b(ops.FormRelief, layer, px),
        b(ops.FlattenRelief, layer),
        b(ops.SetLight, st.floats(-90, 90), st.floats(-180, 180)),
        b(lambda chosen, x, times: replace(_template(chosen), x=x, times=times), part, st.floats(-50, 50),
          st.floats(0.2, 3)),
        b(lambda x, y: ops.SetMeasures((Measure("line", 1, 4.0, 5.0, x, y),)), st.floats(-50, 300),
          st.floats(-50, 300)),
        b(lambda x, y: ops.SetLandmarks("", (("nose tip", x, y),)), st.floats(-50, 300), st.floats(-50, 300)),
        b(lambda a: ops.SetMaquette({"format": 1, "pieces": [{"name": "Egg", "kind": "egg"}], "unit_px": a}),
          st.floats(2, 40)),
        b(lambda c: ops.LayFace(0, c), colour),
        b(lambda c: ops.DressFigure(0, c), colour),
        b(lambda uid, maker, s: ops.Make(uid, maker, {}, s), part, st.sampled_from(quick_makers), seed),
        b(ops.MakeAnew, st.one_of(st.just(0), part)),
        b(ops.BreakEdge, part, st.floats(2, 20), seed),
        b(lambda word, c: ops.SetPainting({"title": word, "ground": c}), name, colour),
        b(lambda uids, one, where: ops.Filter(uids, one[0], one[1], where), some, filters, on),
        b(ops.Transform, some, matrix),
        b(lambda uids, points: ops.CageWarp(uids, (4, 4, 60, 50), 1, 1, points), some, cage),
        b(lambda uid, fit, m: ops.AddPicture(uid, picture, fit=fit, matrix=m), part,
          st.sampled_from(("size", "inside", "over")), st.one_of(st.just(()), matrix)),
        b(ops.AddTexture, part, st.sampled_from(sorted(TEXTURES)), st.floats(0.5, 2), unit, seed),
        b(lambda word: ops.PinPicture(word, picture), name),
        b(ops.UnpinPicture, st.integers(0, 1)),
        b(ops.FrameCanvas, st.integers(-20, 20), st.integers(-20, 20), size, size),
        b(ops.ScaleCanvas, size, size),
    )  # fmt: skip
