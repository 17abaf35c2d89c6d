"""The coat: mass, undercoat, body hair, guard hairs, light tips and edge tufts of a fur, along the comb field."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Final, TypeVar

import numpy as np
from numpy.typing import NDArray

from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Scene,
    Sheet,
    choice,
    encoded,
    number,
    painted_map,
)  # fmt: skip
from japanner.painting.makers.fur.hairs import AT_ONCE, planted, wanted
from japanner.painting.makers.fur.kinds import BODY, COATS, GUARD, STRAY, UNDER, Pass
from japanner.painting.makers.fur.pelt import PAINTED, WHERE, Pelt, free
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each
from japanner.strand.strands import Strands

__all__ = ["COAT"]

Floats = NDArray[np.float32]
T = TypeVar("T")


EDGE_ALONE: Final = "the edge alone"


def _mass(pelt: Pelt) -> Sheet:
    """The dark of the coat that is seen between hairs."""
    form = pelt.scene.form
    return Sheet("Mass", "shadow", form.area, encoded(np.clip(pelt.albedo * pelt.light * 0.42, 0, 1)), form.cover)


def _sheet(name: str, role: str, strands: Strands, scene: Scene) -> Sheet:
    drawn = strands.drawn(scene.form.area)
    cover = drawn[3] * free(scene, scene.form.area)
    return Sheet(name, role, scene.form.area, drawn[:3] / np.maximum(drawn[3], 1e-6), cover)


def _edge(scene: Scene, strands: Strands) -> Sheet:
    """What of the coat's hairs reaches out of the silhouette; within it they are seen in the body."""
    form = scene.form
    points = strands.points.reshape(-1, 2) if len(strands.points) else np.array(((form.area.x0, form.area.y0),))
    (x0, y0), (x1, y1) = points.min(axis=0) - 4, points.max(axis=0) + 4
    area = form.area.united(Rect(int(x0), int(y0), int(x1) + 1, int(y1) + 1)).intersected(scene.painting.rect)
    drawn = strands.drawn(area)
    cover = drawn[3] * free(scene, area)
    top, left = form.area.y0 - area.y0, form.area.x0 - area.x0
    # On pixels that the silhouette only partly covers it is whole, else what is behind would shine through as a line.
    cover[top : top + form.area.height, left : left + form.area.width] *= np.minimum(4 * (1 - form.cover), 1)
    return Sheet("Edge", "edge", area, drawn[:3] / np.maximum(drawn[3], 1e-6), cover)


def _make(scene: Scene) -> list[Sheet]:
    pelt = Pelt.of(scene)
    coat = pelt.coat
    kinds = [(one, 1.0) for one in BODY] + [(one, coat.guard * scene["guard"] / 100) for one in GUARD] + [(STRAY, 1.0)]
    edge_alone = scene["layers"] == EDGE_ALONE
    body = [lot for n, (one, share) in enumerate(kinds) for lot in _lots(pelt, one, share, f"pass {n}")]
    under = [] if edge_alone else _lots(pelt, UNDER, coat.under, "under")
    # Each lot has chance of its own, so that they can be planted side by side.
    found = _all_of([partial(_grown, pelt, *one) for one in (*body, *under)])
    scene.tell(0.45)
    over = len(body)
    # All of them in one order: one after another they would look like films.
    whole = Strands.together([one for one, _ in found[:over]], np.concatenate([rank for _, rank in found[:over]]))
    scene.tell(0.55)
    if edge_alone:
        return [_edge(scene, whole.where(_leaving(scene, whole)))]
    lowest = Strands.together([one for one, _ in found[over:]], np.concatenate([rank for _, rank in found[over:]]))
    sheets = [_mass(pelt), _sheet("Undercoat", "texture", lowest, scene), _sheet("Coat", "strands", whole, scene)]
    scene.tell(0.85)
    if scene["edge"] > 0:
        sheets.append(_edge(scene, whole.where(_leaving(scene, whole))))
    return sheets


def _lots(pelt: Pelt, one: Pass, share: float, name: str) -> list[tuple[Pass, float, str]]:
    """A pass in lots that are not too large."""
    count = max(-(-wanted(pelt, one, share) // AT_ONCE), 1)
    return [(one, share / count, f"{name} {k}") for k in range(count)]


def _grown(pelt: Pelt, one: Pass, share: float, name: str) -> tuple[Strands, NDArray[np.floating]]:
    """The strands of a lot, and the order to lay them in."""
    hairs = planted(pelt, one, share, name).shaped()
    return hairs.strands(), hairs.rank()


def _all_of(tasks: Sequence[Callable[[], T]]) -> list[T]:
    """What pieces of work come to that do not depend on each other."""
    found: dict[int, T] = {}

    def work(at: int) -> None:
        found[at] = tasks[at]()

    each(range(len(tasks)), work, worth_it=2)
    return [found[at] for at in range(len(tasks))]


def _leaving(scene: Scene, whole: Strands) -> NDArray[np.bool_]:
    """Which hairs end outside of the silhouette; a share of them by chance."""
    area, cover = scene.form.area, scene.form.cover
    padded = np.pad(cover, 1)
    i, j = (np.clip(np.floor(whole.points[:, -1, k] - start).astype(int) + 1, 0, side + 1)
            for k, start, side in ((0, area.x0, area.width), (1, area.y0, area.height)))  # fmt: skip
    chosen = scene.chance("edge").random(len(whole.points)) < scene["edge"] / 100
    return (padded[j, i] < 0.5) & chosen


COAT: Final = Maker(
    "coat", ("fur", "hair"), "A coat of fur along the comb lines: mass, undercoat, body and guard hairs, edge tufts",
    (
        choice("coat", "", tuple(COATS), "Kind of coat"),
        choice("layers", "makes", ("the whole coat", EDGE_ALONE), "All of it, or what breaks the edge of painted fur"),
        number("length", "long", 24, 2, 600, "Length of its hairs", unit=" px", px=True),
        *painted_map("length_map", "length", "A layer whose paint says how long: none is bare, full is all", WHERE),
        number("density", "dense", 60, 1, 200, "How many hairs", unit=" %"),
        *painted_map("density_map", "density", "A layer whose paint says how dense", WHERE),
        number("thick", "thick", 1.0, 0.2, 12, "Thickness of its hairs", unit=" px", digits=2, px=True),
        *painted_map("thick_map", "thickness", "A layer whose paint says how thick hairs are: fine to full", WHERE),
        number("guard", "guard hairs", 100, 0, 200, "How many long shining hairs stand over it", unit=" %"),
        number("clump", "tufts", 70, 0, 150, "How far hairs are drawn together", unit=" %"),
        *painted_map("clump_map", "tufts", "A layer whose paint says how strongly", WHERE),
        number("mess", "mess", 100, 0, 300, "How far hairs stray from the comb lines", unit=" %"),
        number("wave", "wave", 100, 0, 300, "How strongly they swing, where the coat or the comb says so", unit=" %"),
        *painted_map("wave_map", "wave", "A layer whose paint says how strongly", WHERE),
        number("contrast", "depth", 100, 0, 200, "Dark roots and light tips", unit=" %"),
        number("undertones", "undertones", 35, 0, 100, "How far hairs take those of the mixing grid", unit=" %"),
        number("variety", "variety", 100, 0, 300, "How much hairs differ in value", unit=" %"),
        *painted_map("pale_map", "silver", "A layer whose paint says where hairs are silver, as old ones are", WHERE),
        *painted_map("dark_map", "dark", "A layer whose paint says where hairs are dark, as on a saddle", WHERE),
        number("gloss", "gloss", 100, 0, 300, "How brightly it shines", unit=" %"),
        number("edge", "edge", 100, 0, 100, "How many hairs stand out over the silhouette", unit=" %"),
        number("wet", "wet", 0, 0, 100, "How wet it is: dark, glossy, in tufts with pinched tips and gaps between",
               unit=" %"),
        *painted_map("wet_map", "wet", "A layer whose paint says where it is wet", WHERE),
        number("tuft", "wet tufts", 20, 3, 400, "Width of wet tufts", unit=" px", px=True),
        choice("lit", "light", ("by the key light", PAINTED), "Work out the light, or take it from the paint beneath"),
        number("by_key", "of it", 100, 0, 100, "How much of the key light; the rest is as it is painted beneath",
               unit=" %"),
        *painted_map("lift_map", "lift", "A layer whose paint says where the coat is lighter", WHERE),
        *painted_map("deepen_map", "deepen", "A layer whose paint says where it is darker", WHERE),
        DEPTH,
    ),
    _make,
    combed=True,
    covers=True,
)  # fmt: skip
