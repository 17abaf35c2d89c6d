"""`python -m bench [--json FILE]`: measure, print a table, write JSON."""

from __future__ import annotations

import argparse
import json
import os
import platform
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["JAPANNER_STATE"] = tempfile.mkdtemp(prefix="japanner-bench-")

from bench import (
    brushes,
    compositing,
    dab,
    faces,
    files,
    flats,
    light,
    pen,
    review,
    scaling,
    startup,
    strands,
    surfaces,
    values,
)
from bench.result import Result, table
from japanner.warming import load_kernels

PARTS = {
    "dab": dab,
    "compositing": compositing,
    "pen": pen,
    "brushes": brushes,
    "flats": flats,
    "values": values,
    "light": light,
    "faces": faces,
    "surfaces": surfaces,
    "strands": strands,
    "files": files,
    "review": review,
    "startup": startup,
    "scaling": scaling,
}


def main() -> int:
    parser = argparse.ArgumentParser(prog="bench", description="Measure Japanner.")
    parser.add_argument("parts", nargs="*", choices=[*PARTS, []], help="what to measure (everything)")
    parser.add_argument("--json", type=Path, default=Path("out/bench.json"), help="where the figures go as JSON")
    options = parser.parse_args()
    load_kernels()  # a window does so behind its first paint
    results: list[Result] = []
    for name in options.parts or PARTS:
        print(f"measuring {name} …", file=sys.stderr, flush=True)
        results += PARTS[name].measure()
    machine = f"{platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}"
    print(f"\n{machine}\n{table(results)}")
    options.json.parent.mkdir(parents=True, exist_ok=True)
    options.json.write_text(json.dumps({"machine": machine, "results": [one.record() for one in results]}, indent=1))
    print(f"\n{options.json}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
