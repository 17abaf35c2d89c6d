"""Tidebell: Brindle, an old otter, keeps the bell that rings when the tide turns. Painted from nothing, as a lesson.

Eight stages, one function each, in the order in which such a picture is painted. Read `stages` first.
"""

from __future__ import annotations

from japanner.demo.tidebell.stages import STAGES, paint

__all__ = ["STAGES", "paint"]
