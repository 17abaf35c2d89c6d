"""Where a stroke will land, in words, before it does."""

from __future__ import annotations

from japanner.desk.session.session import Session

__all__ = ["PLACE_WORDS", "landing_words"]

PLACE_WORDS = {"behind": "behind", "body": "inside", "over": "over"}
DOES = {
    "lay": "lays on", "dodge": "dodges", "burn": "burns", "smudge": "smudges", "feather": "feathers", "wipe": "wipes",
    "nudge": "nudges", "blur": "blurs", "sharpen": "sharpens", "comb": "combs", "glaze": "glazes",
}  # fmt: skip


def landing_words(session: Session) -> str:
    """What the brush in hand does, to what, and where that is."""
    layer, hand = session.layer, session.hand
    if layer is None:
        return "nothing to paint on yet"
    does = "wipes" if hand.wiping else DOES.get(hand.brush.kind, "works on" if hand.brush.changes_paint else "lays on")
    on = f"the mask of {layer.name}" if session.work.on == "mask" else layer.name
    return f"{does} {on}, {PLACE_WORDS[layer.place]}"
