"""All checks of a painting, one after another, and what they come to as text for people and for programs."""

from __future__ import annotations

import base64
import html
import json
from collections.abc import Collection
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.painting.model import Painting
from japanner.raster.parallel import ASIDE
from japanner.review.checks import CHECKS
from japanner.review.finding import GOOD, PROBLEM, WORDS, Check, Finding
from japanner.review.seen import Seen
from japanner.told import Told, silent

__all__ = ["as_html", "as_json", "critique", "marked"]

FORMAT: Final = 1
TINT: Final = (0.70, 0.25, 0.16)
LONGEST_MAP_PX: Final = 720


def critique(
    painting: Painting, before: Painting | None = None, told: Told = silent, only: Collection[str] = ()
) -> tuple[Seen, list[Finding]]:
    """What all checks, or `only` some by their names, have to say, the worst first; told: gets a share done, 0..1, and
    the next check's name, and may end it by raising.
    """
    told(0.0, "reducing the picture")
    seen, found = Seen.of(painting, before), list[Finding]()
    chosen: list[Check] = [one for one in CHECKS.values() if not only or one.name in only]
    # Forms are worked out meanwhile.
    forms = ASIDE.submit(_form_all, seen) if any(check.shaped for check in chosen) else None
    for number, check in enumerate(sorted(chosen, key=lambda one: one.shaped)):
        if check.shaped and forms is not None:
            forms.result()
        told((number + 1) / (len(chosen) + 1), check.name)
        found += check.run(seen)
    return seen, sorted(found, key=lambda one: -WORDS.index(one.word))


def _form_all(seen: Seen) -> None:
    for one in seen.parts:
        seen.form(one)


def marked(seen: Seen, finding: Finding) -> NDArray[np.uint8]:
    """The picture in grey (h, w, 3), with what a finding is about in red."""
    grey = np.repeat((0.25 + 0.6 * seen.values / 100)[..., None], 3, axis=-1)
    if finding.where is not None:
        share = 0.75 * np.clip(finding.where, 0, 1)[..., None]
        grey = grey * (1 - share) + np.array(TINT) * (0.5 + 0.5 * grey) / 0.6 * share
    shown: NDArray[np.uint8] = np.rint(np.clip(grey, 0, 1) * 255).astype(np.uint8)
    return shown


def as_json(painting: Painting, found: list[Finding]) -> str:
    """The findings as JSON text."""
    whole = {"format": FORMAT, "title": painting.title, "findings": [_record(one) for one in found]}
    return json.dumps(whole, indent=1)


def _record(one: Finding) -> dict[str, Any]:
    check = CHECKS[one.check]
    return {
        "check": one.check, "asks": check.asks, "word": one.word, "number": round(one.number, 4), "unit": one.unit,
        "good": list(one.range.good), "fair": list(one.range.fair), "why": one.why, "try": check.advice,
        "with": check.tool, "part": one.about,
    }  # fmt: skip


def as_html(painting: Painting, seen: Seen, found: list[Finding]) -> str:
    """The findings as one page that needs nothing else, with their maps in it."""
    rows = "\n".join(_row(seen, one) for one in found)
    counts = ", ".join(f"{sum(one.word == word for one in found)} {word}" for word in reversed(WORDS))
    title = html.escape(painting.title)
    return _PAGE.format(title=title, counts=counts, rows=rows, picture=_data_of(_small(seen.codes * 255)))


def _row(seen: Seen, one: Finding) -> str:
    check = CHECKS[one.check]
    style = "good" if one.word == GOOD else "problem" if one.word == PROBLEM else "look"
    shown = "" if one.where is None or one.word == GOOD else f'<img src="{_data_of(_small(marked(seen, one)))}" alt="">'
    advice = "" if one.word == GOOD else f"<p>{html.escape(check.advice)} <i>({html.escape(check.tool)})</i>.</p>"
    return (
        f'<section class="{style}"><h2>{html.escape(one.check)}: {one.word}</h2>'
        f"<p><b>{html.escape(one.figure)}</b> (good: {one.range.words})</p>"
        f"<p>{html.escape(one.why)}</p>{advice}{shown}</section>"
    )


def _small(codes: NDArray[Any]) -> NDArray[np.uint8]:
    height, width = codes.shape[:2]
    factor = min(LONGEST_MAP_PX / max(height, width), 1.0)
    size = max(round(width * factor), 1), max(round(height * factor), 1)
    small: NDArray[np.uint8] = cv2.resize(np.rint(codes).astype(np.uint8), size, interpolation=cv2.INTER_AREA)
    return small


def _data_of(codes: NDArray[np.uint8]) -> str:
    done, packed = cv2.imencode(".jpg", codes[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 84])
    assert done
    return f"data:image/jpeg;base64,{base64.b64encode(packed.tobytes()).decode()}"


_PAGE: Final = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Critique of {title}</title><style>
body {{ font: 15px/1.45 sans-serif; background: #191716; color: #ece6da; max-width: 760px; margin: 2em auto; }}
h1 {{ color: #c9a453; font-weight: 500 }} h2 {{ font-size: 17px; margin: 0 }} p {{ margin: .3em 0 }}
section {{ border-left: 4px solid #5d4d2a; padding: .6em 1em; margin: 1em 0; background: #221f1d }}
.problem {{ border-color: #b3402a }} .look {{ border-color: #c9a453 }} img {{ max-width: 100%; margin-top: .5em }}
i {{ color: #a39c90; font-style: normal }}
</style></head><body><h1>Critique of {title}</h1><p>{counts}</p><img src="{picture}" alt="">
{rows}
</body></html>
"""
