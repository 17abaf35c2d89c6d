"""Files of brushes: JSON, a record for each; what a file gets wrong is named, and the rest of it is used."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import fields
from typing import Any, Final

from japanner import checks
from japanner.errors import InputError
from japanner.records import changes_from
from japanner.stroke.brush import Brush
from japanner.stroke.brush.image_tip import tip_coverage

__all__ = ["FORMAT", "brushes_from_text", "text_of_brushes"]

FORMAT: Final = 2
MOST_BRUSHES: Final = 2000


def text_of_brushes(brushes: Iterable[Brush]) -> str:
    """The text of a file that holds the brushes."""
    return json.dumps({"format": FORMAT, "brushes": [brush.to_record() for brush in brushes]}, indent=1)


def brushes_from_text(text: str) -> tuple[list[Brush], list[str]]:
    """The brushes of a file, and what was wrong with it, a sentence each.

    A setting that is unknown, of a wrong type or out of range is left out, so that its default holds. InputError says
    why a file holds no brushes at all.
    """
    try:
        data = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as error:
        raise InputError(f"brushes: not JSON ({error})") from None
    if not isinstance(data, dict) or not isinstance(data.get("brushes"), list):
        raise InputError("brushes: expected a record with a list of brushes")
    if data.get("format") != FORMAT:
        raise InputError(f"brushes: expected format {FORMAT}, got {checks.shown(data.get('format'))}")
    found: list[Brush] = []
    wrong: list[str] = []
    for record in data["brushes"][:MOST_BRUSHES]:
        brush = _brush(record, wrong)
        if brush is not None:
            found.append(brush)
    if not found:
        raise InputError("brushes: there is none in it that could be used" + (f" ({wrong[0]})" if wrong else ""))
    return found, wrong


def _brush(record: Any, wrong: list[str]) -> Brush | None:
    """The brush of a record, setting by setting."""
    name = record.get("name") if isinstance(record, dict) else None
    try:
        brush = Brush(name)  # type: ignore[arg-type]
    except InputError as error:
        wrong.append(f"A brush was left out: {error}.")
        return None
    known = {one.name for one in fields(Brush)}
    for key, value in record.items():
        if key == "name":
            continue
        if key not in known:
            wrong.append(f"{brush.name}: {str(key)[:40]} is not a setting of a brush.")
            continue
        try:
            brush = brush.with_changes(**changes_from(Brush, {key: value}, known, brush.name))
            if key == "image" and value:
                tip_coverage(value)
        except InputError as error:
            told = str(error).removeprefix(f"{brush.name}.")
            wrong.append(f"{brush.name}: {told if told.startswith(key) else f'{key}: {told}'}.")
            brush = brush.with_changes(image="") if key == "image" else brush
    return brush
