"""Meshes from files: OBJ, PLY, STL and glTF, read by trimesh, checked, and reduced to what a painting needs."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.errors import FileFormatError, InputError
from japanner.files.reading import read_bytes
from japanner.light.mesh.mesh import Mesh

__all__ = ["MESH_FORMATS", "ReadMesh", "read_mesh"]

MESH_FORMATS: Final = {".obj": "obj", ".ply": "ply", ".stl": "stl", ".glb": "glb", ".gltf": "gltf"}
LARGEST: Final = 300 << 20
MOST_READ: Final = 1_000_000
"""Faces of a file at most."""
MOST_KEPT: Final = 40_000
"""More faces are reduced to so many: a form is made smooth again where it is used."""
MOST_NAMES: Final = 100
LONG_SIDE: Final = 2.0
"""Units that the longest side of any mesh is brought to: files do not say what their numbers are."""
FLAT: Final = 0.97
"""Cosine between two triangles that are one face of four."""


@dataclass(frozen=True, eq=False)
class ReadMesh:
    """A mesh, its middle at the origin, and in sentences what was not as it should be, or was changed."""

    mesh: Mesh
    notes: tuple[str, ...]


def read_mesh(path: Path) -> ReadMesh:
    """The faces of a file; FileFormatError says in one sentence why there are none to be had."""
    kind = MESH_FORMATS.get(path.suffix.lower())
    if kind is None:
        raise FileFormatError(f"{path.name} is no mesh: expected one of {', '.join(MESH_FORMATS)}.")
    data = read_bytes(path, LARGEST)
    points, triangles, group, names = _loaded(path, data, kind)
    if not np.isfinite(points).all():
        raise FileFormatError(f"{path.name} is refused: some of its points are no numbers.")
    notes: list[str] = []
    points, triangles, group = _cleaned(points, triangles, group)
    if len(triangles) > MOST_READ:
        raise FileFormatError(f"{path.name} is refused: it has {len(triangles)} faces, and {MOST_READ} is the most.")
    side = float(np.ptp(points, axis=0).max()) if len(triangles) else 0.0
    if side <= 0:
        raise FileFormatError(f"{path.name} has no faces with any extent.")
    if len(triangles) > MOST_KEPT:
        notes.append(f"Its {len(triangles)} faces were reduced to {MOST_KEPT}.")
        points, triangles, group = _reduced(points, triangles, group)
    open_edges = _open_edges(triangles)
    if open_edges:
        notes.append(f"It is open along {open_edges} edges.")
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    points = (points - middle) * (LONG_SIDE / side)
    if not 0.5 <= side <= 5:
        notes.append(f"Its longest side, {side:.4g} of its own units, was brought to {LONG_SIDE:g}.")
    faces, group = _quads(points, triangles, group)
    try:
        return ReadMesh(Mesh(points.astype(np.float32), faces, group, names), tuple(notes))
    except InputError as error:
        raise FileFormatError(f"{path.name} is refused: {error}.") from error


Loaded = tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.int16], tuple[str, ...]]
Cut = tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.int16]]


class _Neighbours:
    """Gives what a file refers to, from its own folder alone."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def get(self, name: str) -> bytes:
        plain = Path(name).name
        if plain != name:
            raise FileFormatError(f"It refers to {name}, which does not lie beside it.")
        return read_bytes(self._folder / plain, LARGEST)

    __getitem__ = get

    def keys(self) -> list[str]:
        return []


def _loaded(path: Path, data: bytes, kind: str) -> Loaded:
    import trimesh  # noqa: PLC0415 - it takes a third of a second, and few open meshes

    more = {"split_objects": True, "split_groups": True, "skip_materials": True} if kind == "obj" else {}
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            scene = trimesh.load_scene(
                io.BytesIO(data), file_type=kind, process=False, resolver=_Neighbours(path.parent), **more
            )
            return _of_scene(scene)
    except FileFormatError:
        raise
    except MemoryError as error:
        raise FileFormatError(f"{path.name} needs more memory than there is.") from error
    except Exception as error:
        # Readers of foreign formats fail in ways of their own; whatever it is, it is the file's.
        reason = str(error).splitlines()[0] if str(error) else type(error).__name__
        raise FileFormatError(f"{path.name} cannot be read as {kind.upper()}: {reason[:120]}.") from error


def _of_scene(scene: Any) -> Loaded:
    """All meshes of a scene, each where the scene has it, as one."""
    points, triangles, group, names, count = [np.zeros((0, 3))], [np.zeros((0, 3), np.int64)], [], [], 0
    for node in scene.graph.nodes_geometry:
        matrix, name = scene.graph[node]
        shape = scene.geometry[name]
        faces = getattr(shape, "faces", None)
        if faces is None or not len(faces):
            continue
        points.append(np.asarray(shape.vertices, float) @ matrix[:3, :3].T + matrix[:3, 3])
        triangles.append(np.asarray(faces, np.int64) + count)
        count += len(shape.vertices)
        word = str(name)[:80]
        if word not in names:
            names.append(word)
        group.append(np.full(len(faces), min(names.index(word), MOST_NAMES), np.int16))
    kept = [*names[:MOST_NAMES], "others"] if len(names) > MOST_NAMES else names if len(names) > 1 else [""]
    groups = np.concatenate(group) if group else np.zeros(0, np.int16)
    return np.concatenate(points), np.concatenate(triangles), groups, tuple(kept)


def _cleaned(points: NDArray[np.float64], triangles: NDArray[np.int64], group: NDArray[np.int16]) -> Cut:
    """Points in one place made one, faces without extent and points without a face left out."""
    side = max(float(np.ptp(points, axis=0).max()) if len(points) else 0.0, 1e-12)
    _, first, number = np.unique(np.rint(points / side * 1e6), axis=0, return_index=True, return_inverse=True)
    triangles = number.reshape(-1)[triangles]
    whole = (triangles[:, 0] != triangles[:, 1]) & (triangles[:, 1] != triangles[:, 2])
    whole &= triangles[:, 0] != triangles[:, 2]
    triangles, group = triangles[whole], group[whole]
    used, compact = np.unique(triangles, return_inverse=True)
    return points[first][used], compact.reshape(-1, 3), group


def _reduced(points: NDArray[np.float64], triangles: NDArray[np.int64], group: NDArray[np.int16]) -> Cut:
    """Fewer faces of about the same form (Garland & Heckbert 1997); each keeps the group of the nearest before."""
    import fast_simplification  # noqa: PLC0415 - few need it

    fewer, faces = fast_simplification.simplify(
        points.astype(np.float32), triangles.astype(np.int32), target_reduction=1 - MOST_KEPT / len(triangles)
    )
    tree = scipy.spatial.cKDTree(points[triangles].mean(axis=1))
    nearest = tree.query(fewer[faces].mean(axis=1))[1]
    return _cleaned(fewer.astype(float), faces.astype(np.int64), group[nearest])


def _open_edges(triangles: NDArray[np.int64]) -> int:
    edges = np.sort(np.stack((triangles, np.roll(triangles, -1, axis=1)), -1).reshape(-1, 2), axis=1)
    _, meeting = np.unique(edges, axis=0, return_counts=True)
    return int((meeting == 1).sum())


def _quads(
    points: NDArray[np.float64], triangles: NDArray[np.int64], group: NDArray[np.int16]
) -> tuple[NDArray[np.int32], NDArray[np.int16]]:
    """Two triangles that were one face of four in the file are one again: smooth surfaces bend better along them."""
    a, b, c = (points[triangles[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-20)
    # Readers cut (a, b, c, d) into (a, b, c) and (c, d, a).
    first = {(int(t[2]), int(t[0])): k for k, t in reversed(list(enumerate(triangles)))}
    taken, faces, groups = np.zeros(len(triangles), bool), [], []
    for k, (p, q, r) in enumerate(triangles.tolist()):
        other = first.get((p, r))
        if other is None or other == k or taken[k] or taken[other] or group[k] != group[other]:
            continue
        if normal[k] @ normal[other] > FLAT:
            taken[k] = taken[other] = True
            faces.append((*triangles[other].tolist(), q))
            groups.append(group[k])
    rest = triangles[~taken]
    three = np.column_stack((rest, rest[:, 2])).astype(np.int32)
    whole = np.concatenate((np.array(faces, np.int32).reshape(-1, 4), three))
    return whole, np.concatenate((np.array(groups, np.int16), group[~taken])).astype(np.int16)
