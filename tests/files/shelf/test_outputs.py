"""Output by presets: sizes, crops, sharpness, looks, and parts and layers by themselves."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from japanner.color import lab, srgb
from japanner.errors import InputError, SaveError
from japanner.files.shelf.outputs import KINDS, PRESETS, Output, prepared, write_output
from japanner.painting.operations import Fill, SetFrisket
from japanner.painting.picture.compositor import flattened
from japanner.records import from_record, to_record
from japanner.scripting import Script


@pytest.fixture
def painting():
    """A red half on one part, a green oval in front on another."""
    script = Script.new(400, 300, title="Two")
    back, front = script.part("Back/wall"), script.part("Oval")
    script.do(Fill(script.layer(back, "flat"), (0.8, 0.1, 0.1), "canvas"))
    script.do(SetFrisket({"shape": "oval", "x0": 150, "y0": 100, "x1": 250, "y1": 200}))
    script.do(Fill(script.layer(front, "flat"), (0.1, 0.6, 0.1)))
    return script.painting


def codes_in(path):
    return np.asarray(Image.open(path)).astype(int)


def test_every_preset_and_format_is_written(painting, tmp_path):
    for kind in KINDS:
        output = Output("one", kind, long_px=200)
        (path,) = write_output(painting, output, tmp_path / f"a{output.ending}")
        if not kind.startswith("PDF"):
            with Image.open(path) as image:
                assert image.size == (200, 150)
    for preset in PRESETS:
        assert all(one.is_file() for one in write_output(painting, preset, tmp_path / f"{preset.name}{preset.ending}"))
        assert from_record(Output, to_record(preset)) == preset


def test_a_crop_at_a_side_keeps_its_size_on_paper(painting, tmp_path):
    output = Output("share", "8-bit PNG", long_px=50, crop=(0.25, 0.25, 0.5, 1.0))
    small = prepared(painting, output)
    assert (small.width, small.height) == (22, 50)
    assert small.ppi == pytest.approx(painting.ppi * 50 / 225)
    assert prepared(painting, Output("plain")) is painting, "nothing is asked of it"
    assert prepared(painting, Output("large", long_px=4000)).width == 400, "a picture is never made larger"


def test_light_is_what_is_averaged():
    """Of a fine pattern of black and white half of the light comes, code 188 (IEC 61966-2-1), not half of the code."""
    script = Script.new(400, 400)
    part = script.part("Pattern")
    codes = np.zeros((4, 400, 400), np.uint16)
    codes[3] = 65535
    codes[:3, (np.add.outer(np.arange(400), np.arange(400)) % 2) == 0] = 65535
    from japanner.painting.operations import AddPicture
    from japanner.raster.codec import to_text

    script.do(AddPicture(part, to_text(codes)))
    small = prepared(script.painting, Output("half", long_px=100, sharpen=False))
    middle = flattened(small).read(small.rect)[0, 50, 50] / 257
    assert middle == pytest.approx(188, abs=1)


def test_sharpening_gives_back_what_the_reduction_took(painting):
    """The steepest step of an edge: reduced and sharpened it is steeper than reduced alone, and as steep as in full."""

    def steepest(output):
        small = prepared(painting, output)
        values = lab.lightness_from_srgb(np.moveaxis(flattened(small).read(small.rect)[:3] / 65535, 0, -1))
        return np.abs(np.diff(values, axis=1)).max()

    soft, sharp = (steepest(Output("a", long_px=130, sharpen=on)) for on in (False, True))
    assert sharp > soft * 1.05
    assert sharp < soft * 1.6, "no halo to speak of"


def test_a_look_is_written_as_it_is_seen(painting, tmp_path):
    (path,) = write_output(painting, Output("values", look="values"), tmp_path / "v.png")
    pixel = codes_in(path)[10, 10]
    assert pixel[0] == pixel[1] == pixel[2]
    value = lab.lightness_from_srgb(np.array((0.8, 0.1, 0.1)))
    assert lab.lightness_from_srgb(pixel / 255) == pytest.approx(value, abs=0.5)


def test_parts_come_by_themselves_on_nothing_and_lie_together_to_the_picture(painting, tmp_path):
    paths = write_output(painting, Output("parts", what="parts"), tmp_path / "two.png")
    assert [one.name for one in paths] == ["two 01 Back_wall.png", "two 02 Oval.png"]
    wall, oval = (Image.open(one) for one in paths)
    assert wall.mode == oval.mode == "RGBA"
    assert oval.getpixel((5, 5))[3] == 0
    assert oval.getpixel((200, 150))[3] == 255
    together = np.asarray(Image.alpha_composite(wall, oval))[..., :3].astype(int)
    whole = (flattened(painting).read(painting.rect)[:3] / 257).transpose(1, 2, 0)
    assert np.abs(together - whole).max() <= 2


def test_layers_come_by_themselves(painting, tmp_path):
    paths = write_output(painting, Output("layers", "16-bit PNG", "layers"), tmp_path / "two.png")
    assert len(paths) == 2
    found = cv2.imread(str(paths[1]), cv2.IMREAD_UNCHANGED)
    assert found.dtype == np.uint16
    assert found[150, 200].tolist() == pytest.approx([0.1 * 65535, 0.6 * 65535, 0.1 * 65535, 65535], abs=2)


@settings(max_examples=25, deadline=None)
@given(st.integers(1, 399), st.floats(0, 0.6), st.floats(0, 0.6))
def test_any_size_and_crop_gives_a_picture_of_that_size(long_px, left, top):
    script = Script.new(400, 300)
    script.do(Fill(script.layer(script.part("Back"), "flat"), (0.5, 0.5, 0.5), "canvas"))
    output = Output("any", long_px=long_px, crop=(left, top, left + 0.4, top + 0.4))
    small = prepared(script.painting, output)
    assert max(small.width, small.height) == min(long_px, max(small.width, small.height, 1), 400)
    grey = flattened(small).read(small.rect)[:3] / 65535
    assert grey == pytest.approx(np.full_like(grey, 0.5), abs=0.002)
    assert srgb.decode(grey).max() < 0.22


def test_what_makes_no_sense_is_said(painting, tmp_path):
    for wrong in ({"kind": "BMP"}, {"what": "eyes"}, {"long_px": -1}, {"look": "blue"}, {"crop": (0.5, 0, 0.5, 1)}):
        with pytest.raises(InputError):
            Output("wrong", **wrong)
    with pytest.raises(InputError, match="nothing painted"):
        write_output(Script.new(40, 30).painting, Output("a", what="parts"), tmp_path / "a.png")
    with pytest.raises(SaveError):
        write_output(painting, Output("a", what="parts"), tmp_path / "gone" / "a.png")
