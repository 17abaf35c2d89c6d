"""Mutated inputs: every reader either reads them or refuses them in a sentence of ours."""

from __future__ import annotations

import io
import json
import os
import random
import shutil
import tempfile
import traceback
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image

from japanner.errors import JapannerError
from japanner.files import png
from japanner.files.opening import open_painting
from japanner.files.pictures import read_picture
from japanner.files.recovery import recovered
from japanner.light.maquette import Maquette
from japanner.painting.document.journal import Journal
from japanner.painting.document.leftovers import leftovers
from japanner.painting.model.kept_grid import KeptGrid, grid_from_text, text_of_grid
from japanner.painting.operations import operation_from_record
from japanner.painting.working_order import orders_from
from japanner.stroke.brush.files import brushes_from_text, text_of_brushes
from japanner.stroke.brush.shipped import shipped_brushes
from tests.strategies import prepared

__all__ = ["run"]

Read = Callable[[bytes, Path], object]
TOKENS = (
    b"null",
    b"-1",
    b"1e999",
    b"NaN",
    b"[]",
    b"{}",
    b'""',
    b"true",
    b"9" * 40,
    b"[" * 3000,
    b"\xff",
    b"..",
    b"/",
    b"\0",
)
GIVEN_UP = (JapannerError, UnicodeDecodeError)


def mutated(data: bytes, chance: random.Random) -> bytes:
    """The data with one to four things done to it."""
    found = bytearray(data)
    for _ in range(chance.randint(1, 4)):
        at = chance.randrange(len(found) + 1)
        what = chance.random()
        if what < 0.35 and found:
            found[min(at, len(found) - 1)] ^= chance.randrange(1, 256)
        elif what < 0.5:
            del found[at : at + chance.randint(1, 60)]
        elif what < 0.6:
            del found[at:]
        elif what < 0.8:
            found[at:at] = chance.choice(TOKENS)
        else:
            other = chance.randrange(len(found) + 1)
            found[at:at] = found[other : other + chance.randint(1, 80)]
    return bytes(found)


def members_mutated(data: bytes, chance: random.Random) -> bytes:
    """A zip whose members have been mutated and packed well again, so that readers get to see them."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as good, zipfile.ZipFile(out, "w") as bad:
        names = good.namelist()
        chosen = set(chance.sample(names, min(2, len(names))))
        for name in names:
            inside = good.read(name)
            bad.writestr(name, mutated(inside, chance) if name in chosen and name != "mimetype" else inside)
    return out.getvalue()


def _by_path(read: Callable[[Path], object], name: str) -> Read:
    def run(data: bytes, folder: Path) -> object:
        path = folder / name
        path.write_bytes(data)
        return read(path)

    return run


def _journal(data: bytes, folder: Path) -> object:
    """A journal's lines, or what it says of itself, in a folder as a crash leaves it."""
    journals = folder / "journals"
    shutil.rmtree(journals, ignore_errors=True)
    made = Journal(journals, "Fuzz")
    made.close(keep=True)
    (made.path / "records.jsonl").write_bytes(data)
    if data[:1] == b"{" and data[1:2] != b'"':
        (made.path / "about.json").write_bytes(data[:200])
    return [recovered(one) for one in leftovers(journals)]


def _records(data: bytes, _: Path) -> object:
    try:
        record = json.loads(data)
    except (ValueError, RecursionError):
        return None
    return operation_from_record(record).apply(prepared().painting)


def _json(read: Callable[[object], object]) -> Read:
    def run(data: bytes, _: Path) -> object:
        try:
            record = json.loads(data)
        except (ValueError, RecursionError):
            return None
        return read(record)

    return run


def _picture(kind: str) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.tile(np.arange(60, dtype=np.uint8), (40, 1))).convert("RGB").save(out, kind)
    return out.getvalue()


def readers(folder: Path) -> dict[str, tuple[list[bytes], Read]]:
    """What is read by the program, with good data for each."""
    from japanner.files import ora_write

    document = prepared()
    ora_write.write(document.painting, folder / "good.ora", document.records)
    good = (folder / "good.ora").read_bytes()
    foreign = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(good)) as whole, zipfile.ZipFile(foreign, "w") as archive:
        for name in whole.namelist():
            if not name.startswith("japanner/"):
                archive.writestr(name, whole.read(name))
    grid = KeptGrid("Grid", (10.0, 30.0, 50.0, 70.0, 90.0), (("warm", ((0.1, 0.2, 0.3),) * 5),))
    lines = b"".join(json.dumps(record).encode() + b"\n" for record in document.records)
    brushes = text_of_brushes(list(shipped_brushes())[:6]).encode()
    orders = json.dumps({"format": 1, "skin": [{"role": "flat"}, {"role": "light", "mode": "Screen"}]}).encode()
    maquette = json.dumps(document.painting.maquette.to_record()).encode()
    operations = [json.dumps(record).encode() for record in document.records if record["op"] != "begin"]
    return {
        "paintings": ([good], _by_path(open_painting, "bad.ora")),
        "foreign paintings": ([foreign.getvalue()], _by_path(open_painting, "bad.ora")),
        "png": ([_picture("PNG")], lambda data, _: png.read(data, "bad.png")),
        "pictures": ([_picture(kind) for kind in ("JPEG", "WEBP", "TIFF")], _by_path(read_picture, "bad.jpg")),
        "brushes": ([brushes], lambda data, _: brushes_from_text(data.decode("utf-8", "replace"))),
        "grids": ([text_of_grid(grid).encode()], lambda data, _: grid_from_text(data.decode("utf-8", "replace"))),
        "maquettes": ([maquette], _json(Maquette.from_file)),
        "working orders": ([orders], _json(orders_from)),
        "journals": ([lines], _journal),
        "operations": (operations, _records),
    }


def run(count: int, seed: int) -> list[str]:
    """So many mutations for each reader; what was raised that is none of ours, a line each."""
    wrong: list[str] = []
    folder = Path(tempfile.mkdtemp(prefix="japanner-fuzz-"))
    os.environ["JAPANNER_STATE"] = str(folder)
    for name, (good, read) in readers(folder).items():
        chance, refused = random.Random(f"{name} {seed}"), 0
        for turn in range(count):
            data = chance.choice(good)
            whole = name.endswith("paintings") and turn % 3
            bad = members_mutated(data, chance) if whole else mutated(data, chance)
            try:
                read(bad, folder)
            except GIVEN_UP:
                refused += 1
            except BaseException as error:
                where = traceback.extract_tb(error.__traceback__)[-1]
                wrong.append(
                    f"{name} {turn}: {type(error).__name__} {error!s:.80} at {Path(where.filename).name}:{where.lineno}"
                )
                (folder / f"wrong {len(wrong)}").write_bytes(bad)
        print(f"  {name}: {count} mutated, {refused} refused", flush=True)
    return wrong
