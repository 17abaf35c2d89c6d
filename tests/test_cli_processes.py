"""Every command of the command line as a process of its own."""

from __future__ import annotations

import json
import subprocess
import sys

import numpy as np
import pytest
import tifffile
from PIL import Image
from tools import manual

from japanner.cli.parser import COMMANDS
from japanner.scripting import Script, shipped_brush


def japanner(*arguments, status=0, cwd=None):
    done = subprocess.run(
        [sys.executable, "-m", "japanner", *map(str, arguments)], capture_output=True, text=True, cwd=cwd, check=False
    )
    assert done.returncode == status, done.stderr
    return done


@pytest.fixture(scope="module")
def painting(tmp_path_factory):
    script = Script.new(160, 100, title="A ball")
    flat = script.layer(script.part("Ball"), "flat")
    for k in range(4):
        brush = shipped_brush("Round").with_changes(size_px=40)
        script.stroke(flat, brush, (0.6, 0.4, 0.3), [(40 + 20 * k, 50, 1.0)], seed=k)
    path = tmp_path_factory.mktemp("cli") / "ball.ora"
    script.save(path)
    return path


def test_new_makes_a_painting_and_writes_over_nothing(tmp_path):
    japanner("new", tmp_path / "a.ora", "--size", "320x200", "--ppi", 150, "--title", "Begun")
    told = json.loads(japanner("info", tmp_path / "a.ora", "--json").stdout)
    assert (told["title"], told["width"], told["height"], told["ppi"]) == ("Begun", 320, 200, 150)
    before = (tmp_path / "a.ora").read_bytes()
    assert "is there already" in japanner("new", tmp_path / "a.ora", status=1).stderr
    assert (tmp_path / "a.ora").read_bytes() == before
    assert "two numbers" in japanner("new", tmp_path / "b.ora", "--size", "wide", status=1).stderr


def test_info_says_what_is_in_a_file(painting):
    words = japanner("info", painting).stdout
    assert "A ball: 160 x 100 px" in words
    assert "4 strokes" in words


def test_export_writes_several_at_once(painting, tmp_path):
    names = ["a.png", "a.tif", "a.jpg", "a.webp", "a.pdf"]
    done = japanner("export", painting, *(tmp_path / name for name in names), "--bits", 16, "--bleed", 1, "--marks")
    assert sorted(one.name for one in tmp_path.iterdir()) == sorted(names)
    assert done.stdout == ""
    assert tifffile.imread(tmp_path / "a.tif").dtype == np.uint16
    assert "a.xyz" in japanner("export", painting, tmp_path / "a.xyz", status=1).stderr
    japanner("export", painting, tmp_path / "layers.tif", "--layers")
    assert tifffile.imread(tmp_path / "layers.tif").shape == (100, 160, 4)


def test_export_of_a_crop_and_of_every_part(painting, tmp_path):
    japanner("export", painting, tmp_path / "a.jpg", "--long", 40, "--crop", "0,0,0.5,0.5", "--look", "values")
    with Image.open(tmp_path / "a.jpg") as image:
        assert image.size == (40, 25)
    japanner("export", painting, tmp_path / "ball.png", "--each", "parts", "--bits", 16)
    assert [one.name for one in tmp_path.glob("ball *.png")]
    for wrong in (("a.tif", "--each", "parts"), ("b.png", "--crop", "1,2"), ("b.png", "--look", "blue")):
        done = japanner("export", painting, tmp_path / wrong[0], *wrong[1:], status=1)
        assert "expected" in done.stderr


def test_film(painting, tmp_path):
    done = japanner("film", painting, tmp_path / "a.gif", "--long", 80, "--seconds", 0.5, "--hold", 0.2)
    assert (tmp_path / "a.gif").stat().st_size > 500
    assert "%" in done.stderr
    assert done.stdout == ""
    assert "four numbers" in japanner("film", painting, tmp_path / "b.gif", "--camera", "1,2", status=1).stderr


def test_check_answers_in_words_and_in_data_and_writes_a_report(painting, tmp_path):
    done = japanner("check", painting, "--only", "value range", "--json", "--report", tmp_path / "a.html", status=1)
    (found,) = json.loads(done.stdout)["findings"]
    assert found["word"] == "problem"
    assert "Critique of A ball" in (tmp_path / "a.html").read_text()
    assert "value range" in japanner("check", painting, "--only", "clipping", "--only", "value range", status=1).stdout
    assert "expected one of" in japanner("check", painting, "--only", "soul", status=1).stderr
    japanner("check", painting, "--only", "clipping")


def test_run_paints_by_a_script(tmp_path):
    (tmp_path / "paint.py").write_text(
        "import sys\nfrom japanner.scripting import Script\n"
        "script = Script.new(40, 30)\nscript.layer(script.part('Part'), 'flat')\nscript.save(sys.argv[1])\n"
    )
    japanner("run", tmp_path / "paint.py", tmp_path / "made.ora")
    assert (tmp_path / "made.ora").exists()
    assert "is not there" in japanner("run", tmp_path / "none.py", status=1).stderr


def test_warm_compiles_what_is_not_compiled_yet():
    assert "%" in japanner("warm").stderr


@pytest.mark.parametrize("command", COMMANDS)
def test_every_command_says_what_it_does(command):
    words = japanner(command, "--help").stdout
    assert COMMANDS[command].words.capitalize() in " ".join(words.split())


def test_files_that_cannot_be_read(tmp_path):
    for command in (["info"], ["check"], ["film"]):
        assert "gone.ora cannot be read" in japanner(*command, tmp_path / "gone.ora", status=1).stderr
    assert "invalid choice" in japanner("demo", "ghosts", status=2).stderr


def test_completion_and_manual_are_made_from_the_same_words():
    assert "complete" in japanner("--completion", "bash").stdout
    assert manual.PAGE.read_text() == manual.page(), "make manual"
