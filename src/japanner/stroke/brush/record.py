"""A brush is data: this record, stored as JSON, says all that a stroke needs to know about its tool."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from japanner import checks
from japanner.color.mixing import MIXINGS
from japanner.color.value import TONES
from japanner.errors import InputError
from japanner.raster.textures import TEXTURES
from japanner.records import from_record, to_record
from japanner.strand.courses import DRESSED
from japanner.strand.curls import PATTERNS
from japanner.stroke.brush.drive import Drive
from japanner.stroke.brush.kinds import KINDS, BrushKind

__all__ = [
    "AIMS",
    "BRUSH_KINDS",
    "CHOICES",
    "FLAGS",
    "HAIR_DOES",
    "LARGEST_PX",
    "NUDGE_WAYS",
    "NUMBERS",
    "PICK_FROM",
]
__all__ += ["SMALLEST_PX", "TAPER_BY", "TIPS", "TURNS", "Brush"]

BRUSH_KINDS: Final = tuple(KINDS)
AIMS: Final = ("stops", "step")
HAIR_DOES: Final = ("lay", "lighten", "darken")
NUDGE_WAYS: Final = ("push", "grow", "shrink", "twirl", "back")
TIPS: Final = (
    "mop", "round", "flat", "filbert", "fan", "rigger", "stippler", "hake", "dagger", "spatter", "image",
)  # fmt: skip
TURNS: Final = ("fixed", "along", "across", "tilt", "twist", "comb", "form")
TAPER_BY: Final = ("px", "share")
PICK_FROM: Final = ("layer", "visible")
SMALLEST_PX: Final = 1.0
LARGEST_PX: Final = 2000.0

CHOICES: Final[dict[str, tuple[str, ...]]] = {
    "kind": BRUSH_KINDS,
    "tip": TIPS,
    "turn": TURNS,
    "taper_by": TAPER_BY,
    "grain": ("", *TEXTURES),
    "grain_on": ("canvas", "tip"),
    "mixing": MIXINGS,
    "tone": TONES,
    "pick_from": PICK_FROM,
    "nudge": NUDGE_WAYS,
    "aim": AIMS,
    "pattern": (*PATTERNS, *DRESSED),
    "hair_does": HAIR_DOES,
}
NUMBERS: Final[dict[str, tuple[float, float]]] = {
    "size_px": (SMALLEST_PX, LARGEST_PX),
    "roundness": (0.05, 1),
    "turn_deg": (-180, 180),
    "strength": (0, 1),
    "flow": (0, 1),
    "edge": (0, 1),
    "spacing": (0.01, 2),
    "taper_in": (0, 5000),
    "taper_out": (0, 5000),
    "taper_size": (0, 1),
    "taper_strength": (0, 1),
    "jitter_size": (0, 1),
    "jitter_turn": (0, 1),
    "jitter_strength": (0, 1),
    "jitter_hue": (0, 1),
    "jitter_value": (0, 1),
    "scatter": (0, 5),
    "per_step": (1, 32),
    "grain_depth": (0, 1),
    "grain_scale": (0.1, 10),
    "bristles": (0, 400),
    "stiffness": (0, 1),
    "wetness": (0, 1),
    "dry_px": (0, 20000),
    "thick_px": (0, 12),
    "stops": (0, 4),
    "carry": (0.02, 10),
    "keep_grain_px": (0, 60),
    "soften_px": (0.3, 60),
    "hairs": (1, 1000),
    "hair_px": (1, 2000),
    "hair_wide": (0.1, 60),
    "hair_variety": (0, 1),
    "hair_depth": (0, 2),
    "hair_gloss": (0, 2),
    "mess_deg": (0, 90),
    "clump": (0, 1),
    "curl": (0, 1),
    "stray": (0, 1),
    "flick": (0, 3),
    "arch": (-1, 1),
    "gravity": (0, 1),
    "guard": (0, 1),
    "tuft": (0, 1),
    "wave": (0, 1),
    "fan_deg": (-90, 90),
    "from_deg": (-180, 180),
    "to_deg": (-180, 180),
    "across": (0, 1),
    "across_deg": (-90, 90),
    "long_in": (0, 1),
    "long_out": (0, 1),
    "mm_px": (0.05, 40),
    "stretch": (0.25, 4),
}
IN_PX: Final = (
    "size_px", "taper_in", "taper_out", "dry_px", "thick_px", "keep_grain_px", "soften_px", "hair_px", "hair_wide",
    "mm_px", "grain_scale",
)  # fmt: skip
"""Settings that are lengths on the canvas."""
WHOLE: Final = ("per_step", "bristles", "hairs")
FLAGS: Final = ("even", "keep_hue", "pick_up", "over")


@dataclass(frozen=True)
class Brush:
    """All settings of a brush, and the roll it lies in. What a default means never changes: records leave out settings
    that have it.

    size_px: diameter in canvas px. roundness: the short axis of the tip as a share of the long one. turn: what the long
    axis follows, with turn_deg added (degrees, counter-clockwise): nothing, the stroke, its normal, the lean or the
    twist of the pen, the part's comb field, or the level lines of its form. strength: the most that one stroke can do.
    flow: share of it per dab.
    edge: 0 hard to 1 soft. spacing: distance of dabs as a share of the size. even: coverage inside one stroke is the
    greatest of its dabs instead of their build-up.

    taper_in, taper_out: over what length the stroke grows and fades, in px or (taper_by "share") in per cent of its
    own. taper_size, taper_strength: how far size and strength fall at the ends. jitter_*: how far chance moves a
    setting of each dab (turn 1: any way round; hue 1: half the circle; value 1: 50 L*). scatter: how far dabs stray, in
    sizes. per_step: dabs laid at every step. grain: texture that the paint catches on, fixed to the canvas or to the
    tip. bristles: 0 for a solid tip. stiffness: below 1, a light touch lays with fewer of them. dry_px: length after
    which the paint is used up; 0: never. thick_px: how thick the paint lies where the brush lays in full.

    wetness: how far a lay takes up what it goes over and lays it on. mixing: how colours mix (see `color.mixing`).
    carry: how far a smudge drags paint, in sizes. keep_grain_px: smudge, knife and feather leave alone what is finer
    than this. soften_px: over what distance blur and sharpen work. pick_from: what a smudge picks up. pick_up: a stroke
    lays the colour that it finds where it begins. stops, tone, aim, keep_hue: of dodge and burn. nudge: how a nudge
    moves what is under it. image: the coverage of an image tip, as PNG text of one grey (see
    `japanner.stroke.brush.image_tip`). over: what it lays reaches beyond the silhouette, so it goes on a layer over the
    part. drives: what drives settings meanwhile.

    Of fur and locks: hairs: of a dab, or in a lock. hair_px, hair_wide: their length and thickness. hair_variety: how
    far they differ. hair_depth: dark roots and light tips; hair_gloss: the light band of a lock. mess_deg: how far fur
    strays. clump: how far a lock parts into thinner ones. curl: of fur; pattern, mm_px: the curl of a lock, canvas
    px to its millimetre, and how far it is drawn out. hair_does: lay the colour, or expose what is under the hairs by
    `stops`. stray: share of a lock's hairs that leave it. flick: how far speed at its end draws a lock or strand out;
    arch: how far it bows up, or down; gravity: how far it falls. guard: share of longer, thinner, lighter hairs among
    those of fur, the others are undercoat; tuft: how far fur is drawn together; wave: how far it swings to either
    side; fan_deg: how far it leans outward at the rim of the tip. from_deg, to_deg: of a fringe, between
    the stroke and the hairs on its left, at its begin and end; across: over what share of the tip's width their roots
    stand, and across_deg: how far they lean back from there; long_in, long_out: their length at its begin and end.
    """

    name: str
    roll: str = "own"
    kind: str = "lay"
    tip: str = "mop"
    size_px: float = 60.0
    roundness: float = 1.0
    turn: str = "fixed"
    turn_deg: float = 0.0
    strength: float = 1.0
    flow: float = 1.0
    edge: float = 0.5
    spacing: float = 0.05
    even: bool = True
    taper_in: float = 0.0
    taper_out: float = 0.0
    taper_by: str = "px"
    taper_size: float = 1.0
    taper_strength: float = 0.0
    jitter_size: float = 0.0
    jitter_turn: float = 0.0
    jitter_strength: float = 0.0
    jitter_hue: float = 0.0
    jitter_value: float = 0.0
    scatter: float = 0.0
    per_step: int = 1
    grain: str = ""
    grain_depth: float = 0.6
    grain_scale: float = 1.0
    grain_on: str = "canvas"
    bristles: int = 0
    stiffness: float = 0.5
    wetness: float = 0.0
    dry_px: float = 0.0
    thick_px: float = 0.0
    mixing: str = "encoded"
    stops: float = 1.0
    tone: str = "all"
    carry: float = 0.6
    keep_grain_px: float = 0.0
    soften_px: float = 4.0
    pick_from: str = "layer"
    nudge: str = "push"
    image: str = ""
    hairs: int = 40
    hair_px: float = 40.0
    hair_wide: float = 1.2
    hair_variety: float = 0.5
    hair_depth: float = 0.6
    hair_gloss: float = 0.6
    mess_deg: float = 8.0
    clump: float = 0.5
    curl: float = 0.0
    stray: float = 0.04
    flick: float = 0.0
    arch: float = 0.0
    gravity: float = 0.0
    guard: float = 0.0
    tuft: float = 0.0
    wave: float = 0.0
    fan_deg: float = 0.0
    from_deg: float = 110.0
    to_deg: float = 50.0
    across: float = 0.0
    across_deg: float = 0.0
    long_in: float = 0.5
    long_out: float = 0.5
    pattern: str = "flat"
    hair_does: str = "lay"
    mm_px: float = 2.2
    stretch: float = 1.0
    aim: str = "stops"
    keep_hue: bool = False
    pick_up: bool = False
    over: bool = False
    drives: tuple[Drive, ...] = ()

    def __post_init__(self) -> None:
        checks.text("name", self.name, 60)
        checks.text("roll", self.roll, 30)
        for name, words in CHOICES.items():
            checks.one_of(name, getattr(self, name), words)
        for name, (low, high) in NUMBERS.items():
            if name in WHOLE:
                checks.integer(name, getattr(self, name), int(low), int(high))
            else:
                checks.number(name, getattr(self, name), low, high)
        for name in FLAGS:
            if not isinstance(getattr(self, name), bool):
                raise InputError(f"{name}: expected true or false, got {getattr(self, name)!r}")
        if not isinstance(self.image, str) or (self.tip == "image" and not self.image):
            raise InputError("image: an image tip needs a picture; make one from a layer or a file")
        if not isinstance(self.drives, tuple) or not all(isinstance(one, Drive) for one in self.drives):
            raise InputError(f"drives: expected drives, got {checks.shown(self.drives)}")

    @property
    def changes_paint(self) -> bool:
        """Whether it changes paint that is on the layer, and so needs some."""
        exposes = self.does.hair and self.hair_does != "lay"
        return self.does.changes_paint or exposes or (self.does.from_paint and self.pick_from == "layer")

    @property
    def does(self) -> BrushKind:
        """What brushes of its kind are like."""
        return KINDS[self.kind]

    def with_changes(self, **changes: Any) -> Brush:
        """The brush with some settings changed."""
        return replace(self, **changes)

    def scaled(self, factor: float) -> Brush:
        """The brush for a canvas `factor` times as large, as far as the ranges of its settings let it be."""
        changes = {}
        for name in IN_PX:
            if not name.startswith("taper") or self.taper_by == "px":
                low, high = NUMBERS[name]
                value = getattr(self, name)
                changes[name] = min(max(value * factor, low), high) if value else value
        return replace(self, **changes)

    def drive(self, setting: str, source: str = "pressure") -> Drive:
        """What `source` does to a setting; a drive of amount 0 if it does nothing."""
        found = (one for one in self.drives if (one.setting, one.source) == (setting, source))
        return next(found, Drive(setting, source))

    def driven(self, setting: str, source: str = "pressure", **changes: Any) -> Brush:
        """The brush with what `source` does to a setting changed: amount, low, high or gamma."""
        drive = replace(self.drive(setting, source), **changes)
        rest = tuple(one for one in self.drives if (one.setting, one.source) != (setting, source))
        return replace(self, drives=(*rest, drive) if drive.amount else rest)

    def to_record(self) -> dict[str, Any]:
        """The brush as JSON-ready data: its name, and what differs from the defaults."""
        return to_record(self)

    @staticmethod
    def from_record(record: Mapping[str, Any]) -> Brush:
        """A brush from JSON data; unknown names and wrong types raise InputError."""
        return from_record(Brush, record)
