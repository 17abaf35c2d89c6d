"""Moments in a file: kept when it is saved again, and never a reason not to open it."""

from __future__ import annotations

import json
import zipfile

import pytest

from japanner.files import ora_write
from japanner.files.opening import open_painting
from japanner.painting.picture.moments import Moment, moment_of
from tests.paintings import same_painting


@pytest.fixture
def grown(script, tmp_path):
    path = tmp_path / "Grown.ora"
    moments = tuple(moment_of(script.painting, stage, number) for number, stage in enumerate(("a", "b"), 1))
    ora_write.write(script.painting, path, script.document.records, moments)
    return path


def test_they_come_back(grown, script):
    found = open_painting(grown)
    assert [(one.stage, one.strokes) for one in found.moments] == [("a", 1), ("b", 2)]
    assert same_painting(found.painting, script.painting)


@pytest.mark.parametrize("listed", [b"[", b"5", b"[5]", b'[{"stage": "a"}]', b"[" * 100_000,
                                    b'[{"stage": "a", "strokes": "x", "src": 1}]'])  # fmt: skip
def test_a_list_that_makes_no_sense_is_passed_over(grown, script, listed):
    _replace(grown, listed)
    found = open_painting(grown)
    assert found.moments == ()
    assert same_painting(found.painting, script.painting)


def test_a_picture_that_is_missing_leaves_the_painting_whole(grown, script):
    _replace(grown, json.dumps([{"stage": "a", "strokes": 1, "src": "japanner/moments/9.jpg"}]).encode())
    found = open_painting(grown)
    assert found.moments == ()
    assert same_painting(found.painting, script.painting)


def test_they_are_reduced_to_a_small_picture(script):
    one = moment_of(script.painting, "flats", 12)
    assert isinstance(one, Moment)
    assert len(one.picture) < 40_000


def _replace(path, listed):
    with zipfile.ZipFile(path) as old:
        entries = {info: old.read(info) for info in old.infolist()}
    with zipfile.ZipFile(path, "w") as fresh:
        for info, data in entries.items():
            fresh.writestr(info, listed if info.filename == "japanner/moments.json" else data, info.compress_type)
