"""What can be said of a figure: sliders by name, in chapters, with the words of the trade and of anatomy."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Final, TypedDict

from japanner import checks
from japanner.errors import InputError

__all__ = ["CHAPTERS", "ORIGINS", "Slider", "checked", "sliders"]

SIDES: Final = ("l", "r")
ORIGINS: Final = {"African": "african", "Asian": "asian", "European": "caucasian"}


@dataclass(frozen=True)
class Slider:
    """less, more: targets that it moves points by, below and above `rest`; none where the figure knows better.

    seldom: it stands behind the others, under *all*. fitted: a likeness is sought by it, too.
    """

    name: str
    chapter: str
    less: tuple[str, ...] = ()
    more: tuple[str, ...] = ()
    low: float = -1.0
    high: float = 1.0
    rest: float = 0.0
    unit: str = ""
    seldom: bool = False
    fitted: bool = True


# Name; targets, with {} for either side, and the two words that end them; in front a + for seldom ones, a * for those
# that no likeness is sought by, either.
_TABLE: Final = {
    "head": """
        head width: head/head-scale-horiz decr incr
        head length: head/head-scale-vert decr incr
        head depth: head/head-scale-depth decr incr
        +skull depth: head/head-back-scale-depth decr incr
        face fat: head/head-fat decr incr
        *wrinkles: head/head-age decr incr
        *oval: head/head - oval
        *round: head/head - round
        *square: head/head - square
        *rectangle: head/head - rectangular
        *triangle: head/head - triangular
        *wedge: head/head - invertedtriangular
        *diamond: head/head - diamond
        *carriage: head/head-angle in out
    """,
    "forehead and brows": """
        forehead height: forehead/forehead-scale-vert decr incr
        forehead slope: forehead/forehead-trans forward backward
        +temples: forehead/forehead-temple decr incr
        *forehead bulge: forehead/forehead-nubian decr incr
        brow height: eyebrows/eyebrows-trans down up
        +brow angle: eyebrows/eyebrows-angle down up
        brow ridge: eyebrows/eyebrows-trans backward forward
    """,
    "eyes": """
        eye size: eyes/{}-eye-scale decr incr
        eyes apart: eyes/{}-eye-trans in out
        *eye height: eyes/{}-eye-trans down up
        +inner opening: eyes/{}-eye-height1 decr incr
        lid opening: eyes/{}-eye-height2 decr incr
        +outer opening: eyes/{}-eye-height3 decr incr
        +inner corner: eyes/{}-eye-corner1 down up
        outer corner: eyes/{}-eye-corner2 down up
        +inner fold: eyes/{}-eye-epicanthus out in
        lid fold: eyes/{}-eye-eyefold down up
        *fold fullness: eyes/{}-eye-eyefold concave convex
        *fold angle: eyes/{}-eye-eyefold-angle down up
        bags: eyes/{}-eye-bag decr incr
        *bag depth: eyes/{}-eye-bag in out
        *bag height: eyes/{}-eye-bag-height decr incr
        *inner set back: eyes/{}-eye-push1 out in
        *outer set back: eyes/{}-eye-push2 out in
    """,
    "nose": """
        nose length: nose/nose-scale-vert decr incr
        nose width: nose/nose-scale-horiz decr incr
        nose projection: nose/nose-scale-depth decr incr
        hump: nose/nose-hump decr incr
        +nose curve: nose/nose-curve concave convex
        tip height: nose/nose-point down up
        +tip width: nose/nose-point-width decr incr
        +wings width: nose/nose-width3 decr incr
        +bridge width: nose/nose-width1 decr incr
        *middle bridge: nose/nose-width2 decr incr
        *root of the nose: nose/nose-greek decr incr
        +nostril width: nose/nose-nostrils-width decr incr
        *nostril angle: nose/nose-nostrils-angle down up
        *flare: nose/nose-flaring decr incr
        *nose base: nose/nose-base down up
        *septum: nose/nose-septumangle decr incr
        *nose volume: nose/nose-volume decr incr
        *nose pressed: nose/nose-compression uncompress compress
        *nose height: nose/nose-trans down up
        *nose forward: nose/nose-trans backward forward
    """,
    "mouth": """
        mouth width: mouth/mouth-scale-horiz decr incr
        +mouth height: mouth/mouth-trans down up
        +mouth forward: mouth/mouth-trans backward forward
        upper fullness: mouth/mouth-upperlip-volume decr incr
        lower fullness: mouth/mouth-lowerlip-volume decr incr
        +upper height: mouth/mouth-upperlip-height decr incr
        +lower height: mouth/mouth-lowerlip-height decr incr
        +bow: mouth/mouth-cupidsbow decr incr
        mouth corners: mouth/mouth-angles down up
        *bow width: mouth/mouth-cupidsbow-width decr incr
        *upper lip width: mouth/mouth-upperlip-width decr incr
        *lower lip width: mouth/mouth-lowerlip-width decr incr
        *upper lip middle: mouth/mouth-upperlip-middle down up
        *lower lip middle: mouth/mouth-lowerlip-middle down up
        *upper lip ends: mouth/mouth-upperlip-ext down up
        *lower lip ends: mouth/mouth-lowerlip-ext down up
        *mouth scale: mouth/mouth-scale-vert decr incr
        *mouth depth: mouth/mouth-scale-depth decr incr
        *philtrum: mouth/mouth-philtrum-volume decr incr
        *dimples: mouth/mouth-dimples out in
        *laugh lines: mouth/mouth-laugh-lines out in
    """,
    "chin and jaw": """
        chin height: chin/chin-height decr incr
        chin width: chin/chin-width decr incr
        chin projection: chin/chin-prominent decr incr
        +jaw forward: chin/chin-prognathism decr incr
        jaw height: chin/chin-jaw-drop decr incr
        *jaw bone: chin/chin-bones decr incr
        *cleft chin: chin/chin-cleft decr incr
        *pointed chin: chin/chin - triangle
    """,
    "cheeks": """
        cheek bones: cheek/{}-cheek-bones decr incr
        cheek fullness: cheek/{}-cheek-volume decr incr
        +hollow cheeks: cheek/{}-cheek-inner incr decr
        +cheek height: cheek/{}-cheek-trans down up
    """,
    "ears": """
        ear size: ears/{}-ear-scale decr incr
        ears stand off: ears/{}-ear-wing decr incr
        +lobe: ears/{}-ear-lobe decr incr
        +ear slant: ears/{}-ear-rot forward backward
        *ear height: ears/{}-ear-trans down up
        *ear set back: ears/{}-ear-trans forward backward
        *ear length: ears/{}-ear-scale-vert decr incr
        *ear thickness: ears/{}-ear-scale-depth decr incr
        *ear flap: ears/{}-ear-flap decr incr
        *pointed ear: ears/{}-ear-shape - pointed
        *round ear: ears/{}-ear-shape - round
        *square ear: ears/{}-ear-shape - square
        *triangular ear: ears/{}-ear-shape - triangle
    """,
    "neck and shoulders": """
        neck width: neck/neck-scale-horiz decr incr
        neck length: neck/neck-scale-vert decr incr
        +neck depth: neck/neck-scale-depth decr incr
        +double chin: neck/neck-double decr incr
        shoulder width: torso/measure-shoulder-dist decr incr
        *nape: neck/neck-back-scale-depth decr incr
        *neck girth: neck/measure-neck-circ decr incr
        *neck reach: neck/measure-neck-height decr incr
    """,
    "asymmetry": """
        brow uneven: asym/asym-brown-1 l r
        +ridge uneven: asym/asym-brown-2 l r
        +cheek uneven: asym/asym-cheek-1 l r
        *cheek bone uneven: asym/asym-cheek-2 l r
        eye height uneven: asym/asym-eye-1 l r
        +eye width uneven: asym/asym-eye-2 l r
        *inner corner uneven: asym/asym-eye-3 l r
        *outer corner uneven: asym/asym-eye-4 l r
        *upper lid uneven: asym/asym-eye-5 l r
        *lower lid uneven: asym/asym-eye-6 l r
        *lid fold uneven: asym/asym-eye-7 l r
        *eye depth uneven: asym/asym-eye-8 l r
        nose leans: asym/asym-nose-1 l r
        +nose tip uneven: asym/asym-nose-2 l r
        *nose bridge uneven: asym/asym-nose-3 l r
        *nostrils uneven: asym/asym-nose-4 l r
        mouth leans: asym/asym-mouth-1 l r
        +mouth corners uneven: asym/asym-mouth-2 l r
        +jaw leans: asym/asym-jaw-1 l r
        *jaw uneven: asym/asym-jaw-2 l r
        *jaw angle uneven: asym/asym-jaw-3 l r
        *ear uneven: asym/asym-ear-1 l r
        *ear height uneven: asym/asym-ear-2 l r
        *ear slant uneven: asym/asym-ear-3 l r
        *ear size uneven: asym/asym-ear-4 l r
        *temple uneven: asym/asym-temple-1 l r
        *temple bone uneven: asym/asym-temple-2 l r
        *crown uneven: asym/asym-top-1 l r
        *crown bone uneven: asym/asym-top-2 l r
    """,
}
# Expressions have a target for each origin; {} for either side.
_EXPRESSIONS: Final = """
    brows up: eyebrows-{}-up
    +inner brows up: eyebrows-{}-inner-up
    +outer brows up: eyebrows-{}-extern-up
    frown: eyebrows-{}-down
    lids closed: eye-{}-closure
    +lids wide: eye-{}-opened-up
    +narrowed eyes: eye-{}-slit
    smile: mouth-corner-puller
    mouth open: mouth-open
    lips parted: mouth-parling
    +lips pressed: mouth-compression
    +pout: mouth-protusion
    +pursed lips: mouth-pursing
    +corners back: mouth-retraction
    +corners down: mouth-depression
    *lips turned out: mouth-eversion
    *lips raised: mouth-elevation
    *mouth drawn up: mouth-upward-retraction
    *mouth drawn down: mouth-depression-retraction
    *mouth to the side: mouth-part-later
    +nostrils wide: nose-{}-dilatation
    +nose wrinkled: nose-{}-elevation
    *nose drawn down: nose-depression
    *nostrils narrow: nose-compression
    *neck tense: neck-platysma
"""
_PERSON: Final = (
    Slider("man", "person", low=0, high=1, rest=0.5),
    Slider("age", "person", low=1, high=90, rest=30, unit="years"),
    *(Slider(name, "person", low=0, high=1, rest=1 / 3) for name in ORIGINS),
    Slider("weight", "person"),
    Slider("muscle", "person"),
)
_POSE: Final = (
    Slider("turn", "pose", low=-70, high=70, unit="°"),
    Slider("nod", "pose", low=-40, high=40, unit="°"),
    Slider("tilt", "pose", low=-30, high=30, unit="°"),
    Slider("gaze aside", "pose", low=-40, high=40, unit="°"),
    Slider("gaze up", "pose", low=-30, high=30, unit="°"),
)
CHAPTERS: Final = ("person", "pose", *_TABLE, "expression")
"""What sliders are sorted by."""


@cache
def sliders() -> dict[str, Slider]:
    """Every slider by its name, in the order of the chapters."""
    found = [*_PERSON, *_POSE]
    for chapter, lines in _TABLE.items():
        found += _of_chapter(chapter, lines)
    found += _expressions()
    return {one.name: one for one in found}


class _Marks(TypedDict):
    seldom: bool
    fitted: bool


def _lines(text: str) -> Iterator[tuple[str, str, _Marks]]:
    for line in text.strip().splitlines():
        name, rest = line.strip().split(": ", 1)
        yield name.lstrip("*+"), rest, {"seldom": name[0] in "*+", "fitted": name[0] != "*"}


def _of_chapter(chapter: str, lines: str) -> Iterator[Slider]:
    for name, rest, marks in _lines(lines):
        stem, less, more = rest.split()
        low = () if less == "-" else _both_sides(f"{stem}-{less}")
        yield Slider(name, chapter, low, _both_sides(f"{stem}-{more}"), -1.0 if low else 0.0, **marks)


def _expressions() -> Iterator[Slider]:
    for name, rest, marks in _lines(_EXPRESSIONS):
        both = [rest.format(side) for side in ("left", "right")] if "{}" in rest else [rest]
        yield Slider(name, "expression", (), tuple(both), 0.0, 1.0, **marks)


def _both_sides(target: str) -> tuple[str, ...]:
    return tuple(target.format(side) for side in SIDES) if "{}" in target else (target,)


def checked(given: Mapping[str, float]) -> dict[str, float]:
    """Values by slider, without those at rest; InputError for what is no slider or out of its range."""
    known = sliders()
    for name, value in given.items():
        if name not in known:
            raise InputError(f"sliders: expected a figure's sliders, got {checks.shown(name)}")
        checks.number(name, value, known[name].low, known[name].high)
    return {name: float(value) for name, value in given.items() if value != known[name].rest}
