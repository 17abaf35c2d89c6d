"""How a painting grew, as a film: WebM with VP9, or GIF."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError, SaveError
from japanner.files.reading import reason
from japanner.files.writing import replacing
from japanner.painting.document.document import MARKS
from japanner.painting.document.larger import beginning, begun_at, replay_at
from japanner.painting.picture.picture import Picture
from japanner.raster.geometry import Rect
from japanner.told import Told, silent
from japanner.types import Record

__all__ = ["EVEN", "FORMATS", "FilmPlan", "frames", "write_film"]

Frame = NDArray[np.uint8]
EVEN: Final = ("strokes", "time")
FORMATS: Final = (".webm", ".gif")
FRAMES_A_SECOND: Final = {".webm": 25, ".gif": 12}
BETWEEN_MS: Final = 400.0
"""What lies between two strokes, or what is no stroke, counts as so long: pauses are cut."""
QUALITY: Final = {"deadline": "realtime", "cpu-used": "7", "crf": "26", "b": "0", "row-mt": "1"}
MARGIN: Final = 1.25
"""Strokes are replayed somewhat larger than the film, so that it is sharp."""


@dataclass(frozen=True)
class FilmPlan:
    """What a film is to be like.

    long_px: its longer side. seconds: how long the growth takes; hold_s: how long the finished picture stands. even:
    all strokes take as long, or as long as the hand took. undone: with ways that were undone. camera: what of the
    canvas is seen, x0, y0, x1, y1; None: all of it.
    """

    long_px: int = 1280
    seconds: float = 20.0
    hold_s: float = 2.0
    even: str = "strokes"
    undone: bool = False
    camera: tuple[float, float, float, float] | None = None

    def __post_init__(self) -> None:
        checks.integer("long_px", self.long_px, 32, 4096)
        checks.number("seconds", self.seconds, 0.2, 3600)
        checks.number("hold_s", self.hold_s, 0, 60)
        checks.one_of("even", self.even, EVEN)
        if self.camera is not None:
            x0, y0, x1, y1 = checks.in_range("camera", self.camera, -1e6, 1e6)
            if x1 - x0 < 1 or y1 - y0 < 1:
                raise InputError(f"camera: expected left, top, right, bottom, got {self.camera!r}")


def _takes(record: Record, even: str) -> float:
    """How long a record takes, in whatever unit."""
    if record.get("op") in MARKS:
        return 0.0
    if even == "strokes":
        return 1.0
    samples = record.get("samples") or ()
    drawn = float(samples[-1][6]) - float(samples[0][6]) if samples and len(samples[0]) > 6 else 0.0
    return max(drawn, 0.0) + BETWEEN_MS


def frames(records: Sequence[Record], plan: FilmPlan, a_second: int, told: Told = silent) -> Iterator[Frame]:
    """The film's frames, uint8 (h, w, 3), height and width even."""
    first, rest = beginning(records)
    every = records[1:] if plan.undone else rest
    total = max(sum(_takes(one, plan.even) for one in every), 1e-6)
    count = max(round(plan.seconds * a_second), 1)
    begun = begun_at(first)
    area = plan.camera or (0.0, 0.0, float(begun.width), float(begun.height))
    factor = min(MARGIN * plan.long_px / max(area[2] - area[0], area[3] - area[1]), 1.0)
    shown, passed, laid = 0, 0.0, None
    frame: Frame | None = None
    picture: Picture | None = None
    for step in replay_at(records, factor, undone=plan.undone):
        painting = step.painting
        if picture is None or (picture.painting.width, picture.painting.height) != (painting.width, painting.height):
            picture, laid = Picture(painting), None
        elif step.areas is None:
            picture.refresh(painting, [painting.rect])
            laid = None
        elif step.areas:
            picture.refresh(painting, step.areas)
            laid = None
        passed += _takes(step.record, plan.even) if step.record is not first else 0.0
        due = round(count * passed / total)
        if due > shown and laid is None:
            laid = frame = _frame(picture, plan, [v * factor for v in area])
        while shown < due and frame is not None:
            shown += 1
            told(0.98 * shown / count, "the film")
            yield frame
    assert picture is not None
    last = _frame(picture, plan, [v * factor for v in area])
    for _ in range(max(count - shown, 0) + round(plan.hold_s * a_second)):
        yield last


def _frame(picture: Picture, plan: FilmPlan, area: Sequence[float]) -> Frame:
    """What the camera sees, as large as the film is."""
    pixels = picture.levels[0]
    height, width = pixels.shape
    box = Rect(round(area[0]), round(area[1]), round(area[2]), round(area[3])).intersected(Rect(0, 0, width, height))
    if box.empty:
        raise InputError("The camera looks beside the canvas")
    seen = pixels[box.y0 : box.y1, box.x0 : box.x1]
    scale = min(plan.long_px / max(seen.shape), 1.0)
    wide, high = (max(2 * round(side * scale / 2), 2) for side in (seen.shape[1], seen.shape[0]))
    codes = np.ascontiguousarray(seen).view(np.uint8).reshape(*seen.shape, 4)[..., 2::-1]
    small: Frame = cv2.resize(np.ascontiguousarray(codes), (wide, high), interpolation=cv2.INTER_AREA)
    return small


def write_film(records: Sequence[Record], path: Path, plan: FilmPlan | None = None, told: Told = silent) -> None:
    """Write a film of how a painting grew, WebM or GIF by the file's ending; SaveError if it cannot be written,
    InputError if the journal does not reach back. told may stop it by raising; nothing of it is left then.
    """
    plan, ending = plan or FilmPlan(), path.suffix.lower()
    if ending not in FORMATS:
        raise InputError(f"{path.name}: expected a film's file to end in {' or '.join(FORMATS)}")
    a_second = FRAMES_A_SECOND[ending]
    beginning(records)
    made = frames(records, plan, a_second, told)
    with replacing(path) as file:
        (_webm if ending == ".webm" else _gif)(file, made, a_second, path.name)
    told(1.0, "done")


def _webm(file: Any, made: Iterator[Frame], a_second: int, name: str) -> None:
    import av  # noqa: PLC0415 - it takes a moment, and only films need it

    try:
        with av.open(file, "w", format="webm") as container:
            stream = container.add_stream("libvpx-vp9", rate=a_second, options=QUALITY)
            for number, one in enumerate(made):
                if not number:
                    stream.width, stream.height, stream.pix_fmt = one.shape[1], one.shape[0], "yuv420p"
                container.mux(stream.encode(av.VideoFrame.from_ndarray(one, format="rgb24")))
            container.mux(stream.encode())
    except av.FFmpegError as error:
        why = reason(error) if isinstance(error, OSError) else str(error)
        raise SaveError(f"{name} was not saved: {why}.") from error


def _gif(file: Any, made: Iterator[Frame], a_second: int, name: str) -> None:
    from PIL import Image  # noqa: PLC0415

    def palettes() -> Iterator[Image.Image]:
        for one in made:
            yield Image.fromarray(one).quantize(
                256, method=Image.Quantize.MEDIANCUT, dither=Image.Dither.FLOYDSTEINBERG
            )

    rest = palettes()
    first = next(rest)
    first.save(file, "GIF", save_all=True, append_images=rest, duration=round(1000 / a_second), loop=0, optimize=False)
