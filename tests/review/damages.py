"""What spoils a picture, one thing at a time: each does to a clean picture what its check is there to find."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from japanner.color import lab, srgb
from japanner.review.checks.eyes import pairs_in
from japanner.review.seen import Plane, Seen

Damage = Callable[[Seen], Plane]


def _with_values(seen: Seen, values: Plane) -> Plane:
    """The picture with other L*, in the hues that it has."""
    now = srgb.luminance(srgb.decode(seen.codes))
    wanted = lab.luminance_from_lightness(np.clip(values, 0, 100))
    linear = srgb.decode(seen.codes) * (wanted / np.maximum(now, 1e-4))[..., None]
    return srgb.encode(np.clip(linear, 0, 1)).astype(np.float32)


def _soft_within(plane: Plane, mask: np.ndarray, sigma: float) -> Plane:
    weight = mask.astype(np.float32)
    total = cv2.GaussianBlur(weight, (0, 0), sigma)
    whole = plane if plane.ndim == 3 else plane[..., None]
    soft = cv2.GaussianBlur(whole * weight[..., None], (0, 0), sigma)
    soft = soft.reshape(whole.shape) / np.maximum(total, 1e-4)[..., None]
    return soft if plane.ndim == 3 else soft[..., 0]


def largest(seen: Seen, *materials: str):
    return max(seen.made_of(*materials), key=lambda one: int(one.mask.sum()))


def blended_to_mud(seen: Seen) -> Plane:
    codes = seen.codes.copy()
    for one in seen.made_of("skin", "hair", "fur", "cloth"):
        codes[one.mask] = _soft_within(seen.codes, one.mask, 12 * seen.px)[one.mask]
    return codes


def shadows_greyed(seen: Seen) -> Plane:
    found = seen.lab.copy()
    for one in seen.made_of("skin"):
        dark = one.mask & (seen.values < np.percentile(seen.values[one.mask], 32))
        found[dark, 1:] *= 0.25
    return np.clip(lab.srgb_from_lab(found), 0, 1).astype(np.float32)


def light_flipped_on_a_part(seen: Seen) -> Plane:
    one = largest(seen, "fur", "skin", "hair")
    form = seen.form(one)
    rows, columns = seen.planes_of(form)
    key = np.asarray(seen.painting.light.direction, np.float32)
    # All light that is there is taken off, and given from the other side.
    inside = one.mask[rows, columns]
    base = np.where(inside, cv2.GaussianBlur(seen.luminance[rows, columns], (0, 0), 30 * seen.px), 1)
    other = np.clip(np.einsum("i,ihw->hw", key * (-1, -1, 1), form.normal), 0, 1) ** 1.2
    wanted = 0.02 + other * float(np.percentile(base[inside], 90))
    codes = seen.codes.copy()
    linear = srgb.decode(codes[rows, columns]) * (wanted / np.maximum(base, 1e-3))[..., None]
    codes[rows, columns] = np.where(inside[..., None], srgb.encode(np.clip(linear, 0, 1)), codes[rows, columns])
    return codes


def hair_turned(seen: Seen) -> Plane:
    one = largest(seen, "fur", "hair")
    broad = cv2.GaussianBlur(seen.values, (0, 0), 8 * seen.px)
    fine, side = seen.values - broad, max(round(60 * seen.px), 16)
    turned = fine.copy()
    for y in range(0, fine.shape[0] - side + 1, side):
        for x in range(0, fine.shape[1] - side + 1, side):
            turned[y : y + side, x : x + side] = np.rot90(fine[y : y + side, x : x + side])
    return np.where(one.mask[..., None], _with_values(seen, broad + turned), seen.codes)


def one_eye_moved(seen: Seen) -> Plane:
    first, second = pairs_in(seen)[0]
    apart = np.hypot(*np.subtract(first.middle, second.middle))
    (x, y), reach = first.middle, 1.6 * first.half
    shift = round(0.06 * apart)
    height, width = seen.values.shape
    rows, columns = np.mgrid[:height, :width].astype(np.float32)
    near = np.clip(2.2 - 1.2 * np.hypot(columns - x, rows - y) / reach, 0, 1)
    return cv2.remap(seen.codes, columns, (rows - shift * near).astype(np.float32), cv2.INTER_LINEAR)


def catch_light_on_the_wrong_side(seen: Seen) -> Plane:
    codes = seen.codes.copy()
    y, x = np.mgrid[: codes.shape[0], : codes.shape[1]]
    for one in (eye for pair in pairs_in(seen) for eye in pair):
        if one.catch is None:
            continue
        old, size = np.array(one.catch), max(0.16 * one.half, 1.5)
        fresh = 2 * np.array(one.iris) - old
        near = np.hypot(x - one.iris[0], y - one.iris[1]) < 0.8 * one.half
        bright = near & one.mask & (seen.values > np.percentile(seen.values[near & one.mask], 50) + 8)
        bright = cv2.dilate(bright.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
        codes[bright] = np.median(seen.codes[near & one.mask & ~bright], axis=0)
        codes[np.hypot(x - fresh[0], y - fresh[1]) < size] = 0.97
    return codes


def values_squeezed(seen: Seen) -> Plane:
    return _with_values(seen, 42 + 0.4 * (seen.values - 42))


def figure_like_the_ground(seen: Seen) -> Plane:
    """Next to its edge the figure takes on the value of what is behind it."""
    figure = ~seen.ground
    beside = _soft_within(seen.values, seen.ground, 30 * seen.px)
    near = np.exp(-((cv2.distanceTransform(figure.astype(np.uint8), cv2.DIST_L2, 5) / (60 * seen.px)) ** 2))
    fine = seen.values - cv2.GaussianBlur(seen.values, (0, 0), 6 * seen.px)
    values = seen.values * (1 - near) + (beside + 0.6 * fine) * near
    return np.where(figure[..., None], _with_values(seen, values), seen.codes)


def striped(seen: Seen) -> Plane:
    x = np.arange(seen.values.shape[1])[None]
    bands = 4.5 * np.sign(np.sin(2 * np.pi * x / (26 * seen.px)))
    return np.where(seen.ground[..., None], seen.codes, _with_values(seen, seen.values + bands))


def edges_sharpened(seen: Seen) -> Plane:
    """Either side goes on unchanged up to the silhouette, in one hard cut, lighter inside than out."""
    figure = ~seen.ground
    away = np.minimum(*(cv2.distanceTransform(one.astype(np.uint8), cv2.DIST_L2, 5) for one in (figure, ~figure))) + (
        np.abs(cv2.distanceTransform(figure.astype(np.uint8), cv2.DIST_L2, 5)
               - cv2.distanceTransform((~figure).astype(np.uint8), cv2.DIST_L2, 5)))  # fmt: skip
    band = away < 30 * seen.px
    inner = _soft_within(seen.values, figure & ~band, 20 * seen.px)
    outer = _soft_within(seen.values, ~figure & ~band, 20 * seen.px)
    fine = seen.values - cv2.GaussianBlur(seen.values, (0, 0), 4 * seen.px)
    values = np.where(figure, np.maximum(inner, outer + 12) + 0.5 * fine, outer)
    return np.where(band[..., None], _with_values(seen, values), seen.codes)


def flat_left_bare(seen: Seen) -> Plane:
    size = seen.codes.shape[0] * seen.codes.shape[1]
    one = min(
        (one for one in seen.made_of("fur", "hair", "skin", "cloth") if one.mask.sum() > 0.01 * size),
        key=lambda one: int(one.mask.sum()),
    )
    codes = seen.codes.copy()
    codes[one.mask] = np.median(seen.codes[one.mask], axis=0)
    return codes


def clipped(seen: Seen) -> Plane:
    return np.clip((seen.codes - 0.22) / 0.36, 0, 1)


DAMAGES: dict[str, tuple[Damage, str]] = {
    "blended to mud": (blended_to_mud, "blending"),
    "shadows greyed": (shadows_greyed, "skin shadows"),
    "light flipped": (light_flipped_on_a_part, "light"),
    "hair turned": (hair_turned, "hair and comb"),
    "one eye moved": (one_eye_moved, "eyes"),
    "catch light on the wrong side": (catch_light_on_the_wrong_side, "catch lights"),
    "values squeezed": (values_squeezed, "value range"),
    "figure like the ground": (figure_like_the_ground, "figure against ground"),
    "stripes": (striped, "stripes"),
    "edges sharpened": (edges_sharpened, "edges"),
    "flat left bare": (flat_left_bare, "unfinished flats"),
    "clipped": (clipped, "clipping"),
}
