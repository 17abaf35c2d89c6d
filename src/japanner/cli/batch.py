"""What the command line does without a window."""

from __future__ import annotations

import argparse
import json
import runpy
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

from japanner.errors import InputError
from japanner.files import ora_write, png
from japanner.files.exchange import flat, pdf
from japanner.files.exchange.film import FilmPlan, write_film
from japanner.files.formats import export_for
from japanner.files.opened import Opened
from japanner.files.opening import open_painting
from japanner.files.shelf.outputs import PICTURE, Output, prepared, write_output
from japanner.files.writing import write_text
from japanner.painting.document.document import MARKS, new_document, standing_records
from japanner.painting.model import Painting
from japanner.review.critique import as_html, as_json, critique
from japanner.review.finding import PROBLEM

__all__ = ["check", "export", "film", "info", "new", "run", "warm"]


def _told(done: float, words: str) -> None:
    """How far it is, on the error stream: what is asked for goes out alone."""
    print(f"\r{done * 100:3.0f} %  {words[:50]:<50}", end="", flush=True, file=sys.stderr)


def _told_all() -> None:
    print("\r" + " " * 60 + "\r", end="", flush=True, file=sys.stderr)


def new(options: argparse.Namespace) -> int:
    """Make an empty painting."""
    try:
        width, height = (int(side) for side in options.size.lower().split("x"))
    except ValueError as error:
        raise InputError(f"--size: expected two numbers such as 2400x1800, got {options.size!r}") from error
    if options.file.exists():
        raise InputError(f"{options.file.name} is there already; nothing was written over")
    document = new_document(width, height, ppi=options.ppi, title=options.title or options.file.stem)
    ora_write.write(document.painting, options.file, document.records)
    return 0


def export(options: argparse.Namespace) -> int:
    """Write a painting's picture in other formats, one after another."""
    painting = open_painting(options.file).painting
    for number, path in enumerate(options.to):
        _told(number / len(options.to), path.name)
        if options.each:
            write_output(painting, _output(path, options, options.each), path)
        else:
            _writer(path, options)(prepared(painting, _output(path, options, PICTURE)), path)
    _told_all()
    return 0


def _output(path: Path, options: argparse.Namespace, what: str) -> Output:
    if what != PICTURE and path.suffix.lower() != ".png":
        raise InputError(f"{path.name}: expected a name that ends in .png for {what}")
    kind = "16-bit PNG" if options.bits == 16 else "8-bit PNG"
    crop = _four("--crop", options.crop, "0.1,0.1,0.9,0.9") if options.crop else ()
    return Output(path.stem[:60] or "output", kind, what, options.long, not options.soft, options.look, crop)


def _four(option: str, text: str, such: str) -> tuple[float, float, float, float]:
    try:
        left, top, right, bottom = (float(v) for v in text.split(","))
    except ValueError as error:
        raise InputError(f"{option}: expected four numbers such as {such}, got {text!r}") from error
    return left, top, right, bottom


def _writer(path: Path, options: argparse.Namespace) -> Callable[[Painting, Path], object]:
    ending = path.suffix.lower()
    if ending in (".tif", ".tiff"):
        if options.layers:
            return flat.export_layers
        return lambda painting, to: flat.export_tiff(painting, to, bits=options.bits)
    if ending == ".png":
        return lambda painting, to: png.export(painting, to, bits=options.bits)
    if ending == ".pdf":
        return lambda painting, to: pdf.export_pdf(painting, to, bleed_mm=options.bleed, marks=options.marks)
    return export_for(path)


def film(options: argparse.Namespace) -> int:
    """Write a film of how a painting grew."""
    camera = _four("--camera", options.camera, "0,0,800,600") if options.camera else None
    plan = FilmPlan(options.long, options.seconds, options.hold, options.even, options.undone, camera)
    write_film(open_painting(options.file).records, options.to or options.file.with_suffix(".webm"), plan, _told)
    _told_all()
    return 0


def check(options: argparse.Namespace) -> int:
    """Run the critique; 1 where it finds a problem."""
    from japanner.review.checks import CHECKS  # noqa: PLC0415

    for name in options.only:
        if name not in CHECKS:
            raise InputError(f"--only: expected one of {', '.join(CHECKS)}, got {name!r}")
    if options.report is not None and options.report.suffix.lower() not in (".html", ".json"):
        raise InputError(f"{options.report.name}: expected a report to end in .html or .json")
    painting = open_painting(options.file).painting
    seen, found = critique(painting, told=_told, only=options.only)
    _told_all()
    data = as_json(painting, found)
    if options.report is not None:
        page = options.report.suffix.lower() == ".html"
        write_text(options.report, as_html(painting, seen, found) if page else data)
    if options.json:
        print(data)
    else:
        for one in found:
            print(f"{one.word:11}  {one.check:22}  {one.figure:28}  {one.why}")
    return 1 if any(one.word == PROBLEM for one in found) else 0


def info(options: argparse.Namespace) -> int:
    """Say what is in a file."""
    opened = open_painting(options.file)
    record = _info(opened)
    if options.json:
        print(json.dumps(record, indent=1))
        return 0
    print(f"{record['title']}: {record['width']} x {record['height']} px, {record['ppi']:g} ppi")
    for part in record["parts"]:
        print(f"  {part['name']} ({part['material']}): {', '.join(part['layers']) or 'no layers'}")
    print(f"  {record['strokes']} strokes, {record['changes']} changes in its journal, {record['moments']} moments")
    for remark in opened.remarks:
        print(f"  {remark}")
    return 0


def _info(opened: Opened) -> dict[str, Any]:
    painting = opened.painting
    changes = [one for one in standing_records(opened.records) if one.get("op") not in (*MARKS, "begin")]
    return {
        "title": painting.title, "width": painting.width, "height": painting.height, "ppi": painting.ppi,
        "parts": [{"name": part.name, "material": part.material, "layers": [one.name for one in part.layers]}
                  for part in painting.parts],
        "strokes": sum(one.get("op") == "stroke" for one in changes), "changes": len(changes),
        "moments": len(opened.moments), "native": opened.native, "engine": opened.engine,
    }  # fmt: skip


def run(options: argparse.Namespace) -> int:
    """Run a script that paints, as Python runs one."""
    if not options.file.is_file():
        raise InputError(f"{options.file.name} is not there")
    before = sys.argv
    sys.argv = [str(options.file), *options.arguments]
    try:
        runpy.run_path(str(options.file), run_name="__main__")
    finally:
        sys.argv = before
    return 0


def warm(options: argparse.Namespace) -> int:
    """Compile what would else be compiled at the first start."""
    from japanner.compile_kernels import compile_all  # noqa: PLC0415

    compile_all(lambda done, total, module: _told(done / max(total, 1), module))
    _told_all()
    return 0
