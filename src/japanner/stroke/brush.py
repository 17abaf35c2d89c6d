"""A brush is data: this record, stored as JSON, says all that a stroke needs to know about its tool."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Any, Final

from japanner import checks
from japanner.color.value import TONES
from japanner.errors import InputError

__all__ = ["AIMS", "BRUSH_KINDS", "LARGEST_PX", "NUDGE_WAYS", "PICK_FROM", "SMALLEST_PX", "TIPS", "Brush", "Response"]

BRUSH_KINDS: Final = ("lay", "wipe", "dodge", "burn", "smudge", "nudge", "desaturate", "saturate")
RESPONSES: Final = ("pressure_size", "pressure_strength", "pressure_flow")
AIMS: Final = ("stops", "step")
NUDGE_WAYS: Final = ("push", "grow", "shrink", "twirl", "back")
TIPS: Final = ("mop", "round", "image")
PICK_FROM: Final = ("layer", "visible")
SMALLEST_PX: Final = 1.0
LARGEST_PX: Final = 2000.0


@dataclass(frozen=True)
class Response:
    """How far pressure drives a setting: factor = 1 - amount + amount * clamp((p - low) / (high - low)) ** gamma.

    amount 0..1 (0: pressure does nothing), low and high 0..1, gamma 0.1..10. The curve is common practice.
    """

    amount: float = 0.0
    low: float = 0.0
    high: float = 1.0
    gamma: float = 1.0

    def __post_init__(self) -> None:
        checks.number("amount", self.amount, 0, 1)
        checks.number("low", self.low, 0, 0.99)
        checks.number("high", self.high, self.low + 0.01, 1)
        checks.number("gamma", self.gamma, 0.1, 10)

    def factor(self, pressure: float) -> float:
        """The factor 0..1 at `pressure` 0..1."""
        reached = min(max((pressure - self.low) / (self.high - self.low), 0.0), 1.0)
        return float(1 - self.amount + self.amount * reached**self.gamma)


@dataclass(frozen=True)
class Brush:
    """All settings of a brush.

    size_px: diameter, 1..2000 canvas px. strength: the most that one stroke can do, 0..1. flow: share of
    it per dab, 0..1. edge: 0 hard to 1 soft (round tip; the mop is always soft). spacing: distance of
    dabs as a share of the size, 0.01..1. even: coverage inside one stroke is the greatest of its dabs
    instead of their build-up. stops, tone: exposure of dodge and burn. carry: how far a smudge drags
    paint, in sizes. pick_from: what a smudge picks up. nudge: how a nudge moves what is under it; "back" takes
    moves back. image: the coverage of an image tip, as PNG text of one grey (see `japanner.stroke.image_tip`).
    aim: whether dodge and burn go by stops or to the next value step of the part. keep_hue: what would leave the gamut
    loses chroma instead of shifting in hue. pick_up: a stroke lays the colour that it finds where it begins.
    """

    name: str
    kind: str = "lay"
    tip: str = "mop"
    size_px: float = 60.0
    strength: float = 1.0
    flow: float = 1.0
    edge: float = 0.5
    spacing: float = 0.05
    even: bool = True
    stops: float = 1.0
    tone: str = "all"
    carry: float = 0.6
    pick_from: str = "layer"
    nudge: str = "push"
    image: str = ""
    aim: str = "stops"
    keep_hue: bool = False
    pick_up: bool = False
    pressure_size: Response = field(default_factory=Response)
    pressure_strength: Response = field(default_factory=Response)
    pressure_flow: Response = field(default_factory=Response)

    def __post_init__(self) -> None:
        checks.text("name", self.name, 60)
        checks.one_of("kind", self.kind, BRUSH_KINDS)
        checks.one_of("tip", self.tip, TIPS)
        checks.number("size_px", self.size_px, SMALLEST_PX, LARGEST_PX)
        checks.number("strength", self.strength, 0, 1)
        checks.number("flow", self.flow, 0, 1)
        checks.number("edge", self.edge, 0, 1)
        checks.number("spacing", self.spacing, 0.01, 1)
        checks.one_of("tone", self.tone, TONES)
        checks.number("stops", self.stops, 0, 4)
        checks.number("carry", self.carry, 0.02, 10)
        checks.one_of("pick_from", self.pick_from, PICK_FROM)
        checks.one_of("nudge", self.nudge, NUDGE_WAYS)
        checks.one_of("aim", self.aim, AIMS)
        if not isinstance(self.image, str) or (self.tip == "image" and not self.image):
            raise InputError("image: an image tip needs a picture; make one from a layer or a file")
        for name in RESPONSES:
            if not isinstance(getattr(self, name), Response):
                raise InputError(f"{name}: expected a Response, got {getattr(self, name)!r:.60}")
        for name in ("even", "keep_hue", "pick_up"):
            if not isinstance(getattr(self, name), bool):
                raise InputError(f"{name}: expected true or false, got {getattr(self, name)!r}")

    def with_changes(self, **changes: Any) -> Brush:
        """The brush with some settings changed."""
        return replace(self, **changes)

    def to_record(self) -> dict[str, Any]:
        """The brush as JSON-ready data."""
        record = {one.name: getattr(self, one.name) for one in fields(self)}
        return {name: dict(vars(value)) if isinstance(value, Response) else value for name, value in record.items()}

    @staticmethod
    def from_record(record: Mapping[str, Any]) -> Brush:
        """A brush from JSON data; unknown names and wrong types raise InputError."""
        known = {f.name for f in fields(Brush)}
        if not isinstance(record, Mapping) or (unknown := sorted(set(record) - known)):
            raise InputError(f"brush: expected settings of a brush, got {unknown if record else record!r:.60}")
        values = dict(record)
        try:
            for name in RESPONSES:
                if name in values:
                    values[name] = Response(**values[name])
            return Brush(**values)
        except TypeError as error:
            raise InputError(f"brush: {error}") from None
