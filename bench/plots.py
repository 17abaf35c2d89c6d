"""`python -m bench.plots [JSON]`: the plots of docs/performance.md from what was measured."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path
from typing import Any, Final

import matplotlib as mpl

mpl.use("svg")
import matplotlib.pyplot as plt

OUT: Final = Path("docs/plots")
SERIES: Final = re.compile(r"lay 500 px, (.+): ([\d.]+)$")
LOGARITHMIC: Final = ("canvas, Mpx", "layers", "brush, px")
INK, GRID = "#8a5a1c", "#d8d2c8"


def main() -> None:
    path = Path(sys.argv[1]) if len(sys.argv) > 1 else Path("out/bench.json")
    results = json.loads(path.read_text())["results"]
    OUT.mkdir(parents=True, exist_ok=True)
    mpl.rcParams.update({"font.size": 9, "svg.hashsalt": "japanner", "svg.fonttype": "none"})
    _scaling(results)
    _beside(results)


def _scaling(results: list[dict[str, Any]]) -> None:
    """Four small plots: what a report of the pen costs."""
    series: dict[str, list[tuple[float, float]]] = {}
    for one in results:
        if found := SERIES.match(one["name"]):
            series.setdefault(found[1], []).append((float(found[2]), one["value"]))
    if not series:
        return
    figure, axes = plt.subplots(1, len(series), figsize=(11, 2.6), sharey=True, layout="constrained")
    for axis, (what, points) in zip(axes, series.items(), strict=True):
        axis.plot(*zip(*points, strict=True), color=INK, marker="o", markersize=3)
        at = [x for x, _ in points]
        if what in LOGARITHMIC:
            axis.set_xscale("log")
        axis.set_xticks(at, [f"{x:.0f}" for x in at])
        axis.minorticks_off()
        axis.set_xlabel(what)
        axis.set_ylim(0, max(value for line in series.values() for _, value in line) * 1.1)
        axis.grid(color=GRID, linewidth=0.5)
    axes[0].set_ylabel("ms of CPU for a report")
    _save(figure, "scaling.svg")


def _beside(results: list[dict[str, Any]]) -> None:
    """What the same work takes in other libraries, in the same run."""
    values = {one["name"]: one["value"] for one in results}
    rows = [(name, values[name]) for name in values if name.startswith("20 layers ") and "times" not in name]
    if not rows:
        return
    figure, axis = plt.subplots(figsize=(6, 1.9), layout="constrained")
    names = [name.removeprefix("20 layers ").replace("at 1280 x 800", "here") for name, _ in rows]
    bars = axis.barh(names, [value for _, value in rows], color=INK)
    axis.bar_label(bars, fmt="%.0f ms", padding=3)
    axis.set_xlabel("20 blended layers at 1280 x 800, ms")
    axis.invert_yaxis()
    axis.margins(x=0.15)
    _save(figure, "beside.svg")


def _save(figure: Any, name: str) -> None:
    figure.savefig(OUT / name, metadata={"Date": None, "Creator": None})
    plt.close(figure)
    print(OUT / name)


if __name__ == "__main__":
    main()
