"""Scratches: two sides, lit by where the light is."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.color import srgb
from japanner.errors import InputError
from japanner.painting.model import Light
from japanner.painting.operations import Fill, Scratch, SetLight
from japanner.painting.operations.scratching import sides_of
from japanner.painting.picture.compositor import flattened
from japanner.scripting import Script


def scratched(light, rows, **settings):
    script = Script.new(200, 160)
    part = script.part("Plate", "metal")
    script.do(Fill(script.layer(part, "flat"), (0.5, 0.5, 0.5)))
    script.do(SetLight.of(light))
    script.do(Scratch(part, rows, **settings))
    picture = flattened(script.painting).read(script.painting.rect)[:3].mean(axis=0) / 65535
    return script, part, srgb.decode(picture)


ACROSS = tuple((20.0 + 4 * i, 80.0, 1.0) for i in range(40))


@pytest.mark.parametrize(("up", "lower_is_lit"), [(60.0, True), (-60.0, False)])
def test_the_side_away_from_the_light_is_lit(up, lower_is_lit):
    _, _, light = scratched(Light(up_deg=up, right_deg=0.0), ACROSS, width_px=8.0)
    above, below = light[75:80, 60:140].mean(), light[80:85, 60:140].mean()
    ground = light[40, 100]
    lit, dark = (below, above) if lower_is_lit else (above, below)
    assert lit > ground * 1.1 > dark * 1.2


def test_along_the_light_it_hardly_shows():
    down = tuple((100.0, 20.0 + 4 * i, 1.0) for i in range(30))
    light = Light(up_deg=45.0, right_deg=0.0)
    _, _, with_it = scratched(light, down, width_px=8.0)
    _, _, across = scratched(light, ACROSS, width_px=8.0)
    assert np.ptp(with_it[40:120]) < 0.5 * np.ptp(across)


def test_all_scratches_share_two_layers():
    script, part, _ = scratched(Light(), ACROSS)
    script.do(Scratch(part, tuple((x, y + 20, p) for x, y, p in ACROSS)))
    names = [layer.name for layer in script.painting.part(part).layers]
    assert names == ["Flat", "Scratches, shaded", "Scratches, lit"]
    with pytest.raises(InputError, match="two places"):
        script.do(Scratch(part, ((1.0, 1.0, 1.0),)))
    with pytest.raises(InputError, match="width_px"):
        script.do(Scratch(part, ACROSS, width_px=-1.0))


def test_the_sides_lie_aside_by_a_quarter_of_the_width():
    shaded, lit = sides_of(np.array(ACROSS), (0.0, -1.0), 8.0)
    assert np.abs(shaded[:, 1] - 80) == pytest.approx(2)
    assert (shaded[:, 1] - 80) == pytest.approx(-(lit[:, 1] - 80))
    assert lit[:, 1] == pytest.approx(82)
