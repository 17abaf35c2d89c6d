"""The exceptions that Japanner raises on purpose; their text is fit to be shown to a painter."""

from __future__ import annotations

__all__ = ["FileFormatError", "InputError", "JapannerError", "SaveError"]


class JapannerError(Exception):
    """Anything that went wrong outside our own logic."""


class InputError(JapannerError, ValueError):
    """An argument is out of its range; the text names argument, value and range."""


class FileFormatError(JapannerError):
    """A file cannot be opened; the text says in one sentence why."""


class SaveError(JapannerError):
    """A file cannot be written; what was there before is untouched."""
