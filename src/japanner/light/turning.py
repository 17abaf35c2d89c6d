"""Turns of forms and figures."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

__all__ = ["turned"]


def turned(turn: tuple[float, float, float]) -> NDArray[np.float64]:
    """The matrix (3, 3) of a turn: roll about z first, then pitch about x (up is positive), then yaw about y (to the
    viewer's right is positive); degrees.
    """
    yaw, pitch, roll = turn
    result: NDArray[np.float64] = scipy.spatial.transform.Rotation.from_euler(
        "yxz", (yaw, -pitch, roll), degrees=True
    ).as_matrix()
    return result
