"""Install Japanner for the user who runs this, or take it away again; run by `make install` and `make uninstall`.

Everything lies under one prefix, ~/.local unless PREFIX says else: an environment of its own, the command, and what
desktops look for. Paintings, settings and journals are not touched by either.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import venv
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
ICONS = ROOT / "src" / "japanner" / "desk" / "assets" / "icon"
SIZES = (16, 24, 32, 48, 64, 128, 256)
LOWEST, HIGHEST = (3, 11), (3, 13)


def prefix() -> Path:
    return Path(os.environ.get("PREFIX") or Path.home() / ".local").expanduser()


def environment() -> Path:
    return prefix() / "share" / "japanner" / "environment"


def files() -> dict[Path, Path]:
    """What is copied, by where it goes."""
    share, packaging = prefix() / "share", ROOT / "packaging"
    icons = share / "icons" / "hicolor"
    return {
        share / "applications" / "japanner.desktop": packaging / "japanner.desktop",
        share / "mime" / "packages" / "japanner.xml": packaging / "japanner.xml",
        share / "man" / "man1" / "japanner.1": packaging / "japanner.1",
        icons / "scalable" / "apps" / "japanner.svg": ICONS / "japanner.svg",
        **{icons / f"{side}x{side}" / "apps" / "japanner.png": ICONS / f"japanner-{side}.png" for side in SIZES},
    }


def command() -> Path:
    return prefix() / "bin" / "japanner"


def install() -> None:
    """Make the environment, put the command on the path, tell the desktop."""
    if not LOWEST <= sys.version_info[:2] <= HIGHEST:
        raise SystemExit(f"Japanner needs Python 3.11 to 3.13; this is {sys.version.split()[0]}.")
    folder = environment()
    print(f"Installing into {folder}", flush=True)
    venv.EnvBuilder(clear=True, with_pip=True).create(folder)
    python = folder / "bin" / "python"
    subprocess.run(
        [python, "-m", "pip", "install", "--quiet", "--constraint", ROOT / "constraints.txt", str(ROOT)], check=True
    )
    subprocess.run([python, "-m", "japanner.compile_kernels"], check=True, cwd=folder)
    command().parent.mkdir(parents=True, exist_ok=True)
    command().unlink(missing_ok=True)
    command().symlink_to(folder / "bin" / "japanner")
    for target, source in files().items():
        target.parent.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(source, target)
    # The menu may not know the user's own path: the entry names the command in full.
    entry = prefix() / "share" / "applications" / "japanner.desktop"
    entry.write_text(entry.read_text(encoding="utf-8").replace("Exec=japanner", f"Exec={command()}"), encoding="utf-8")
    _tell_the_desktop()
    print(f"Installed: {command()}")
    if str(command().parent) not in os.environ.get("PATH", "").split(os.pathsep):
        print(f"{command().parent} is not on your PATH; the menu entry works all the same.")


def uninstall() -> None:
    """Take away what `install` has put there, and nothing else."""
    for target in (command(), *files()):
        target.unlink(missing_ok=True)
    shutil.rmtree(environment().parent, ignore_errors=True)
    _tell_the_desktop()
    print("Taken away. Your paintings, settings and journals stay where they are.")


def _tell_the_desktop() -> None:
    share = prefix() / "share"
    for tool, folder in (
        ("update-desktop-database", share / "applications"),
        ("update-mime-database", share / "mime"),
        ("gtk-update-icon-cache", share / "icons" / "hicolor"),
    ):
        if shutil.which(tool) and folder.is_dir():
            subprocess.run([tool, str(folder)], check=False, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def main() -> int:
    parser = argparse.ArgumentParser(description="Install Japanner for yourself.")
    parser.add_argument("--remove", action="store_true", help="take it away again")
    try:
        if parser.parse_args().remove:
            uninstall()
        else:
            install()
    except (OSError, subprocess.CalledProcessError) as error:
        print(f"That did not work: {error}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
