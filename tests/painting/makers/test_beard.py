"""Beards: where they grow on a figure, how long they are by zone, and what refuses them."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.owners import zone
from japanner.painting.form.forms import seen_of
from japanner.painting.operations import Make, SetMaquette
from japanner.scripting import Script


@pytest.fixture(scope="module")
def face():
    script = Script.new(300, 340)
    part = script.part("Skin", "skin")
    piece = Piece("Figure", "figure", part=part, sliders=tuple(sorted(person("Tobit Wrenfold").items())))
    script.do(SetMaquette(Maquette((piece,), (150.0, 150.0), 105.0, eye=9.0).to_record()))
    script.fill(part, "flat", (0.7, 0.55, 0.47))
    return script, part


def grown(face, **settings):
    script, part = face
    painting, _ = Make(part, "beard", {"length": 14.0, "thick": 0.9, **settings}, 3).apply(script.painting)
    return {one.name: one.pixels.read(painting.rect)[3] / 65535 for one in painting.part(part).layers if one.made}


def within(face, cover, *names):
    seen = seen_of(face[0].painting)
    where = np.max([zone(seen, name) for name in names], axis=0) > 0.9
    assert where.any()
    return float(cover[where].mean())


def test_it_is_full_at_the_chin_thin_on_cheeks_and_none_on_brow_and_lips(face):
    cover = grown(face)["Beard"]
    chin, cheeks, brow = (within(face, cover, name) for name in ("chin", "cheeks", "forehead"))
    assert chin > 0.45
    assert brow < 0.01
    assert cheeks < 0.5 * chin
    assert within(face, grown(face, length=2.0)["Stubble"], "lips") < 0.15
    # On the neck it ends a little below the jaw.
    low = cover[300:, 100:200]
    assert low.mean() < 0.05


def test_stubble_alone_where_it_is_short_and_longer_hairs_reach_further(face):
    assert "Beard" not in grown(face, length=2.0)
    short, long = (grown(face, length=length)["Beard"] for length in (8.0, 40.0))
    rows = [np.flatnonzero(one.max(axis=1) > 0.3)[-1] for one in (short, long)]
    assert rows[1] > rows[0] + 10


def test_many_and_few(face):
    few, many = (grown(face, many=share)["Beard"] for share in (20.0, 150.0))
    assert within(face, many, "chin") > 1.5 * within(face, few, "chin")


def test_without_a_figure_there_is_no_chin():
    script = Script.new(80, 80)
    part = script.part("Skin", "skin")
    with pytest.raises(InputError, match="figure"):
        Make(part, "beard").apply(script.painting)
