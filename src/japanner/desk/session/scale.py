"""The value scale of the part worked on, from its flat."""

from __future__ import annotations

from japanner.color import lab
from japanner.desk.session.session import Session
from japanner.painting.model import DEFAULT_SCALE
from japanner.painting.operations import SetPart
from japanner.painting.value.mixing_grid import local_colour
from japanner.painting.value.value_scale import proposed_scale

__all__ = ["fit_scale", "fit_untouched_scale"]


def fit_scale(session: Session) -> bool:
    """Give the part five steps for its flat's value, its material and the light; False if it has no flat yet."""
    part = session.part
    local = local_colour(session.painting, part) if part is not None else None
    if part is None or local is None:
        return False
    value = float(lab.lightness_from_srgb(local))
    scale = proposed_scale(value, part.material, session.painting.light)
    if scale != part.scale:
        session.apply(SetPart(part.uid, {"scale": list(scale)}))
    return True


def fit_untouched_scale(session: Session) -> None:
    """Before paint is laid by its values: a scale that nobody has touched follows the flat."""
    if session.part is not None and session.part.scale == DEFAULT_SCALE:
        fit_scale(session)
