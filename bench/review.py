"""What comparing, critique, growth and output take."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from bench.result import Result
from bench.window import opened_window
from japanner.demo import PAINTINGS
from japanner.files.exchange.film import FilmPlan, write_film
from japanner.files.exchange.flat import export_tiff
from japanner.files.exchange.pdf import export_pdf
from japanner.files.opening import open_painting
from japanner.files.recovery import document_of
from japanner.painting.model import Painting
from japanner.painting.operations import ScaleCanvas
from japanner.review.critique import critique
from japanner.review.fitting import CELLS, cage_moves
from japanner.review.proportion import proportion
from japanner.scripting import Script, shipped_brush

__all__ = ["measure"]

STROKES = 1000


def measure() -> list[Result]:
    """Each once; the fit many times over."""
    found = [Result("critique of 2400 x 1800, six parts of fur, metal, glass", _critique(), "s", 8, at_most=True)]
    found.append(Result("landmarks: fit, words and cage of 40", 1000 * _fit(), "ms", 33, at_most=True))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder)
        found.append(Result(f"film of {STROKES} strokes at 1280 px, 20 s", _took(_film(path)), "s", 60, at_most=True))
        sheet = _sheet()
        for words, export, ending in (("PDF", export_pdf, "pdf"), ("TIFF, 16 bits", _tiff, "tif")):
            start = time.perf_counter()
            export(sheet, path / f"a.{ending}")
            found.append(Result(f"{words} of 4000 x 2000", time.perf_counter() - start, "s", 3, at_most=True))
    found.append(Result("scrubbing: a place of Tidebell's way is shown", 1000 * _scrub(), "ms", 100, at_most=True))
    return found


def _scrub() -> float:
    """The longest of forty places far from each other, from the press to the picture."""
    window = opened_window()
    document = document_of(open_painting(PAINTINGS / "tidebell.ora"))
    window.session.open_document(document)
    window.watch_growth()
    growth, took = window.growth, list[float]()
    growth.toggle()
    for share in np.random.default_rng(3).uniform(0, 1, 40):
        start = time.perf_counter()
        growth.go_to(float(share))
        growth.grab()
        took.append(time.perf_counter() - start)
    growth.stop()
    window.close()
    return max(took)


def _took(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def _critique() -> float:
    painting = open_painting(PAINTINGS / "tidebell.ora").painting
    painting, _ = ScaleCanvas(2400, 1800).apply(painting)
    return _took(lambda: critique(painting))


def _fit() -> float:
    random = np.random.default_rng(1)
    places = {f"place {k}": (float(x), float(y)) for k, (x, y) in enumerate(random.uniform(0, 1000, (40, 2)))}
    moved = {name: (x + float(random.normal(0, 6)), y) for name, (x, y) in places.items()}
    grid = np.stack(np.meshgrid(np.linspace(0, 1000, CELLS + 1), np.linspace(0, 1000, CELLS + 1)), axis=-1)

    def often() -> None:
        for _ in range(20):
            compared = proportion(places, moved)
            assert [one.words for one in compared.misfits]
            cage_moves(compared, moved, grid, 1.0, 0.15)

    return _took(often) / 20


def _film(folder: Path) -> Callable[[], None]:
    random, script = np.random.default_rng(2), Script.new(2400, 1800)
    layer, brush = script.layer(script.part("Part"), "flat"), shipped_brush("Round").with_changes(size_px=80)
    for k in range(STROKES):
        (x, y), way = random.uniform(100, 1700, 2), random.uniform(-300, 300, 2)
        rows = [(x + way[0] * t, y + way[1] * t, 0.8) for t in np.linspace(0, 1, 12)]
        script.stroke(layer, brush, tuple(random.uniform(0.2, 0.8, 3)), rows, seed=k)
    return lambda: write_film(script.document.records, folder / "a.webm", FilmPlan())


def _sheet() -> Painting:
    painting = open_painting(PAINTINGS / "studies.ora").painting
    painting, _ = ScaleCanvas(4000, 2000).apply(painting)
    return painting


def _tiff(painting: Painting, path: Path) -> None:
    export_tiff(painting, path, bits=16)
