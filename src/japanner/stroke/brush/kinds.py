"""Kinds of brushes: one record each, and the only place that knows them by name.

A new kind needs a line here, and if no stroke there is can draw it, a file in `japanner.stroke.kinds`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

__all__ = ["KINDS", "BrushKind"]


@dataclass(frozen=True)
class BrushKind:
    """What a brush of this kind is like.

    stroke: which stroke draws it. lays: it puts colour down; plain: that in hand, as it is; strews: in scattered
    spots. tonal: it moves value or chroma; exposes: in stops, up (1) or down (-1). drags: it takes paint along;
    blade: as a palette knife does. levels: it makes paint softer or harder where it lies; at_edges: only along
    edges of the form. pushes: it moves pixels. changes_paint: it needs paint on the layer. piles_up: its paint may
    lie thick; takes_along: it does to the thickness what it does to the paint. keeps_grain: it can leave the grain
    where it is. hair: it draws hairs; coat: those of a pelt; grows: new ones, in rows, as maps say; from_paint:
    made of paint that is there; spaced: dab by dab, and not along the stroke as a whole; bundle, single, row: a
    lock, one hair, or hairs side by side along the stroke.
    """

    name: str
    stroke: str = "coverage"
    lays: bool = False
    plain: bool = False
    strews: bool = False
    tonal: bool = False
    exposes: int = 0
    drags: bool = False
    blade: bool = False
    levels: bool = False
    at_edges: bool = False
    pushes: bool = False
    changes_paint: bool = False
    piles_up: bool = False
    takes_along: bool = False
    keeps_grain: bool = False
    hair: bool = False
    coat: bool = False
    grows: bool = False
    from_paint: bool = False
    spaced: bool = True
    bundle: bool = False
    single: bool = False
    row: bool = False


def _tone(name: str, *, exposes: int = 0) -> BrushKind:
    return BrushKind(name, tonal=True, exposes=exposes, changes_paint=True)


KINDS: Final = {
    kind.name: kind
    for kind in (
        BrushKind("lay", lays=True, plain=True, piles_up=True),
        BrushKind("wipe", takes_along=True),
        BrushKind("glaze", lays=True),
        BrushKind("scumble", lays=True, piles_up=True),
        BrushKind("spots", lays=True, strews=True, piles_up=True),
        _tone("dodge", exposes=1),
        _tone("burn", exposes=-1),
        _tone("desaturate"),
        _tone("saturate"),
        BrushKind("smudge", "drag", drags=True, takes_along=True, keeps_grain=True),
        BrushKind("knife", "drag", drags=True, blade=True, takes_along=True, keeps_grain=True),
        BrushKind("feather", "feather", takes_along=True, keeps_grain=True),
        BrushKind("blur", levels=True, takes_along=True),
        BrushKind("sharpen", levels=True),
        BrushKind("lose", levels=True, takes_along=True, at_edges=True),
        BrushKind("find", levels=True, at_edges=True),
        BrushKind("nudge", "nudge", pushes=True, changes_paint=True, takes_along=True),
        BrushKind("fur", "fur", hair=True, coat=True, grows=True),
        BrushKind("comb", "fur", hair=True, coat=True, from_paint=True),
        BrushKind("lock", "lock", hair=True, spaced=False, bundle=True),
        BrushKind("strand", "lock", hair=True, spaced=False, single=True),
        BrushKind("fringe", "lock", hair=True, spaced=False, row=True),
    )
}
