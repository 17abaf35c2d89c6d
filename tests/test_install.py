"""What is installed is whole and valid, and is taken away again without a trace."""

from __future__ import annotations

import importlib.util
import shutil
import subprocess
import tomllib
from pathlib import Path

import pytest
from defusedxml.ElementTree import parse
from PIL import Image

from japanner.demo import DEMOS

ROOT = Path(__file__).resolve().parent.parent
NAMESPACE = "{http://www.freedesktop.org/standards/shared-mime-info}"


@pytest.fixture
def installing(monkeypatch, tmp_path):
    """The installer, with a prefix of its own, and an environment that costs nothing."""
    spec = importlib.util.spec_from_file_location("install", ROOT / "tools" / "install.py")
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    monkeypatch.setenv("PREFIX", str(tmp_path / "local"))
    commands = []
    monkeypatch.setattr(made.subprocess, "run", lambda command, **_: commands.append([str(one) for one in command]))
    monkeypatch.setattr(made.venv.EnvBuilder, "create", lambda _, folder: (folder / "bin").mkdir(parents=True))
    made.commands = commands
    return made


def test_it_installs_and_takes_away(installing, tmp_path, capsys):
    installing.install()
    local = tmp_path / "local"
    assert (local / "bin" / "japanner").is_symlink()
    entry = (local / "share" / "applications" / "japanner.desktop").read_text()
    assert f"Exec={local}/bin/japanner %f" in entry
    assert (local / "share" / "man" / "man1" / "japanner.1").is_file()
    assert (local / "share" / "icons" / "hicolor" / "48x48" / "apps" / "japanner.png").is_file()
    assert any("pip" in command for command in installing.commands)
    assert "Installed" in capsys.readouterr().out
    installing.uninstall()
    assert not [one for one in local.rglob("*") if not one.is_dir()]


# Desktop Entry Specification 1.5: the keys that an application needs; MIME types end in a semicolon.
def test_the_desktop_entry_is_valid():
    text = (ROOT / "packaging" / "japanner.desktop").read_text()
    for line in ("Type=Application", "Name=Japanner", "Exec=japanner %f", "Icon=japanner", "Terminal=false"):
        assert line in text.splitlines()
    assert "MimeType=image/openraster;image/png;" in text
    if shutil.which("desktop-file-validate"):
        done = subprocess.run(
            ["desktop-file-validate", ROOT / "packaging" / "japanner.desktop"],
            capture_output=True,
            text=True,
            check=False,
        )
        assert (done.returncode, done.stdout) == (0, "")


# Shared MIME-info Database: one type, its glob, and what its files begin with (OpenRaster: an entry named mimetype).
def test_the_type_of_paintings_is_told():
    (kind,) = parse(ROOT / "packaging" / "japanner.xml").getroot().findall(f"{NAMESPACE}mime-type")
    assert kind.get("type") == "image/openraster"
    assert kind.find(f"{NAMESPACE}glob").get("pattern") == "*.ora"


# Icon Theme Specification: each size in its own folder, and as large as that says.
def test_icons_have_the_sizes_that_their_folders_say(installing):
    for target, source in installing.files().items():
        assert source.is_file()
        if target.suffix == ".png":
            with Image.open(source) as icon:
                assert icon.size == tuple(int(one) for one in target.parent.parent.name.split("x"))


def test_the_man_page_knows_what_the_command_line_knows():
    page = (ROOT / "packaging" / "japanner.1").read_text().replace("\\-", "-")
    for word in ("--stage", "--size", "--save", "--version", *DEMOS):
        assert word in page


def test_the_wheel_holds_all_that_the_program_reads():
    with (ROOT / "pyproject.toml").open("rb") as file:
        held = tomllib.load(file)["tool"]["setuptools"]["package-data"]
    package = ROOT / "src" / "japanner"
    wanted = {path for path in package.rglob("*") if path.is_file() and path.suffix not in (".py", ".pyc")}
    found = {
        path for name, patterns in held.items() for pattern in patterns
        for path in (ROOT / "src" / name.replace(".", "/")).glob(pattern) if path.is_file()
    }  # fmt: skip
    assert wanted - found == set()
