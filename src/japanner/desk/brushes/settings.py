"""Every setting of a brush as a painter meets it: its words, its unit, and which brushes it means something to."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from japanner.color.mixing import MIXINGS
from japanner.color.value import TONES
from japanner.raster.textures import TEXTURES
from japanner.strand.courses import DRESSED
from japanner.strand.curls import PATTERNS
from japanner.stroke.brush import (
    AIMS,
    BRUSH_KINDS,
    HAIR_DOES,
    LARGEST_PX,
    NUDGE_WAYS,
    PICK_FROM,
    SMALLEST_PX,
    TAPER_BY,
    TIPS,
    TURNS,
    Brush,
)

__all__ = ["GROUPS", "SETTINGS", "Setting"]

Applies = Callable[[Brush], bool]


def _does(*flags: str) -> Applies:
    """Brushes of kinds with any of the flags of `BrushKind`."""
    return lambda brush: any(getattr(brush.does, flag) for flag in flags)


def _always(_: Brush) -> bool:
    return True


def _coverage(brush: Brush) -> bool:
    return brush.does.stroke == "coverage" and not brush.wetness


def _dragging(brush: Brush) -> bool:
    return brush.does.drags or (brush.does.plain and brush.wetness > 0)


def _stamped(brush: Brush) -> bool:
    return not (brush.does.pushes or brush.does.hair)


def _dabbed(brush: Brush) -> bool:
    return not brush.does.hair


def _spaced(brush: Brush) -> bool:
    """Whether it works dab by dab, and not on the stroke as a whole."""
    return brush.does.spaced


def _exposing(brush: Brush) -> bool:
    return brush.does.exposes != 0 and brush.aim == "stops"


def _in_stops(brush: Brush) -> bool:
    return _exposing(brush) or (
        brush.does.hair and not (brush.does.from_paint or brush.does.row) and brush.hair_does != "lay"
    )


@dataclass(frozen=True)
class Setting:
    """One field of `Brush`.

    A number has low and high, in what is shown, which is `scale` times what the brush holds; a choice has words; a flag
    has neither. own: among the few in the column beside the easel. applies: to which brushes it means something.
    """

    name: str
    label: str
    group: str
    tip: str
    low: float = 0.0
    high: float = 0.0
    scale: float = 1.0
    unit: str = ""
    digits: int = 0
    logarithmic: bool = False
    words: tuple[str, ...] = ()
    own: bool = False
    applies: Applies = _always


def _percent(name: str, label: str, group: str, tip: str, low: float = 0, high: float = 100, **rest: object) -> Setting:
    return Setting(name, label, group, tip, low, high, 100, " %", **rest)  # type: ignore[arg-type]


GROUPS: Final = ("stroke", "tip", "hair", "taper", "chance", "grain", "paint", "blending", "tones")

SETTINGS: Final[tuple[Setting, ...]] = (
    Setting("kind", "does", "stroke", "What the brush does", words=BRUSH_KINDS),
    Setting("size_px", "size", "stroke", "Diameter (G held, G, T)", SMALLEST_PX, LARGEST_PX, unit=" px",
            logarithmic=True, own=True),
    _percent("strength", "strength", "stroke", "The most one stroke can do", 1, own=True),
    _percent("flow", "flow", "stroke", "Share of the strength that each dab lays", 1, own=True,
            applies=_dabbed),
    _percent("spacing", "spacing", "stroke", "Distance of dabs, share of the size", 1, 200, own=True,
            applies=_spaced),
    Setting("even", "even: passes do not add up", "stroke",
            "Even: the greatest dab counts. Off: dabs build up to the strength.", own=True, applies=_coverage),
    Setting("pick_up", "picks up on touch", "stroke", "A stroke lays the colour that it finds where it begins",
    own=True,
            applies=_does("lays")),
    Setting("tip", "tip", "tip", "Shape of the tip", words=TIPS, own=True, applies=_stamped),
    _percent("edge", "edge", "tip", "Hard to soft", own=True,
            applies=_dabbed),
    _percent("roundness", "roundness", "tip", "The short axis as a share of the long one", 5, applies=_stamped),
    Setting("turn", "turns with", "tip", "What the long axis of the tip follows", words=TURNS, applies=_stamped),
    Setting("turn_deg", "turn", "tip", "Added to what it follows (F and the wheel)", -180, 180, unit="°",
            applies=_stamped),
    Setting("bristles", "bristles", "tip", "0: a solid tip", 0, 400, applies=_stamped),
    _percent("stiffness", "stiffness", "tip", "Less: a light touch lays with fewer bristles", applies=_stamped),
    Setting("hairs", "hairs", "hair", "Of a dab of fur, or in a lock", 1, 1000, own=True, logarithmic=True,
            applies=_does("coat", "bundle", "row")),
    Setting("hair_does", "hairs do", "hair", "Lay the colour in hand, or expose what is under them by its stops",
            words=HAIR_DOES, applies=_does("grows", "bundle", "single")),
    Setting("hair_px", "long", "hair", "Length of the hairs", 1, 2000, unit=" px", own=True, logarithmic=True,
            applies=_does("coat", "row")),
    Setting("hair_wide", "thick", "hair", "Thickness of each hair", 0.1, 60, unit=" px", digits=1, own=True,
            logarithmic=True, applies=_does("coat", "bundle", "row")),
    Setting("pattern", "pattern", "hair", "How the hairs of a lock curl", words=(*PATTERNS, *DRESSED), own=True,
            applies=_does("bundle", "single", "row")),
    Setting("mm_px", "a millimetre is", "hair", "Size of the pattern: a head is about 230 mm high", 0.05, 40, digits=2,
            unit=" px", logarithmic=True, applies=_does("bundle", "single", "row")),
    _percent("stretch", "stretched", "hair", "Drawn out or pushed together; the length of a coil stays", 25, 400,
             logarithmic=True, own=True, applies=_does("bundle", "single")),
    _percent("guard", "guard hairs", "hair", "Share of longer, thinner, lighter hairs; the others are undercoat",
             own=True, applies=_does("grows")),
    _percent("tuft", "tufts", "hair", "How far hairs are drawn together", own=True,
             applies=_does("coat", "row")),
    _percent("wave", "wave", "hair", "How far hairs swing to either side", applies=_does("coat")),
    Setting("fan_deg", "fans out", "hair", "How far hairs at the rim of the tip lean outward", -90, 90, unit="°",
            applies=_does("coat")),
    _percent("arch", "bows", "hair", "How far it bows up, or down, the more the flatter it lies", -100, 100, own=True,
             applies=_does("bundle", "single")),
    _percent("gravity", "falls", "hair", "How far its weight draws it down, more towards the tip", own=True,
             applies=_does("bundle", "single")),
    _percent("flick", "flick", "hair", "How far speed at the end of the stroke draws it out", 0, 300, own=True,
             applies=_does("bundle", "single")),
    _percent("clump", "parts", "hair", "How far a lock parts into thinner ones", own=True, applies=_does("bundle")),
    Setting("mess_deg", "mess", "hair", "How far hairs stray from their way", 0, 90, unit="°", own=True,
            applies=_does("coat")),
    _percent("curl", "bend", "hair", "How far hairs bend to one side", applies=_does("coat", "row")),
    Setting("from_deg", "leans from", "hair", "From the stroke to the hairs on its left, where it begins", -180, 180,
            unit="°", own=True, applies=_does("row")),
    Setting("to_deg", "to", "hair", "The same where it ends", -180, 180, unit="°", own=True, applies=_does("row")),
    _percent("across", "across", "hair", "Over how much of the tip's width roots stand; 0: on the line", own=True,
             applies=_does("row")),
    Setting("across_deg", "ridge", "hair", "How far hairs on either side lean back to the line", -90, 90, unit="°",
            own=True, applies=_does("row")),
    _percent("long_in", "long at first", "hair", "Length where the stroke begins, of the longest", own=True,
             applies=_does("row")),
    _percent("long_out", "at last", "hair", "Length where it ends", own=True, applies=_does("row")),
    _percent("hair_variety", "variety", "hair", "How far hairs differ in length, thickness and value",
             applies=lambda brush: brush.does.hair),
    _percent("hair_depth", "depth", "hair", "Dark roots and light tips", high=200, own=True,
             applies=_does("coat", "bundle", "single")),
    _percent("hair_gloss", "gloss", "hair", "The light band where a lock faces the key light", high=200,
             applies=_does("bundle", "single")),
    _percent("stray", "strays", "hair", "Share of the hairs that leave the lock", applies=_does("bundle")),
    Setting("over", "reaches past the silhouette", "stroke",
            "Lays on a layer over the part, made or found, where the layer in hand would cut it off",
            applies=_does("plain", "hair")),
    Setting("taper_in", "grows over", "taper", "Length over which the stroke grows", 0, 600),
    Setting("taper_out", "fades over", "taper", "Length over which it fades, known when it ends", 0, 600),
    Setting("taper_by", "lengths in", "taper", "Px, or per cent of the stroke", words=TAPER_BY),
    _percent("taper_size", "size falls by", "taper", "At either end"),
    _percent("taper_strength", "strength falls by", "taper", "At either end",
            applies=_spaced),
    _percent("jitter_size", "size", "chance", "How far chance makes dabs smaller",
            applies=_spaced),
    _percent("jitter_turn", "turn", "chance", "100 %: any way round", applies=_stamped),
    _percent("jitter_strength", "strength", "chance", "How far chance makes dabs weaker",
            applies=_spaced),
    _percent("jitter_hue", "hue", "chance", "100 %: half of all hues", applies=_does("plain", "strews")),
    _percent("jitter_value", "value", "chance", "100 %: up to 50 L* up and down", applies=_does("plain", "strews")),
    Setting("scatter", "scatter", "chance", "How far dabs stray, in sizes", 0, 5, digits=2, unit=" sizes",
            applies=lambda brush: not brush.does.strews and _spaced(brush)),
    Setting("per_step", "dabs a step", "chance", "Dabs laid at every step", 1, 32,
            applies=_spaced),
    Setting("grain", "grain", "grain", "Texture that the paint catches on", words=("", *TEXTURES), applies=_stamped),
    _percent("grain_depth", "depth", "grain", "How much the hollows keep bare", applies=lambda b: bool(b.grain)),
    _percent("grain_scale", "scale", "grain", "Size of the texture", 10, 1000, logarithmic=True,
             applies=lambda b: bool(b.grain)),
    Setting("grain_on", "fixed to", "grain", "The canvas, as in a real ground, or the tip", words=("canvas", "tip"),
            applies=lambda b: bool(b.grain)),
    _percent("wetness", "wetness", "paint", "How far it takes up what it goes over, and lays that on",
             applies=_does("plain")),
    Setting("dry_px", "dry after", "paint", "Length after which the paint is used up; 0: never", 0, 20000, unit=" px",
            applies=_does("lays")),
    Setting("thick_px", "thickness", "paint",
            "How thick the paint lies; the key light shows it (Layer > Relief)", 0, 12, digits=1, unit=" px",
            applies=lambda brush: brush.does.piles_up or brush.does.blade),
    Setting("mixing", "mixes as", "paint", "Codes, light, evenly to the eye, or pigments", words=MIXINGS, own=True,
            applies=lambda brush: brush.does.plain or brush.does.strews or brush.does.keeps_grain),
    Setting("carry", "carry", "blending", "How far paint is dragged, in tip sizes", 0.05, 8, digits=2, unit=" sizes",
            logarithmic=True, own=True, applies=_dragging),
    Setting("keep_grain_px", "keeps grain", "blending", "What is finer than this stays where it is; 0: all is blended",
            0, 60, unit=" px", own=True, applies=lambda brush: _dragging(brush) or brush.does.keeps_grain),
    Setting("soften_px", "over", "blending", "Over what distance it blurs or sharpens", 0.3, 60, digits=1, unit=" px",
            logarithmic=True, own=True, applies=_does("levels")),
    Setting("pick_from", "picks up", "blending", "What a smudge picks up: this layer, or all that is visible",
            words=PICK_FROM, own=True, applies=lambda brush: _dragging(brush) or brush.does.from_paint),
    Setting("nudge", "nudges", "blending", "Push, grow, shrink, turn, or take nudges back", words=NUDGE_WAYS, own=True,
            applies=_does("pushes")),
    Setting("aim", "goes by", "tones", "Stops of light, or to the next value step of the part and never past it",
            words=AIMS, own=True, applies=_does("exposes")),
    Setting("stops", "exposure", "tones", "Stops of light at full strength", 0, 4, digits=2, unit=" stops", own=True,
            applies=_in_stops),
    Setting("tone", "tones", "tones", "Which values the exposure acts on", words=TONES, own=True, applies=_exposing),
    Setting("keep_hue", "keeps hue and chroma", "tones",
            "What would leave the gamut loses chroma, instead of shifting as overexposed film does", own=True,
            applies=_exposing),
)  # fmt: skip
