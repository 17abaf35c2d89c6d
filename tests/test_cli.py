"""The command line, without a window."""

from __future__ import annotations

import pytest

from japanner import __version__, cli
from japanner._kernel_cache import kernel_modules
from japanner.compile_kernels import compile_all
from japanner.demo import DEMOS, Demo
from japanner.files.opening import open_painting
from tests.paintings import same_painting


@pytest.fixture
def quick_demo(monkeypatch, script):
    def paint(progress):
        progress(0.5, "Half way")
        return script

    monkeypatch.setitem(DEMOS, "studies", Demo("Quick", "", "none", DEMOS["studies"].stages, _painted=paint))
    return script


@pytest.mark.parametrize("name", ["a.ora", "a.png"])
def test_a_demo_can_be_saved_without_a_window(quick_demo, name, tmp_path, capsys):
    assert cli.main(["demo", "studies", "--save", str(tmp_path / name)]) == 0
    assert "Half way" in capsys.readouterr().err
    opened = open_painting(tmp_path / name)
    assert opened.native == (name == "a.ora")
    if opened.native:
        assert same_painting(opened.painting, quick_demo.painting)


def test_saving_where_it_cannot_be_says_why(quick_demo, tmp_path, capsys):
    assert cli.main(["demo", "studies", "--save", str(tmp_path / "nowhere" / "a.ora")]) == 1
    assert "a.ora was not saved: no such file or directory" in capsys.readouterr().err


def test_bad_arguments_are_refused(capsys):
    for arguments in (
        ["demo", "--save", "a.ora"],
        ["demo", "ghosts"],
        ["demo", "studies", "--stage", "glaze"],
        ["demo", "hair", "--stage", "flat"],
    ):
        with pytest.raises(SystemExit) as caught:
            cli.main(arguments)
        assert caught.value.code == 2
    with pytest.raises(SystemExit):
        cli.main(["--version"])
    assert __version__ in capsys.readouterr().out


def test_compiling_tells_how_far_it_is():
    told = []
    compile_all(lambda done, total, module: told.append((done, total, module)))
    assert told[0][0] == 0
    assert told[-1] == (len(kernel_modules()), len(kernel_modules()), "")
    assert all(module.startswith("japanner.") for _, _, module in told[:-1])
