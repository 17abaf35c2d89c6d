"""Where a stroke will land, in words, before it does."""

from __future__ import annotations

from japanner.desk.session.session import Session
from japanner.painting.live.landing import landing

__all__ = ["PLACE_WORDS", "landing_words", "place_words"]

PLACE_WORDS = {"behind": "behind", "body": "inside", "over": "over"}
DOES = {
    "lay": "lays on", "dodge": "dodges", "burn": "burns", "smudge": "smudges", "feather": "feathers", "wipe": "wipes",
    "nudge": "nudges", "blur": "blurs", "sharpen": "sharpens", "lose": "loses edges", "find": "finds edges",
    "comb": "combs", "glaze": "glazes",
}  # fmt: skip


def landing_words(session: Session) -> str:
    """What the brush in hand does, to what, and where that is."""
    layer, hand = session.layer, session.hand
    if layer is None:
        return "nothing to paint on yet"
    does = "wipes" if hand.wiping else DOES.get(hand.brush.kind, "works on" if hand.brush.changes_paint else "lays on")
    place = landing(session.painting, layer.uid, hand.brush, wipes=hand.wiping, on=session.work.on)
    if place.make is not None:
        return f"{does} a new layer, over"
    if place.layer is not None and place.layer != layer.uid:
        layer = session.painting.layer(place.layer)
    on = f"the mask of {layer.name}" if session.work.on == "mask" else layer.name
    return f"{does} {on}, {PLACE_WORDS[layer.place]}"


def _follows(session: Session) -> list[str]:
    """What hairs of the brush in hand follow."""
    brush, part = session.hand.brush, session.part
    if not brush.does.hair or part is None:
        return []
    if brush.turn == "form":
        return ["hairs follow the form"]
    if brush.turn != "comb":
        return ["hairs follow the hand"]
    combed = bool(part.comb) or bool(part.flats)
    return ["hairs follow the comb" if combed else "hairs follow the hand: there is no comb yet"]


def place_words(session: Session) -> list[str]:
    """Where strokes go, for the foot of the easel: place, part and layer, and what limits them there."""
    part, layer, hand = session.part, session.layer, session.hand
    if layer is None or part is None:
        return []
    place = landing(session.painting, layer.uid, hand.brush, wipes=hand.wiping, on=session.work.on)
    if place.make is not None:
        return [f"Over: {part.name} · a new layer of {place.make.role}", *_follows(session)]
    if place.layer is not None:
        layer = session.painting.layer(place.layer)
    on = " · mask" if session.work.on == "mask" else ""
    words = [f"{PLACE_WORDS[layer.place].capitalize()}: {part.name} · {layer.name}{on}", *_follows(session)]
    return [*words, "holds edges"] if layer.hold_edges else words
