"""Pictures that the engine takes its time for, kept on disk from one start to the next."""

from __future__ import annotations

import contextlib
import hashlib
import json
import secrets
from collections.abc import Callable
from pathlib import Path
from typing import Any, Final

from PySide6.QtGui import QImage, QImageWriter

from japanner import __version__
from japanner._kernel_cache import cache_folder

__all__ = ["MOST_KEPT", "kept_picture", "pictures_folder"]

MOST_KEPT: Final = 600


def pictures_folder() -> Path:
    """Where they lie: beside the kernels that drew them, so that another engine draws them anew."""
    return cache_folder() / "pictures"


def kept_picture(what: dict[str, Any], scale: float, draw: Callable[[], QImage]) -> QImage:
    """The picture that `what` describes in full: as it was kept, else drawn now. scale: its px to one of the screen."""
    name = hashlib.sha256(json.dumps([__version__, what], sort_keys=True).encode()).hexdigest()[:24]
    path = pictures_folder() / f"{name}.png"
    found = QImage(str(path)) if path.is_file() else QImage()
    if not found.isNull():
        kept = found.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)
        kept.setDevicePixelRatio(scale)
        return kept
    image = draw()
    # Where nothing can be written, it is drawn again next time.
    with contextlib.suppress(OSError):
        _keep(image, path)
    return image


def _keep(image: QImage, path: Path) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f"{secrets.token_hex(4)}.part")
    if QImageWriter(str(part), b"PNG").write(image):
        part.replace(path)
    others = sorted(path.parent.glob("*.png"), key=lambda one: one.stat().st_mtime)
    for old in others[:-MOST_KEPT]:
        old.unlink(missing_ok=True)
