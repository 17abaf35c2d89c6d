"""Solid balls and hollow shells of glass, of radius 1: how light goes through them, and where it gathers."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.light.optics import snell
from japanner.light.shading import fresnel

__all__ = ["Caustic", "Passage", "caustic", "through_ball", "through_shell"]

Floats = NDArray[np.floating[Any]]


class Passage(NamedTuple):
    """What becomes of rays that meet a ball at `rho`, 0..1 of its radius.

    way: how long they go in glass. turn: how far they are turned towards the axis, radians, below 0 away from it. out:
    how far from the axis they leave, below 0 on its other side. share: what is not mirrored on the way, 0..1.
    """

    way: Floats
    turn: Floats
    out: Floats
    share: Floats


def through_ball(rho: ArrayLike, index: float) -> Passage:
    """Through a solid ball (Snell and Fresnel)."""
    theta = np.arcsin(np.clip(np.asarray(rho, float), 0, 1))
    inner = snell(theta, index)
    kept = (1 - fresnel(np.cos(theta), index)) ** 2
    # It leaves at the angle 2 * inner - theta from the far end of the axis.
    return Passage(2 * np.cos(inner), 2 * (theta - inner), np.sin(2 * inner - theta), kept)


def through_shell(rho: ArrayLike, index: float, wall: float) -> Passage:
    """Through a hollow ball whose wall is so thick; past its cavity's edge light is thrown back wholly by the cavity's
    wall, or never meets it.
    """
    checks.number("wall", wall, 0.001, 0.9)
    r = np.clip(np.asarray(rho, float), 0, 1)
    inside, theta = 1 - wall, np.arcsin(np.clip(np.asarray(rho, float), 0, 1))
    glass = np.arcsin(r / index)
    on_cavity = np.arcsin(np.clip(r / (index * inside), 0, 1))  # angle in the glass where it meets the cavity
    enters, misses = r < inside, r / index >= inside
    in_cavity = np.arcsin(np.clip(r / inside, 0, 1))
    one_wall = np.cos(glass) - inside * np.cos(on_cavity)
    way = np.where(misses, 2 * np.cos(glass), 2 * one_wall)
    # Angles about the middle that the ray covers: in each wall, and across the cavity, or where it is thrown back none.
    walls = 2 * (on_cavity - glass)
    covered = np.where(misses, np.pi - 2 * glass, walls + np.where(enters, np.pi - 2 * in_cavity, 0.0))
    turn = np.where(misses, 2 * (theta - glass), 2 * theta + covered - np.pi)
    # It meets the ball at theta from the axis, on the near side, and leaves so much further round.
    out = np.sin(theta + covered)
    kept = (1 - fresnel(np.cos(theta), index)) ** 2
    kept = np.where(enters, kept * (1 - fresnel(np.cos(in_cavity), index)) ** 2, kept)
    return Passage(way, turn, out, kept)


class Caustic(NamedTuple):
    """Light on the floor round about a ball of radius 1 that stands on it, over a grid (h, w): `gathered` (k, h, w) is
    what comes through the ball by channel, in units of the light that falls on the floor beside it; `shade` (h, w): how
    much of that the ball takes.

    The grid begins at `left` and `top` and has cells of `step`; its rows go away from the light, the middle one of its
    columns lies under the ball.
    """

    gathered: Floats
    shade: Floats
    left: float
    top: float
    step: float


def caustic(passage: Passage, rho: ArrayLike, elevation_deg: float, *, clear: ArrayLike = (1.0,), step: float = 0.02,
            reach: float = 4.0, rays: int = 700) -> Caustic:  # fmt: skip
    """Where light that went through a ball lands on the floor below it.

    passage: for rays that meet it at `rho` (n,), rising from 0 to 1; elevation_deg: of the light over the floor,
    5 to 90; clear (k,): share of the light, by channel, that glass as thick as the ball's radius lets through; rays:
    to the ball's width.
    """
    high = np.radians(checks.number("elevation_deg", elevation_deg, 5, 90))
    checks.integer("rays", rays, 10, 4000)
    side = (np.arange(rays) + 0.5) / rays * 2 - 1
    u, v = np.meshgrid(side, side)
    r = np.hypot(u, v)
    hit = r < 1
    u, v, r = u[hit], v[hit], np.maximum(r[hit], 1e-6)
    way, turn, out, kept = (np.interp(r, np.asarray(rho, float), one) for one in passage)
    # Axes: along the light's way (x away from the light on the floor, z up), level and across it, and the third.
    cos, sin = float(np.cos(high)), float(np.sin(high))
    aside, up = u / r, v / r
    far = np.sqrt(np.maximum(1 - out**2, 0)) * np.where(np.abs(turn) < np.pi / 2, 1, -1)
    over, turned = np.cos(turn), -np.sin(turn)
    start = out * up * sin + far * cos, out * aside, out * up * cos - far * sin
    ray = over * cos + turned * up * sin, turned * aside, turned * up * cos - over * sin
    falls = np.minimum(ray[2], -1e-4)
    long = (start[2] + 1) / -falls
    reached = (ray[2] < -1e-3) & (np.abs(long) < 3 * reach)
    shape = round((reach + 1.5) / step), round(4.0 / step)

    def counted(x: Floats, y: Floats, weights: Floats) -> Floats:
        row, column = np.floor((x + 1.5) / step).astype(np.intp), np.floor((y + 2.0) / step).astype(np.intp)
        inside = (row >= 0) & (row < shape[0]) & (column >= 0) & (column < shape[1])
        flat = np.bincount((row * shape[1] + column)[inside], weights[inside], shape[0] * shape[1])
        return flat.astype(float).reshape(shape)

    # A ray carries the light of its square across the beam, spread over the floor's slant.
    unit = (2 / rays) ** 2 / (step**2 * sin)
    landed = start[0] + ray[0] * long, start[1] + ray[1] * long
    light = np.where(reached, kept, 0) * unit
    gathered = np.stack([counted(*landed, light * one**way) for one in np.asarray(clear, float)])
    height = v * cos + 1
    shade = counted(v * sin + cos * height / sin, u, np.full(len(u), unit))
    return Caustic(gathered, np.clip(shade, 0, 1), -2.0, -1.5, step)
