"""What the docs say can be done, can be done."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from japanner.desk.commands.command import MENUS
from japanner.files.opening import open_painting
from japanner.painting.model import MATERIALS, PLACES, ROLES, STEP_NAMES
from japanner.raster.modes import MODES
from tests.paintings import rgba

ROOT = Path(__file__).resolve().parents[1]
DOCS = ROOT / "docs"


def test_the_scripting_example_runs(tmp_path, monkeypatch):
    code = re.search(r"```python\n(.*?)```", (DOCS / "scripting.md").read_text(), re.DOTALL).group(1)
    monkeypatch.chdir(tmp_path)
    exec(compile(code, "scripting.md", "exec"), {})
    painting = open_painting(tmp_path / "egg.ora").painting
    assert [layer.role for _, layer in painting.layers()] == ["flat", "light"]
    assert rgba(painting.parts[0].layers[0].pixels, 400, 300)[3] == 1
    assert len([line for line in code.splitlines() if line and not line.startswith("from")]) <= 10


@pytest.mark.parametrize("path", [*ROOT.glob("*.md"), *DOCS.glob("*.md")], ids=lambda path: path.name)
def test_links_lead_somewhere(path):
    for target in re.findall(r"\]\(([^)#]+)", path.read_text()):
        assert (path.parent / target).exists(), target


def test_every_screenshot_is_linked_from_the_readme():
    readme = (ROOT / "README.md").read_text()
    for shot in (DOCS / "screenshots").glob("*.png"):
        assert f"docs/screenshots/{shot.name}" in readme, shot.name


def test_words_names_everything_that_a_painter_can_choose():
    words = (DOCS / "words.md").read_text()
    for name in (*MATERIALS, *PLACES, *ROLES, *STEP_NAMES, *MODES):
        assert name in re.sub(r"\s+", " ", words), name
    assert MENUS[0] == "Painting"
