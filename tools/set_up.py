"""Sets everything up: environment, packages, system libraries, compiled kernels. Quick when nothing is left to do.

Runs on the system's Python with its standard library alone. With --tests, what tests need comes too.
"""

from __future__ import annotations

import argparse
import contextlib
import hashlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
STAMP = VENV / "japanner-packages"
LOWEST, HIGHEST = (3, 11), (3, 13)

# Debian's packages for the libraries that Qt looks for; a bare machine lacks some of them.
PACKAGES = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libGLX.so.0": "libgl1",
    "libOpenGL.so.0": "libopengl0",
    "libfontconfig.so.1": "libfontconfig1",
    "libfreetype.so.6": "libfreetype6",
    "libdbus-1.so.3": "libdbus-1-3",
    "libglib-2.0.so.0": "libglib2.0-0",
    "libgthread-2.0.so.0": "libglib2.0-0",
    "libxkbcommon.so.0": "libxkbcommon0",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libX11.so.6": "libx11-6",
    "libX11-xcb.so.1": "libx11-xcb1",
    "libxcb.so.1": "libxcb1",
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-randr.so.0": "libxcb-randr0",
    "libxcb-render.so.0": "libxcb-render0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-shm.so.0": "libxcb-shm0",
    "libxcb-sync.so.1": "libxcb-sync1",
    "libxcb-util.so.1": "libxcb-util1",
    "libxcb-xfixes.so.0": "libxcb-xfixes0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
}
XVFB = "xvfb"
WINDOW_MANAGER = "openbox"


class SetUpError(Exception):
    """What keeps the set-up from going on, and what to do about it."""


def main() -> int:
    parser = argparse.ArgumentParser(description="Set Japanner up in this checkout.")
    parser.add_argument("--tests", action="store_true", help="also install what the tests need")
    wants_tests = parser.parse_args().tests
    try:
        _environment()
        _packages()
        _system_libraries(wants_tests)
        _kernels()
    except SetUpError as error:
        print(f"\nSet-up cannot go on: {error}", file=sys.stderr)
        return 1
    return 0


# --- environment and packages -------------------------------------------------------------------------


def _environment() -> None:
    """A virtual environment of our own; one that a move or a newer Python has broken is made anew."""
    if PYTHON.exists() and _works(PYTHON):
        return
    say("Making the virtual environment .venv")
    shutil.rmtree(VENV, ignore_errors=True)
    made = subprocess.run([_suitable_python(), "-m", "venv", str(VENV)], capture_output=True, text=True, check=False)
    if made.returncode:
        shutil.rmtree(VENV, ignore_errors=True)
        raise SetUpError(
            "Python cannot make a virtual environment. On Debian and its like:\n"
            f"  apt-get install python3-venv\nIt said: {made.stdout.strip()[-400:]}{made.stderr.strip()[-400:]}"
        )


def _works(python: Path) -> bool:
    check = f"import sys; sys.exit(not {LOWEST} <= sys.version_info[:2] <= {HIGHEST})"
    return subprocess.run([str(python), "-c", check], capture_output=True, check=False).returncode == 0


def _suitable_python() -> str:
    names = [sys.executable, "python3.11", "python3.12", "python3.13", "python3"]
    for name in names:
        found = shutil.which(name)
        if found and _works(Path(found)):
            return found
    raise SetUpError(f"Python {_dotted(LOWEST)} to {_dotted(HIGHEST)} is needed; this is {sys.version.split()[0]}.")


def _packages() -> None:
    """Everything that pyproject.toml asks for, at the versions of constraints.txt."""
    wanted = hashlib.sha256()
    for name in ("pyproject.toml", "constraints.txt"):
        wanted.update((ROOT / name).read_bytes())
    wanted.update(str(ROOT).encode())  # the editable install points here
    if STAMP.exists() and STAMP.read_text() == wanted.hexdigest():
        return
    say("Installing packages (some minutes the first time)")
    command = [str(PYTHON), "-m", "pip", "install", "--quiet", "--disable-pip-version-check"]
    command += ["--constraint", str(ROOT / "constraints.txt"), "--editable", f"{ROOT}[dev]"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode:
        errors = [line for line in done.stderr.splitlines() if not line.startswith("WARNING")]
        raise SetUpError("packages could not be installed:\n" + "\n".join(errors[-12:]))
    STAMP.write_text(wanted.hexdigest())


# --- system libraries ---------------------------------------------------------------------------------


def _system_libraries(with_xvfb: bool) -> None:
    """What Qt's window plugin and its libraries look for and do not find."""
    missing = _missing_libraries()
    packages = sorted({PACKAGES[name] for name in missing if name in PACKAGES})
    if with_xvfb and shutil.which("Xvfb") is None:
        packages.append(XVFB)
    if with_xvfb and shutil.which(WINDOW_MANAGER) is None:
        # One test asks for it; where it cannot be installed, that test is skipped.
        with contextlib.suppress(SetUpError):
            _install([WINDOW_MANAGER])
    unknown = sorted(name for name in missing if name not in PACKAGES)
    if unknown:
        raise SetUpError(f"these system libraries are missing, please install them: {', '.join(unknown)}")
    if not packages:
        return
    _install(packages)
    still = _missing_libraries()
    if still:
        raise SetUpError(f"these system libraries are still missing: {', '.join(sorted(still))}")


def _missing_libraries() -> set[str]:
    if shutil.which("ldd") is None:
        return set()
    missing: set[str] = set()
    qt = next(VENV.glob("lib/python*/site-packages/PySide6"))
    for library in (qt / "Qt/plugins/platforms/libqxcb.so", *qt.glob("Qt[GW]*.abi3.so")):
        listing = subprocess.run(["ldd", str(library)], capture_output=True, text=True, check=False).stdout
        missing |= {line.split()[0] for line in listing.splitlines() if line.endswith("not found")}
    return missing


def _install(packages: list[str]) -> None:
    """Install by apt where that is allowed, else say how."""
    command = ["apt-get", "install", "--yes", "--no-install-recommends", *packages]
    words = f"  sudo apt-get update && sudo {' '.join(command)}"
    if shutil.which("apt-get") is None:
        raise SetUpError(f"system packages are missing; on Debian they are called: {' '.join(packages)}")
    prefix = [] if os.geteuid() == 0 else ["sudo", "--non-interactive"]
    if prefix and (shutil.which("sudo") is None or subprocess.run([*prefix, "true"], check=False).returncode):
        raise SetUpError(f"system packages are missing, and installing them needs the administrator. Run\n{words}")
    say(f"Installing system packages: {' '.join(packages)}")
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    for step in (["apt-get", "update"], command):
        done = subprocess.run([*prefix, *step], env=environment, capture_output=True, text=True, check=False)
        if done.returncode and step is command:
            raise SetUpError(f"system packages could not be installed:\n{done.stderr.strip()[-600:]}\nTry\n{words}")


# --- kernels ------------------------------------------------------------------------------------------


def _kernels() -> None:
    """Compile what is not yet in the user's cache, with a progress line."""
    done = subprocess.run([str(PYTHON), "-m", "japanner.compile_kernels"], check=False)
    if done.returncode:
        raise SetUpError("the kernels could not be compiled; what Python said stands above.")


def say(text: str) -> None:
    print(f"{text} …", flush=True)


def _dotted(version: tuple[int, int]) -> str:
    return f"{version[0]}.{version[1]}"


if __name__ == "__main__":
    sys.exit(main())
