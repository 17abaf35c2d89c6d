"""Paint the demo paintings that are shipped; run by `make demos`. With --check: are they what the scripts paint?"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from japanner.demo import DEMOS, PAINTINGS, Demo
from japanner.errors import JapannerError
from japanner.files.opening import open_painting
from japanner.painting.model import Painting

MIB = 1 << 20
MOST_BYTES = {"tidebell": 45 * MIB}
MOST_BYTES_ELSE = 10 * MIB


def bits_of(name: str) -> int:
    """Of the layers: the sheets are for looking at and trying things on, and half as large with eight."""
    return 16 if name == "tidebell" else 8


def line(done: float, words: str) -> None:
    print(f"\r{done * 100:3.0f} %  {words:<60}", end="", flush=True)


def names_of(painting: Painting) -> list[tuple[str, list[str]]]:
    return [(part.name, [layer.name for layer in part.layers]) for part in painting.parts]


def differences(one: Painting, other: Painting) -> list[str]:
    """The layers of two paintings that differ in any byte, by part and name."""
    found = []
    if names_of(one) != names_of(other):
        return ["parts and layers"]
    for part, same in zip(one.parts, other.parts, strict=True):
        for layer, twin in zip(part.layers, same.layers, strict=True):
            area = one.rect
            if (layer.mode, layer.strength) != (twin.mode, twin.strength) or not np.array_equal(
                layer.pixels.read(area), twin.pixels.read(area)
            ):
                found.append(f"{part.name} > {layer.name}")
    return found


def build(name: str, demo: Demo) -> None:
    start = time.monotonic()
    script = demo.paint(line, size="shipped", watched=True)
    PAINTINGS.mkdir(exist_ok=True)
    path = PAINTINGS / f"{name}.ora"
    script.save(path, bits_of(name))
    size, most = path.stat().st_size, MOST_BYTES.get(name, MOST_BYTES_ELSE)
    print(f"\r{name}: {size / MIB:.1f} MiB, {time.monotonic() - start:.0f} s{'':<40}")
    if size > most:
        raise SystemExit(f"{path.name}: expected at most {most / MIB:.0f} MiB, got {size / MIB:.1f}")


def check(name: str, demo: Demo) -> bool:
    path = demo.file
    if path is None:
        print(f"{name}: is not there; run make demos")
        return False
    shipped = open_painting(path).painting
    with tempfile.TemporaryDirectory() as folder:
        again = Path(folder) / path.name
        demo.paint(line, size="shipped").save(again, bits_of(name))
        found = differences(shipped, open_painting(again).painting)
    print(f"\r{name}: {', '.join(found) if found else 'as its script paints it'}{'':<40}")
    return not found


def main(arguments: list[str]) -> int:
    names = [one for one in arguments if not one.startswith("-")] or list(DEMOS)
    try:
        if "--check" in arguments:
            outcomes = [check(name, DEMOS[name]) for name in names]
            return 0 if all(outcomes) else 1
        for name in names:
            build(name, DEMOS[name])
    except JapannerError as error:
        print(error, file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
