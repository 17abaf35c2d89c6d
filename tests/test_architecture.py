"""The rooms and their one-way arrows, and what holds for all code."""

from __future__ import annotations

import ast
import graphlib
import inspect
import re
from dataclasses import is_dataclass
from importlib import import_module
from pathlib import Path

import pytest

import japanner
from japanner import _kernel_cache
from japanner._numba import Kernel

SOURCE = Path(japanner.__file__).parent
FILES = sorted(SOURCE.rglob("*.py"))
MODULES = {
    ".".join(("japanner", *path.relative_to(SOURCE).with_suffix("").parts)).removesuffix(".__init__"): path
    for path in FILES
}
# Later rooms may use earlier ones, never the other way round.
ORDER = ("color", "raster", "light", "strand", "stroke", "painting", "review", "files", "demo", "desk")
INSIDE = {
    "stroke": ("pen", "brush", "kinds"),
    "painting": ("model", "picture", "value", "form", "makers", "operations", "document", "live"),
    "desk": ("widgets", "session", "brushes", "easel", "tasks", "panels", "commands", "window"),
}
"""The order of the rooms within a room."""
# The core's own modules at the top: scripting stands on files, demo on scripting.
TOP = {
    "checks": -2,
    "errors": -2,
    "records": -2,
    "types": -2,
    "_numba": -2,
    "_kernel_cache": -2,
    "scripting": 7.5,
    "cli": 10,
    "compile_kernels": -2,
}
MOST_FILES = 20
NETWORK = {"socket", "ssl", "http", "urllib", "ftplib", "smtplib", "requests", "aiohttp", "xmlrpc"}


def imported(path):
    """All modules that a file imports, also inside functions."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            yield from (name.name for name in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module
            yield from (f"{node.module}.{name.name}" for name in node.names)


def room_of(module):
    parts = module.split(".")
    if len(parts) < 2 or parts[0] != "japanner":
        return None
    return parts[1]


def rank(room):
    if room in ORDER:
        return ORDER.index(room)
    return TOP.get(room)


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.relative_to(SOURCE).as_posix())
def test_arrows_run_one_way(path):
    relative = path.relative_to(SOURCE)
    own = rank(relative.parts[0].removesuffix(".py"))
    for module in imported(path):
        if relative.parts[0] != "desk":
            assert not module.startswith(("PySide6", "shiboken6")), f"Qt in the core: {module}"
        assert module.split(".")[0] not in NETWORK, f"network: {module}"
        other = rank(room_of(module))
        if own is not None and other is not None:
            assert other <= own, f"{relative} must not use {module}"


def node_of(module):
    """What a module counts as: its folder; kernels, and files beside folders, count by themselves."""
    path = MODULES[module]
    folder = path.parent.relative_to(SOURCE).as_posix()
    beside_folders = any(one.is_dir() and (one / "__init__.py").exists() for one in path.parent.iterdir())
    return module if "_kernels" in path.stem or (beside_folders and path.stem != "__init__") else folder


def test_there_are_no_circles():
    """Neither between files nor between folders, what is imported for types included."""
    files, folders = {}, {}
    for module, path in MODULES.items():
        found = {one for one in imported(path) if one in MODULES and one != module}
        files[module] = found - {module.rpartition(".")[0]}
        folders.setdefault(node_of(module), set()).update(node_of(one) for one in found)
    for folder, found in folders.items():
        found.discard(folder)
    graphlib.TopologicalSorter(files).prepare()
    graphlib.TopologicalSorter(folders).prepare()


@pytest.mark.parametrize(("room", "order"), INSIDE.items())
def test_arrows_inside_a_room_run_one_way(room, order):
    for path in (SOURCE / room).rglob("*.py"):
        own = path.relative_to(SOURCE / room).parts[0]
        for module in imported(path):
            parts = module.split(".")
            if own in order and parts[:2] == ["japanner", room] and len(parts) > 2 and parts[2] in order:
                assert order.index(parts[2]) <= order.index(own), f"{path} must not use {module}"


def test_no_folder_has_grown_too_full():
    for folder in {path.parent for path in FILES}:
        names = [path.name for path in folder.glob("*.py") if "_kernels" not in path.name and path.stem != "__init__"]
        assert len(names) <= MOST_FILES, folder


def test_kinds_of_brushes_are_known_by_name_in_one_file():
    asks = re.compile(r"\b(brush|tip|stroke\.brush)\.kind (==|!=|in|not in) ")
    for path in FILES:
        if path.relative_to(SOURCE).as_posix() != "stroke/brush/kinds.py":
            for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1):
                found = asks.search(line)
                assert not found or "brush.name" in line, f"{path}:{number}"


def test_keys_are_written_in_the_table_of_commands_alone():
    """No tooltip or hint repeats a key: they would be wrong as soon as it is changed."""
    for path in (SOURCE / "desk").rglob("*.py"):
        if "commands" not in path.parts:
            text = path.read_text(encoding="utf-8")
            assert not re.search(r"\((?:Ctrl\+|Shift\+|Alt\+)*[A-Z]\)[\"']", text), path
            assert not re.search(r"setShortcut\(", text), path


def test_the_core_runs_without_qt():
    import subprocess
    import sys

    code = (
        "import sys\n"
        "sys.modules['PySide6'] = None\n"
        "from japanner.scripting import Script, shipped_brush\n"
        "s = Script.new(64, 64)\n"
        "layer = s.layer(s.part('A'), 'flat')\n"
        "s.stroke(layer, shipped_brush('Mop'), (1, 1, 1), [(10, 10), (50, 50)])\n"
        "print(len(s.document.records))\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "4"


KERNELS = [(name, module) for name in _kernel_cache.kernel_modules() for module in [import_module(name)]]


@pytest.mark.parametrize(("name", "module"), KERNELS, ids=[name for name, _ in KERNELS])
def test_kernels_have_signatures_are_cached_and_release_the_interpreter(name, module):
    found = 0
    for one in vars(module).values():
        if isinstance(one, Kernel):
            function = one.load()
            assert not function._can_compile  # explicit signature: nothing is compiled later
            assert function.nopython_signatures
            assert function.stats.cache_path
        function = one.load() if isinstance(one, Kernel) else one
        if hasattr(function, "nopython_signatures") and function.__module__ == name:
            assert function.targetoptions["nogil"]
            found += 1
    assert found


def test_kernels_check_nothing():
    for path in _kernel_cache.kernel_sources():
        for node in ast.walk(ast.parse(path.read_text())):
            assert not isinstance(node, (ast.Raise, ast.Assert)), f"{path.name}:{node.lineno}"


def test_the_kernel_cache_is_not_in_the_source_tree():
    folder = _kernel_cache.cache_folder()
    assert SOURCE not in folder.parents
    assert re.fullmatch(r"kernels-[0-9a-f]{12}", folder.name)


CORE = [
    ".".join(("japanner", *path.relative_to(SOURCE).with_suffix("").parts))
    for path in FILES
    if path.relative_to(SOURCE).parts[0] != "desk" and not path.stem.startswith("_") and "_kernels" not in path.stem
]


@pytest.mark.parametrize("name", CORE)
def test_what_the_core_exports_is_there_and_documented(name):
    module = import_module(name)
    assert module.__doc__
    for export in getattr(module, "__all__", ()):
        thing = getattr(module, export)
        if inspect.isfunction(thing) or (inspect.isclass(thing) and not is_dataclass(thing)):
            assert thing.__doc__, f"{name}.{export}"


def test_no_file_has_grown_too_long():
    for path in FILES:
        assert len(path.read_text(encoding="utf-8").splitlines()) < 500, path


def test_every_kernel_is_compiled_ahead_wherever_it_lies():
    there = {path for path in FILES if path.name.startswith("_kernels")}
    assert set(_kernel_cache.kernel_sources()) == there
    assert any(path.parent.parent.parent == SOURCE for path in there)  # also those of rooms within rooms
