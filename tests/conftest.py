"""What all tests share: a state folder of their own, no screen, and small ways to make paintings."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

# Before anything is imported: tests never touch the painter's own settings and journals.
os.environ["JAPANNER_STATE"] = tempfile.mkdtemp(prefix="japanner-test-")
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from hypothesis import HealthCheck, settings

from japanner.scripting import Script
from tests.paintings import HARD

# Nights can try more: HYPOTHESIS_EXAMPLES=500.
EXAMPLES = int(os.environ.get("HYPOTHESIS_EXAMPLES", "16"))
settings.register_profile(
    "japanner", deadline=None, max_examples=EXAMPLES, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("japanner")


@pytest.fixture(autouse=True)
def state_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Settings and journals of one test."""
    folder = tmp_path / "state"
    monkeypatch.setenv("JAPANNER_STATE", str(folder))
    monkeypatch.setenv("JAPANNER_CONFIG", str(tmp_path / "config"))
    return folder


@pytest.fixture
def script() -> Script:
    """A part with a flat disc in its middle and an empty light layer."""
    made = Script.new(320, 240, title="Test sheet", ground=(0.2, 0.2, 0.2))
    part = made.part("Disc")
    flat = made.layer(part, "flat")
    made.stroke(flat, HARD.with_changes(size_px=160), (0.5, 0.4, 0.3), [(160, 120, 1.0)])
    made.layer(part, "light")
    return made
