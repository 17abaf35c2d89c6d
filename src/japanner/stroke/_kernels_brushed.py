"""Strokes of a flat bristle brush over a target, each along the form, laid on the layer of its value."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import (
    FLAGS_IN,
    FLOATS,
    LABELS_IN,
    ONE_F,
    PLANE_IN,
    PLANES,
    PLANES_IN,
    STACK,
    TABLE,
    inlined,
    kernel,
    void,
)

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
MOST_POINTS = 96


@inlined
def _bristle(seed, number):
    """How much paint a bristle holds, 0.25..1, the same for the same stroke."""
    h = np.uint32(seed) * np.uint32(747796405) + np.uint32(number) * np.uint32(2891336453)
    h = (h ^ (h >> np.uint32(15))) * np.uint32(277803737)
    h ^= h >> np.uint32(13)
    return F(0.25) + F(0.75) * F(h & np.uint32(0xFFFF)) / F(65535)


@inlined
def _path(x, y, width, length, turn, stop, value, along, allowed, path):
    """Follow the form from where a stroke begins; x, y and angle of its points into `path` (n, 3), and how many."""
    height, across = value.shape
    step = max(width * F(0.3), F(0.8))
    most = min(int(length / step) + 1, MOST_POINTS)
    own = value[int(y), int(x)]
    count = 0
    px, py, heading = x, y, F(0)
    while count < most:
        i, j = int(px), int(py)
        if i < 0 or j < 0 or i >= across or j >= height or not allowed[j, i] or abs(value[j, i] - own) > stop:
            break
        angle = along[j, i] + turn
        if count and np.cos(angle - heading) < ZERO:
            angle += F(np.pi)
        heading = angle
        path[count, 0], path[count, 1], path[count, 2] = px, py, angle
        count += 1
        px, py = px + step * np.cos(angle), py + step * np.sin(angle)
    return count


@inlined
def _stamp(path, count, width, seed, scratch, x0, y0, x1, y1):
    """The coverage of a stroke into scratch[: y1 - y0, : x1 - x0]."""
    half = width * HALF
    step = max(width * F(0.3), F(0.8))
    thin = F(0.5) * step + F(0.5)
    for k in range(count):
        px, py, c, s = path[k, 0], path[k, 1], np.cos(path[k, 2]), np.sin(path[k, 2])
        at = F(k) / F(max(count - 1, 1))
        load = min(at / F(0.12) + F(0.35), ONE) * min((ONE - at) / F(0.3) + F(0.15), ONE)
        reach = half + thin + ONE
        for j in range(max(int(py - reach), y0), min(int(py + reach) + 2, y1)):
            for i in range(max(int(px - reach), x0), min(int(px + reach) + 2, x1)):
                u, v = F(i) + HALF - px, F(j) + HALF - py
                ahead, aside = u * c + v * s, v * c - u * s
                if abs(ahead) > thin or abs(aside) > half + HALF:
                    continue
                edge = min(half + HALF - abs(aside), ONE)
                place = (aside + half) / max(width, F(1e-3)) * max(min(width * HALF, F(24)), F(2))
                first = int(place)
                share = place - F(first)
                hair = _bristle(seed, first) * (ONE - share) + _bristle(seed, first + 1) * share
                # A drying brush keeps to its fullest bristles.
                dry = min(max((hair - (ONE - load)) * F(4) + F(0.4), ZERO), ONE)
                found = edge * dry * (F(0.55) + F(0.45) * hair)
                if found > scratch[j - y0, i - x0]:
                    scratch[j - y0, i - x0] = found


@inlined
def _error(canvas, target, x, y, reach):
    """How far the canvas is from the target about a place: the mean of five points, by the mean of the channels."""
    height, across = canvas.shape[1:]
    total = ZERO
    for k in range(5):
        i = min(max(int(x + (reach if k == 1 else -reach if k == 2 else ZERO)), 0), across - 1)
        j = min(max(int(y + (reach if k == 3 else -reach if k == 4 else ZERO)), 0), height - 1)
        for channel in range(3):
            total += abs(canvas[channel, j, i] - target[channel, j, i])
    return total / F(15)


@inlined
def _rank(layer, layers):
    """Where the layer of a value stands in the build: from the middle down, then up."""
    middle = layers // 2
    return middle - layer if layer <= middle else layer


@kernel(void(FLOATS, LABELS_IN, ONE_F, ONE_F, ONE_F, PLANES_IN, PLANE_IN, PLANE_IN, FLAGS_IN, TABLE, PLANES, STACK))
def strokes(rows, seeds, strength, error, stop, target, value, along, allowed, middles, canvas, painted):
    """Lay strokes one after another.

    rows (n, 6): x, y, width, length, change of brightness, turn in radians; seeds (1, n). error: a stroke is laid only
    where the canvas is further from the target. stop: L* by which the value may leave the stroke's. target (3, h, w)
    encoded, value (h, w) L*, along (h, w) radians, allowed (h, w). middles: L* between the layers. canvas (3, h, w):
    what all layers show together; painted (layers, 4, h, w) premultiplied, in the order of values.
    """
    height, across = value.shape
    layers = painted.shape[0]
    path = np.empty((MOST_POINTS, 3), np.float32)
    scratch = np.zeros((height, across), np.float32)
    for n in range(rows.shape[0]):
        x, y, width, length = rows[n, 0], rows[n, 1], rows[n, 2], rows[n, 3]
        if error > ZERO and _error(canvas, target, x, y, width * F(0.3)) < error:
            continue
        count = _path(x, y, width, length, rows[n, 5], stop, value, along, allowed, path)
        if count == 0:
            continue
        x0, x1, y0, y1 = across, 0, height, 0
        for k in range(count):
            x0, x1 = min(x0, int(path[k, 0] - width - ONE)), max(x1, int(path[k, 0] + width) + 3)
            y0, y1 = min(y0, int(path[k, 1] - width - ONE)), max(y1, int(path[k, 1] + width) + 3)
        x0, x1, y0, y1 = max(x0, 0), min(x1, across), max(y0, 0), min(y1, height)
        _stamp(path, count, width, seeds[0, n], scratch, x0, y0, x1, y1)
        own = value[int(y), int(x)] + rows[n, 4] * F(100)
        layer = 0
        while layer < middles.size and own > middles[layer]:
            layer += 1
        for j in range(uintp(y0), uintp(y1)):
            for i in range(uintp(x0), uintp(x1)):
                cover = scratch[j - y0, i - x0]
                if cover <= ZERO:
                    continue
                scratch[j - y0, i - x0] = ZERO
                if not allowed[j, i]:
                    continue
                a = cover * strength
                for other in range(layers):
                    # Halftone lies first, then shadow and accent, then light and highlight.
                    above = _rank(other, layers) > _rank(layer, layers)
                    if other == layer or above:
                        for channel in range(4):
                            painted[other, channel, j, i] *= ONE - a
                for channel in range(3):
                    c = min(max(target[channel, int(y), int(x)] + rows[n, 4], ZERO), ONE)
                    painted[layer, channel, j, i] += a * c
                    before = canvas[channel, j, i]
                    canvas[channel, j, i] = c if before < ZERO else before + a * (c - before)
                painted[layer, 3, j, i] += a
