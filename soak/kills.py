"""A painter that is killed again and again: while it paints, saves, begins a journal anew, and recovers."""

from __future__ import annotations

import os
import random
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from japanner.files.opening import open_painting
from japanner.files.recovery import recovered
from japanner.painting.document.document import new_document
from japanner.painting.document.leftovers import leftovers
from japanner.painting.model import Painting
from japanner.painting.operations import AddLayer, AddPart, Stroke
from japanner.stroke.brush import Brush

__all__ = ["run"]

BRUSH = Brush("Mop", size_px=40).to_record()
SIZE = (240, 180)

WORKER = """
import sys
from pathlib import Path
from soak.kills import begin, paint_on
document, keeper, path = begin(Path(sys.argv[1]))
paint_on(document, keeper, path, int(sys.argv[2]))
"""


def stroke(index: int) -> Stroke:
    """The stroke of that number: always the same."""
    x, y = index * 37 % SIZE[0], index * 53 % SIZE[1]
    return Stroke(2, BRUSH, (index % 7 / 7, 0.4, index % 5 / 5), ((x, y, 1.0), (120, 90, 0.5)))


def strokes_in(records: Any) -> int:
    """How many strokes stand in records."""
    return sum(record["op"] == "stroke" for record in records)


def begin(folder: Path) -> tuple[Any, Any, Path]:
    """Go on where the last one was killed, as the program does; runs in the process that will be killed."""
    from japanner.files import ora_write
    from japanner.files.recovery import document_of
    from japanner.painting.document.keeper import JournalKeeper

    path, keeper = folder / "Killed.ora", JournalKeeper(lambda words: None, ora_write.write)
    left = leftovers(folder / "journals")
    if left:
        journal = left[0].go_on()
        document = recovered(left[0])
        keeper.go_on(document, journal)
    elif path.exists():
        document = document_of(open_painting(path))
        keeper.start(document, path)
    else:
        document = new_document(*SIZE, title="Killed")
        keeper.start(document, None, document.records)
        document.apply(AddPart("A"))
        document.apply(AddLayer(1, "flat"))
    return document, keeper, path


def paint_on(document: Any, keeper: Any, path: Path, seed: int) -> None:
    """Paint, save, keep pixels, for ever; each stroke that counts is told."""
    from japanner.files import ora_write

    chance = random.Random(seed)
    index = strokes_in(document.records)
    while True:
        document.apply(stroke(index))
        index += 1
        print(index, flush=True)
        what = chance.random()
        if what < 0.10:
            ora_write.write(document.painting, path, document.records)
            document.settle()
            keeper.saved(path, settled=True)
        elif what < 0.15:
            keeper.checkpoint()
        elif what < 0.3:
            keeper.tick(idle=True)


def found_in(folder: Path) -> tuple[int, Painting | None]:
    """How many strokes are safe, and the painting with them."""
    best: tuple[int, Painting | None] = (0, None)
    if (folder / "Killed.ora").exists():
        opened = open_painting(folder / "Killed.ora")
        best = strokes_in(opened.records), opened.painting
    for one in leftovers(folder / "journals"):
        document = recovered(one)
        if strokes_in(document.records) >= best[0]:
            best = strokes_in(document.records), document.painting
    return best


def run(count: int, seed: int) -> list[str]:
    """Kill so many times; what was lost or came back otherwise, a line each."""
    from tests.paintings import same_painting

    folder, chance, wrong, told = Path(tempfile.mkdtemp(prefix="japanner-kills-")), random.Random(seed), [], 0
    environment = {**os.environ, "JAPANNER_STATE": str(folder)}
    for turn in range(count):
        worker = subprocess.Popen(
            [sys.executable, "-c", WORKER, str(folder), str(seed + turn)], stdout=subprocess.PIPE, text=True,
            env=environment,
        )  # fmt: skip
        # Some die while they still recover, most in the middle of their work.
        time.sleep(chance.choice([chance.uniform(0.2, 1.5), chance.uniform(1.0, 3.5)]))
        worker.kill()
        out = worker.communicate()[0].split()
        told = max([told, *(int(one) for one in out[:-1]), *(int(one) for one in out[-1:] if one.isdigit())])
        safe, painting = found_in(folder)
        if safe < told:
            wrong.append(f"kill {turn}: {told} strokes had counted, {safe} are there")
        if turn % 10 == 9 or turn == count - 1:
            document = new_document(*SIZE, title="Killed")
            document.apply(AddPart("A"))
            document.apply(AddLayer(1, "flat"))
            for index in range(safe):
                document.apply(stroke(index))
            if painting is not None and not same_painting(painting, document.painting):
                wrong.append(f"kill {turn}: {safe} strokes came back otherwise than they were painted")
    print(f"  {count} kills, {told} strokes", flush=True)
    return wrong
