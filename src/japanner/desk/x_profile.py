"""The colour profiles that desktops leave with the X server for its screens."""

from __future__ import annotations

import ctypes
import ctypes.util
from typing import Any, Final

from PySide6.QtGui import QGuiApplication

__all__ = ["desktop_profile"]

LONGEST: Final = 1 << 22
"""Of a profile, in units of four bytes."""
BYTES: Final = 8
ANY_KIND, KEEP, IF_KNOWN = 0, 0, 1


def desktop_profile(index: int) -> bytes:
    """The ICC profile of the screen of this number, where desktops agreed to keep it (ICC Profiles in X, version 0.4);
    b"" where there is none, or no X server.
    """
    name = ctypes.util.find_library("X11") if QGuiApplication.platformName() == "xcb" else None
    if name is None:
        return b""
    library = _library(name)
    display = library.XOpenDisplay(None)
    if not display:
        return b""
    try:
        return _property(library, display, f"_ICC_PROFILE_{index}" if index else "_ICC_PROFILE")
    finally:
        library.XCloseDisplay(display)


def _library(name: str) -> Any:
    """Xlib with the kinds of what is asked of it."""
    x, pointer, number, long = ctypes.CDLL(name), ctypes.c_void_p, ctypes.c_ulong, ctypes.c_long
    x.XOpenDisplay.argtypes, x.XOpenDisplay.restype = [ctypes.c_char_p], pointer
    x.XCloseDisplay.argtypes = [pointer]
    x.XDefaultRootWindow.argtypes, x.XDefaultRootWindow.restype = [pointer], number
    x.XInternAtom.argtypes, x.XInternAtom.restype = [pointer, ctypes.c_char_p, ctypes.c_int], number
    x.XFree.argtypes = [pointer]
    x.XGetWindowProperty.argtypes = [
        pointer, number, number, long, long, ctypes.c_int, number, pointer, pointer, pointer, pointer, pointer,
    ]  # fmt: skip
    return x


def _property(library: Any, display: int, name: str) -> bytes:
    atom = library.XInternAtom(display, name.encode(), IF_KNOWN)
    if not atom:
        return b""
    kind, count, left = ctypes.c_ulong(), ctypes.c_ulong(), ctypes.c_ulong()
    bits, found = ctypes.c_int(), ctypes.POINTER(ctypes.c_ubyte)()
    outcome = [ctypes.byref(one) for one in (kind, bits, count, left, found)]
    root = library.XDefaultRootWindow(display)
    failed = library.XGetWindowProperty(display, root, atom, 0, LONGEST, KEEP, ANY_KIND, *outcome)
    if failed or not found:
        return b""
    data = ctypes.string_at(found, count.value) if bits.value == BYTES else b""
    library.XFree(found)
    return data
