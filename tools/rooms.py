"""Draws the rooms of the house as SVG, from the imports of the code: docs/rooms.svg. With --check, says if it is old.

A box a folder, boxes within boxes as folders lie; an arrow for every folder that imports another one, from the one that
uses to the one that is used. All arrows point down, or there is a circle.
"""

from __future__ import annotations

import argparse
import ast
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SOURCE = ROOT / "src" / "japanner"
OUT = ROOT / "docs" / "rooms.svg"
# From the top of the house to its ground; what a room may use stands below it.
FLOORS = (
    ("desk", ("window", "commands", "panels", "tasks", "easel", "brushes", "session", "widgets")),
    ("demo", ()),
    ("files", ()),
    ("review", ()),
    ("painting", ("live", "document", "operations", "makers", "form", "value", "picture", "model")),
    ("stroke", ("kinds", "brush", "pen")),
    ("strand", ()),
    ("light", ()),
    ("raster", ()),
    ("color", ()),
)
WIDTH, FLOOR, GAP, LEFT, ROOM, ROOM_GAP = 1500, 48, 20, 150, 108, 12
LANE = 1130
"""From here to the right run the arrows."""
INK, GOLD, PANEL, TILE, QUIET = "#ece6da", "#c9a453", "#221f1d", "#2b2725", "#a39c90"


def imports() -> dict[tuple[str, str], int]:
    """How many imports lead from one folder to another; folders as `painting/model`, files beside folders as theirs."""
    found: dict[tuple[str, str], int] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        own = _room(path.relative_to(SOURCE).parts[:-1])
        for module in _modules(path):
            other = _room(tuple(module.split(".")[1:]))
            if own and other and own != other:
                found[own, other] = found.get((own, other), 0) + 1
    return found


def _modules(path: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("japanner."):
            yield node.module


def _room(parts: tuple[str, ...]) -> str:
    inner = dict(FLOORS)
    if not parts or parts[0] not in inner:
        return ""
    return f"{parts[0]}/{parts[1]}" if len(parts) > 1 and parts[1] in inner[parts[0]] else parts[0]


def places() -> dict[str, tuple[float, float, float, float]]:
    """Where each room stands: x, y, width, height."""
    found: dict[str, tuple[float, float, float, float]] = {}
    for floor, (name, rooms) in enumerate(FLOORS):
        y = 60 + floor * (FLOOR + GAP)
        found[name] = (LEFT - 110, y, WIDTH - LEFT + 70, FLOOR)
        for index, room in enumerate(rooms):
            found[f"{name}/{room}"] = (LEFT + index * (ROOM + ROOM_GAP), y + 9, ROOM, FLOOR - 18)
    return found


def drawing() -> str:
    """The whole picture as text; the same for the same imports."""
    where, height = places(), 60 + len(FLOORS) * (FLOOR + GAP) + 20
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" height="{height}" font-family="sans-serif">',
        f'<rect width="{WIDTH}" height="{height}" fill="#191716"/>',
        f'<text x="40" y="36" fill="{GOLD}" font-size="15">What stands above may use what stands below</text>',
    ]
    for name, (x, y, width, tall) in where.items():
        inner = "/" in name
        lines.append(
            f'<rect x="{x:g}" y="{y:g}" width="{width:g}" height="{tall:g}" rx="4" fill="{TILE if inner else PANEL}" '
            f'stroke="{GOLD if inner else "#5d4d2a"}" stroke-width="{0.6 if inner else 1}"/>'
        )
        at, anchor = (x + width / 2, "middle") if inner else (x + 12, "start")
        words = name.rpartition("/")[2]
        lines.append(
            f'<text x="{at:g}" y="{y + tall / 2 + 5:g}" fill="{INK}" font-size="{12 if inner else 14}" '
            f'text-anchor="{anchor}">{words}</text>'
        )
        if not inner and not dict(FLOORS)[name]:
            doc = ast.get_docstring(ast.parse((SOURCE / name / "__init__.py").read_text(encoding="utf-8"))) or ""
            lines.append(f'<text x="{LEFT}" y="{y + tall / 2 + 5:g}" fill="{QUIET}" font-size="12">{doc}</text>')
    lines += _arrows(where)
    return "\n".join([*lines, "</svg>"]) + "\n"


def _arrows(where: dict[str, tuple[float, float, float, float]]) -> list[str]:
    """Between floors: one line for all imports of a floor from another, as thick as there are many."""
    floors: dict[tuple[str, str], int] = {}
    for (own, other), count in imports().items():
        pair = (own.partition("/")[0], other.partition("/")[0])
        if pair[0] != pair[1]:
            floors[pair] = floors.get(pair, 0) + count
    lines = []
    for index, ((own, other), count) in enumerate(sorted(floors.items())):
        _, y0, _, tall = where[own]
        _, y1, _, _ = where[other]
        x = LANE + index * (WIDTH - 100 - LANE) / len(floors)
        thick = min(0.5 + count / 60, 4)
        lines.append(
            f'<path d="M{x:g} {y0 + tall:g} V{y1 - 5:g}" stroke="{QUIET}" stroke-opacity="0.55" '
            f'stroke-width="{thick:.2f}" fill="none"/>'
            f'<path d="M{x - 4:g} {y1 - 6:g} h8 l-4 6 z" fill="{QUIET}">'
            f"<title>{own} uses {other}: {count}</title></path>"
        )
    return lines


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--check", action="store_true", help="change nothing; 1 if the drawing is not that of the code")
    fresh = drawing()
    if parser.parse_args().check:
        if not OUT.exists() or OUT.read_text(encoding="utf-8") != fresh:
            print("docs/rooms.svg is not that of the code any more: run `make rooms`.", file=sys.stderr)
            return 1
        return 0
    OUT.write_text(fresh, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
