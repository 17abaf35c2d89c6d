"""What an eye shows, as sheets: white, iris, pupil, glow, corner, margins, lid shadow, wet line, catch light, lids."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Final

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.color.lab import lightness, luminance_from_lightness
from japanner.errors import InputError
from japanner.light.metals import mirrored
from japanner.painting.makers.base import Plane, Scene, Sheet, encoded, filled, fractal, smoothstep
from japanner.painting.makers.eyes.balls import Eyeball
from japanner.painting.makers.eyes.form import MM, EyeForm, eye_form, opening
from japanner.painting.makers.windows import mirrored_light
from japanner.raster.geometry import Rect

__all__ = ["PUPILS", "Eye", "lid_sheets", "opening_sheets"]

PUPILS: Final = ("round", "slit", "oblong")
WHITEST: Final = 66.0
"""L* that the white of an eye does not reach (common practice), and from where on it is held back."""
EASED: Final = 54.0
HIDDEN_MM, UNDER_MM = 0.2, 1.5
"""A catch light whose middle is nearer to the lid is hidden by it, and comes out to so far below."""


@dataclass(eq=False)
class Eye:
    """One eye of the scene over an area of the canvas: x, y in mm from its middle, y up; upper, lower: borders of the
    lids there; cover: of the opening. form: of what lies in it, where that is worked out. gaze: degrees right and up;
    roll: how far its upright is turned to the left; globe: radius of the ball; head (3, 3): how the head is turned.
    """

    scene: Scene
    inner: float
    px: float
    area: Rect
    x: Plane
    y: Plane
    upper: Plane
    lower: Plane
    cover: Plane
    seen: EyeForm | None = None
    gaze: tuple[float, float] = (0.0, 0.0)
    roll: float = 0.0
    globe: float = MM["globe"]
    head: NDArray[np.float64] | None = None

    @staticmethod
    def in_lids(scene: Scene, ball: Eyeball, target: NDArray[np.float64], cover: Plane, area: Rect) -> Eye:
        """A ball of the maquette's that looks at a place, behind an opening (h, w) over an area."""
        maquette = scene.painting.maquette
        unit = maquette.unit_px * ball.larger()
        x, y = (maquette.middle[k] + sign * float(ball.place[k]) * unit for k, sign in ((0, 1), (1, -1)))
        px = unit * ball.mm
        ys, xs = np.mgrid[area.y0 : area.y1, area.x0 : area.x1].astype(np.float32)
        xs, ys = (xs + np.float32(0.5 - x)) / np.float32(px), (np.float32(y - 0.5) - ys) / np.float32(px)
        upper, lower = _lids_of(cover, ys)
        return Eye(scene, ball.side, px, area, xs, ys, upper, lower, cover, None, ball.angles(target), ball.roll(),
                   ball.globe_mm, ball.frame() @ ball.head)  # fmt: skip

    @staticmethod
    def at(scene: Scene, x: float, y: float, inner: float, cover: Plane | None = None, area: Rect | None = None) -> Eye:
        """An eye with its middle at a canvas position; inner: -1 if its inner corner is on the left, 1 on the right.
        cover, area: of a silhouette that is its opening.
        """
        px = scene["width"] / 30.0  # to a millimetre
        wide, high = 24.0 * px, (9.0 + 9.0 * scene["open"] / 100) * px
        whole = Rect(int(x - wide), int(y - high), int(x + wide) + 1, int(y + high) + 1)
        area = (area or whole).intersected(scene.painting.rect)
        if area.empty:
            raise InputError("The eye lies outside the canvas")
        ys, xs = np.mgrid[area.y0 : area.y1, area.x0 : area.x1].astype(np.float32)
        xs, ys = (xs + np.float32(0.5 - x)) / np.float32(px), (np.float32(y - 0.5) - ys) / np.float32(px)
        if cover is not None:
            return Eye(scene, inner, px, area, xs, ys, *_lids_of(cover, ys), cover, gaze=_gaze(scene))
        upper, lower = opening(xs[:1], 30.0, 11.5 * scene["open"] / 100, scene["tilt"], inner)
        cover = np.clip((upper - ys) * px + 0.5, 0, 1) * np.clip((ys - lower) * px + 0.5, 0, 1) * (np.abs(xs) < 15)
        upper, lower = np.broadcast_to(upper, xs.shape), np.broadcast_to(lower, xs.shape)
        return Eye(scene, inner, px, area, xs, ys, upper, lower, cover.astype(np.float32), gaze=_gaze(scene))

    @property
    def shape(self) -> tuple[int, int]:
        return self.x.shape[0], self.x.shape[1]

    @property
    def form(self) -> EyeForm:
        assert self.seen is not None
        return self.seen

    @cached_property
    def key(self) -> NDArray[np.float32]:
        return np.asarray(self.scene.sources.key_colour, np.float32) * np.float32(0.92)

    @cached_property
    def sky(self) -> NDArray[np.float32]:
        return np.asarray(self.scene.sources.sky_colour, np.float32) * np.float32(0.9) + np.float32(0.05)

    @cached_property
    def lid_shade(self) -> Plane:
        """Share of the light that the upper lid lets through."""
        reach = 4.6 * self.scene["lid_shadow"] / 100 + 0.2
        result: Plane = 0.22 + 0.78 * smoothstep(-0.2, reach, self.form.above)
        return result

    def within(self, wanted: NDArray[np.bool_]) -> Eye:
        """The same eye where anything is wanted."""
        rows, columns = np.nonzero(wanted.any(axis=1))[0], np.nonzero(wanted.any(axis=0))[0]
        if not len(rows):
            return self
        part = slice(int(rows[0]), int(rows[-1]) + 1), slice(int(columns[0]), int(columns[-1]) + 1)
        x0, y0 = self.area.x0 + int(columns[0]), self.area.y0 + int(rows[0])
        area = Rect(x0, y0, self.area.x0 + int(columns[-1]) + 1, self.area.y0 + int(rows[-1]) + 1)
        x, y, upper, lower, cover = (one[part] for one in (self.x, self.y, self.upper, self.lower, self.cover))
        seen = self.seen and EyeForm(**{name: one[..., part[0], part[1]] for name, one in vars(self.seen).items()})
        return replace(self, area=area, x=x, y=y, upper=upper, lower=lower, cover=cover, seen=seen)

    def behind(self, cover: Plane) -> Eye:
        """The same behind another opening."""
        upper, lower = _lids_of(cover, self.y, 0.3 * self.px)
        return replace(self, cover=cover, upper=upper, lower=lower)

    def opened(self) -> Eye:
        """The eye within its opening, with what lies in it."""
        small, scene = self.within(self.cover > 0), self.scene
        light = np.asarray(scene.light, float)
        form = eye_form(small.x, small.y, self.gaze, scene["iris_mm"], light, small.upper, small.lower, self.globe,
                        self.roll)  # fmt: skip
        return replace(small, seen=form)

    def sheet(self, name: str, role: str, paint: Plane, cover: Plane, **rest: Any) -> Sheet:
        """A sheet over the eye's area."""
        return Sheet(name, role, self.area, np.asarray(paint, np.float32), np.asarray(cover, np.float32), **rest)


def _gaze(scene: Scene) -> tuple[float, float]:
    return scene["gaze_right"], scene["gaze_up"]


def _lids_of(cover: Plane, y: Plane, even_px: float = 1.0) -> tuple[Plane, Plane]:
    """Upper and lower border of a silhouette over its columns, in the unit of `y`; evened out over so many columns."""
    inside = cover > 0.5
    columns = np.flatnonzero(inside.any(axis=0))
    if not len(columns):
        return np.broadcast_to(y[:1], cover.shape).copy(), np.broadcast_to(y[-1:], cover.shape).copy()
    found = []
    for flipped in (False, True):
        shown, heights = (inside[::-1], y[::-1, 0]) if flipped else (inside, y[:, 0])
        share = cover[::-1] if flipped else cover
        first = np.argmax(shown[:, columns], axis=0)
        # What the pixel before is covered by, and what the first one lacks, tell the edge to a share of a pixel.
        before = np.where(first > 0, share[np.maximum(first - 1, 0), columns], 0)
        edge = first - before + (1 - share[first, columns]) - 0.5
        edge = scipy.ndimage.gaussian_filter1d(edge, even_px, mode="nearest")
        step = heights[1] - heights[0] if len(heights) > 1 else 0.0
        border = np.interp(np.arange(cover.shape[1]), columns, heights[0] + step * edge)
        found.append(np.broadcast_to(border.astype(np.float32), cover.shape).copy())
    return found[0], found[1]


def _far(inside: NDArray[np.bool_]) -> Plane:
    """Distance to where it is not, px."""
    return cv2.distanceTransform(inside.astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5)


def _shade(eye: Eye, normal: Plane, wrap: float = 0.25) -> Plane:
    """Light (3, h, w) on something of this normal under the lids."""
    cosine = np.clip((eye.scene.facing(normal) + wrap) / (1 + wrap), 0, 1)
    up = (0.55 + 0.45 * normal[1])[None]
    return eye.key[:, None, None] * cosine * eye.lid_shade + eye.sky[:, None, None] * up * (0.45 + 0.55 * eye.lid_shade)


def _white(eye: Eye) -> Plane:
    """The white of the eye, encoded: never white, a ball in light, redder and darker to its corners, with veins."""
    scene, form = eye.scene, eye.form
    base = srgb.decode(np.asarray(scene["white"]))
    side = np.clip(np.abs(form.x) / 15, 0, 1)
    # No flatter than a ball: what the lids hide is on its sides.
    light = _shade(eye, form.normal)
    red = np.stack((1 - 0.10 * side**2, 1 - 0.34 * side**2, 1 - 0.36 * side**2))
    noise = fractal(scene.chance("white"), eye.shape, 6.0 * eye.px, 4)
    vein = np.exp(-((fractal(scene.chance("veins"), eye.shape, 3.2 * eye.px, 3, stretch=(2.2, 0.8)) / 0.07) ** 2))
    veins = vein * smoothstep(0.35, 0.95, side) * 0.30 * (1 + 0.4 * noise)
    tint = np.stack((np.ones(eye.shape), 1 - 0.55 * veins, 1 - 0.6 * veins))
    out = base[:, None, None] * light * red * tint * (1 + 0.02 * noise)
    # Close to the iris it greys.
    ring = smoothstep(1.28, 1.0, np.hypot(form.u, form.v))
    return encoded(np.clip(_no_whiter(out * (1 - 0.22 * ring)), 0, 1))


def _no_whiter(linear: NDArray[Any]) -> NDArray[Any]:
    """Linear light (3, h, w) whose L* nears `WHITEST` and never comes to it."""
    luminance = np.clip(srgb.luminance(np.moveaxis(linear, 0, -1)), 1e-5, 4)
    value, room = lightness(luminance), WHITEST - EASED
    limited = np.where(value > EASED, EASED + room * (1 - np.exp(-(value - EASED) / room)), value)
    return linear * (luminance_from_lightness(limited) / luminance)


def _pupil(eye: Eye) -> Plane:
    """Coverage of the pupil; its edge is as sharp as a pixel or two."""
    scene, form = eye.scene, eye.form
    size = scene["pupil_mm"] / scene["iris_mm"]
    squeeze = {"round": (1.0, 1.0), "slit": (0.26, 1.7), "oblong": (1.55, 0.42)}[scene["pupil"]]
    r = np.hypot(form.u / squeeze[0], form.v / squeeze[1])
    soft = 1.2 / (eye.px * scene["iris_mm"]) / min(squeeze)
    return (np.clip((size - r) / soft + 0.5, 0, 1) * form.cornea).astype(np.float32)


def _iris(eye: Eye) -> tuple[Plane, Plane]:
    """Colour of the iris (3, h, w), linear, without light on it; and the ring round it, 0..1."""
    scene, form = eye.scene, eye.form
    rho, turn = np.hypot(form.u, form.v), np.arctan2(form.v, form.u)
    size = scene["pupil_mm"] / scene["iris_mm"]
    random = scene.chance("iris")
    fibres = np.zeros(eye.shape, np.float32)
    warp = 0.10 * fractal(random, eye.shape, 2.2 * eye.px, 3)
    for lobes, weight in ((17, 0.30), (29, 0.45), (47, 0.5), (71, 0.45), (113, 0.35)):
        phase, bend = random.random() * 6.283, random.normal(0, 0.9)
        fibres += weight * np.sin(lobes * (turn + warp * 0.55) + phase + bend * 6 * rho).astype(np.float32)
    out = smoothstep(size, size + 0.1, rho)
    collar = np.exp(-(((rho - (0.36 + 0.42 * size) - 0.025 * np.sin(9 * turn + 1) - 0.5 * warp * 0.1) / 0.055) ** 2))
    base = srgb.decode(np.asarray(scene["iris"]))
    inner = srgb.decode(np.asarray(scene["iris_inner"]))
    share = smoothstep(0.72, 0.30, rho + 0.05 * fibres)[None]
    body = base[:, None, None] * (1 - share) + inner[:, None, None] * share
    crypts = smoothstep(0.8, 1.9, fractal(random, eye.shape, 1.3 * eye.px, 2)) * out * smoothstep(0.95, 0.6, rho)
    value = 1 + 0.24 * fibres * out + 0.55 * collar - 0.5 * crypts
    ring = smoothstep(0.74, 0.99, rho + 0.02 * fibres)
    return body * np.clip(value, 0.25, 2.4), ring


def _lit_iris(eye: Eye) -> Sheet:
    body, ring = _iris(eye)
    flat = np.array((0.0, 0.0, 1.0), np.float32)[:, None, None] * np.ones((3, *eye.shape), np.float32)
    light = _shade(eye, flat, 0.6)
    out = body * light * (1 - ring * eye.scene["ring"] / 100)
    return eye.sheet("Iris", "texture", encoded(np.clip(out * 1.15, 0, 1)), eye.form.cornea * eye.cover)


def _glow(eye: Eye) -> Sheet:
    """What the cornea gathers on the side away from the light, warmer and brighter than the rest."""
    body, ring = _iris(eye)
    rho = np.hypot(eye.form.u, eye.form.v)
    gathered = np.clip(eye.form.glow - 0.72, 0, 1.2) * smoothstep(0.28, 0.5, rho) * smoothstep(1.0, 0.82, rho)
    warm = body / np.maximum(body.max(axis=0), 1e-3) * np.array((1.0, 0.82, 0.55))[:, None, None]
    out = (body * 2.4 + 0.06 * warm) * gathered * eye.key[:, None, None] * (0.35 + 0.65 * eye.lid_shade)
    paint = encoded(np.clip(out * (1 - 0.6 * ring), 0, 1))
    return eye.sheet("Far-side glow", "light", paint, eye.form.cornea * eye.cover, mode="Screen", strength=0.85)


def _seen_light(eye: Eye, way: Plane, light: NDArray[np.float64]) -> NDArray[np.float64]:
    """The way to the light that the cornea mirrors; where the lid would hide all of it, the nearest that is seen: an
    eye without a catch light is dead (common practice).
    """
    cosine = np.einsum("i,ihw->hw", light.astype(np.float32), way) * (eye.form.cornea > 0)
    row, column = np.unravel_index(int(np.argmax(cosine)), cosine.shape)
    if eye.cover[row, column] > 0.5 and eye.form.above[row, column] > HIDDEN_MM:
        return light
    rows, columns = np.nonzero((eye.cover > 0.9) & (eye.form.above > UNDER_MM) & (eye.form.cornea > 0.5))
    if not len(rows):
        return light
    nearest = int(np.argmin((rows - row) ** 2 + (columns - column) ** 2))
    return way[:, rows[nearest], columns[nearest]].astype(float)


def _catch(eye: Eye) -> Sheet:
    """The light itself, mirrored by the cornea: in its own shape, cut by the lid and the lashes."""
    scene, form = eye.scene, eye.form
    way = mirrored(form.corneal)
    towards = _seen_light(eye, way, np.asarray(scene.light, float))
    spot = mirrored_light(way, towards, scene["catch"], scene["catch_shape"], 0.16)
    spot = spot * form.cornea * (0.35 + 0.65 * smoothstep(-0.3, 1.2, form.above))
    # A thin film also lies on the white: here and there it sparkles.
    wet = fractal(scene.chance("catch"), eye.shape, 1.1 * eye.px, 2)
    ball = scene.mirroring(form.normal)
    film = 0.07 * ball**60 * smoothstep(0.9, 2.0, wet) * (1 - form.cornea) * smoothstep(0.4, 2.0, form.above)
    sky = 0.10 * smoothstep(0.1, 0.75, way[1]) * form.cornea * smoothstep(0.0, 2.5, form.above)
    key = eye.key / eye.key.max()
    bright = np.clip(spot * 0.97 + film + sky, 0, 1)
    paint = encoded(np.clip(bright[None] * (0.72 + 0.28 * key)[:, None, None], 0, 1))
    return eye.sheet("Catch light", "highlight", paint, eye.cover, mode="Screen")


def _wet_line(eye: Eye) -> Sheet:
    """The line of tears along the lower lid: bright, broken, thickest where the light is."""
    scene, form = eye.scene, eye.form
    line = np.exp(-(((form.below - 0.30) / 0.17) ** 2))
    broken = smoothstep(-0.9, 0.8, fractal(scene.chance("wet"), eye.shape, 2.6 * eye.px, 3, stretch=(1.6, 0.6)))
    side = np.clip(0.55 + 0.45 * np.sign(scene.light[0]) * form.x / 12, 0.1, 1)
    bright = line * broken * side * (1 - 0.65 * smoothstep(11, 15, np.abs(form.x)))
    paint = encoded(np.clip(bright[None] * 0.62 * (0.6 + 0.4 * eye.key / eye.key.max())[:, None, None], 0, 1))
    return eye.sheet("Wet line", "detail", paint, eye.cover, mode="Screen")


def _corner(eye: Eye) -> Sheet:
    """The red corner by the nose, a small wet lump."""
    form, scene = eye.form, eye.scene
    x = form.x * eye.inner - 13.2  # 0 in its middle, further out above it
    mid = (eye.upper + eye.lower) / 2
    lump = np.clip(1 - np.hypot(x / 2.6, (form.y - mid) / 1.7) ** 2, 0, 1)
    shape = smoothstep(0.0, 0.55, lump)
    noise = fractal(scene.chance("corner"), eye.shape, 1.0 * eye.px, 3)
    light = np.clip(0.5 + 0.35 * np.sqrt(lump) + 0.07 * noise + 0.15 * (form.y - mid) / 1.7, 0, 1)
    base = srgb.decode(np.asarray(scene["duct"]))
    out = base[:, None, None] * light * (eye.key + eye.sky)[:, None, None] * (0.5 + 0.5 * eye.lid_shade)
    glint = smoothstep(1.7, 2.6, noise + 1.2 * lump) * 0.25
    return eye.sheet("Red corner", "undertone", encoded(np.clip(out + glint, 0, 1)), shape * eye.cover * 0.75)


def _margins(eye: Eye) -> Sheet:
    """Lower lid's pink edge on the ball, and the dark line under the upper lid."""
    form = eye.form
    pink = smoothstep(0.85, 0.1, form.below) * 0.75
    dark = smoothstep(1.1, 0.0, form.above) * 0.9
    flesh = srgb.decode(np.asarray(eye.scene["lid"])) * np.array((1.10, 0.72, 0.66))
    out = flesh[:, None, None] * (eye.key * 0.55 + eye.sky)[:, None, None] * (1 - dark) * np.ones((3, *eye.shape))
    return eye.sheet("Lid margins", "bounce", encoded(np.clip(out, 0, 1)), np.maximum(pink, dark) * eye.cover)


def _shadow(eye: Eye) -> Sheet:
    """The shadow of lid and lashes on the ball, with the lashes' comb at its lower edge."""
    scene, form = eye.scene, eye.form
    comb = 0.35 * np.abs(np.sin(form.x * 2.1 + 1.2 * fractal(scene.chance("shadow"), eye.shape, 5 * eye.px, 2)))
    cover = smoothstep(3.4 * scene["lid_shadow"] / 100 + comb, 0.2, form.above) * 0.8
    tint = np.array((0.20, 0.13, 0.12))
    return eye.sheet("Lid shadow", "shadow", filled(eye.shape, tuple(tint)), cover * eye.cover, mode="Multiply")


def lid_sheets(eye: Eye) -> list[Sheet]:
    """Skin round the opening, behind the eye; over it, the line that the lashes make."""
    scene = eye.scene
    far = _far(eye.cover < 0.5) / eye.px
    middle = cv2.GaussianBlur(np.clip(eye.y - (eye.upper + eye.lower) / 2, -4, 4), (0, 0), min(eye.px, 5.0))
    top = smoothstep(-1.6, 1.6, middle)
    side = np.clip(np.abs(eye.x) / 15, 0, 1.6)
    fade = smoothstep(8.5, 3.0, far) * top + smoothstep(5.0, 1.2, far) * (1 - top)
    crease_at = 3.4 * np.sqrt(np.clip(1 - (eye.x / 18) ** 2, 0.05, 1))
    crease = np.exp(-(((far - crease_at) / 0.42) ** 2)) * top * smoothstep(1.0, 0.8, side)
    full = np.cos(np.clip(far / np.maximum(crease_at, 0.6), 0, 1) * 2.4 - 1.2) * top
    below = np.exp(-(((far - 1.0) / 0.9) ** 2)) * (1 - top)
    tilt = top * (0.55 - 0.10 * far) + (1 - top) * (0.12 * far - 0.30)
    normal = np.stack((eye.x / 24, tilt, np.ones_like(eye.x)))
    normal /= np.linalg.norm(normal, axis=0)
    key = np.clip(scene.facing(normal) + 0.15, 0, 1) / 1.15
    noise = fractal(scene.chance("lids"), eye.shape, 3.0 * eye.px, 4)
    skin = srgb.decode(np.asarray(scene["lid"])).astype(np.float32)
    value = (0.62 + 0.26 * full + 0.16 * below - 0.55 * crease + 0.03 * noise)[None]
    light = eye.key[:, None, None] * key * value + eye.sky[:, None, None] * 0.8
    # Thin skin near the opening lets blood through.
    thin = np.exp(-far / 1.6)
    red = np.stack((np.ones_like(eye.x), 1 - 0.16 * thin - 0.10 * crease, 1 - 0.18 * thin - 0.14 * crease))
    paint = encoded(np.clip(skin[:, None, None] * light * red, 0, 1))
    lid = eye.sheet("Lids", "shadow", paint, fade * np.clip(1 - eye.cover, 0.0, 1), place="behind")
    thick = 0.55 + 0.35 * np.clip(-eye.x * eye.inner / 15, -1, 1)
    near = np.abs(far - _far(eye.cover >= 0.5) / eye.px)
    line = smoothstep(thick, thick * 0.3, near) * smoothstep(0.0, 0.8, middle) * smoothstep(1.03, 0.95, side)
    outer = smoothstep(-8.0, 2.0, eye.x * -eye.inner)
    lower = smoothstep(0.35, 0.1, near) * 0.4 * smoothstep(0.0, -0.8, middle) * smoothstep(1.0, 0.8, side) * outer
    ragged = 0.85 + 0.15 * fractal(scene.chance("lashes"), eye.shape, 0.8 * eye.px, 2)
    dark = np.clip(np.maximum(line, lower) * ragged, 0, 1)
    lash = eye.sheet("Lash line", "accent", filled(eye.shape, (0.09, 0.06, 0.055)), dark, place="over", strength=0.92)
    return [lid, lash]


def opening_sheets(eye: Eye, own_flat: bool) -> list[Sheet]:
    """What is seen in the opening, from behind; own_flat: with a flat of its own."""
    iris = eye.within(eye.form.cornea > 0)
    grey = float(srgb.encode(luminance_from_lightness(40.0)))
    middle = filled(eye.shape, (grey, grey * 0.93, grey * 0.88))
    flat = [eye.sheet("Opening", "flat", middle, eye.cover)] if own_flat else []
    return [
        *flat, eye.sheet("White", "undertone", _white(eye), eye.cover), _lit_iris(iris), _glow(iris),
        iris.sheet("Pupil", "accent", filled(iris.shape, (0.020, 0.016, 0.018)), _pupil(iris) * iris.cover),
        _corner(eye), _margins(eye), _shadow(eye), _wet_line(eye), _catch(eye),
    ]  # fmt: skip
