"""OpenRaster: our state exactly, and the right picture for every other reader."""

from __future__ import annotations

import io
import json
import zipfile

import cv2
import numpy as np
import pytest
from defusedxml.ElementTree import fromstring
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from japanner.errors import InputError
from japanner.files import ora_write
from japanner.files.opening import open_painting
from japanner.painting.document.document import Document, begun
from japanner.painting.model import Layer, Light, Painting, Part
from japanner.painting.operations import AddMask, PinPicture, SetComb, SetFrisket, SetGuide, SetLayer
from japanner.painting.picture.compositor import flattened
from japanner.raster.codec import to_text
from japanner.raster.modes import BY_OPENRASTER, MODES
from japanner.raster.tiles import Raster
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from tests.files.reader import composed_by_a_stranger
from tests.paintings import HARD, same_painting


@pytest.fixture
def rich(script):
    """A painting with all places, paint beyond the silhouette, and settings off their defaults."""
    part = script.painting.parts[0].uid
    light = script.painting.parts[0].layers[1].uid
    script.stroke(light, HARD, (0.9, 0.8, 0.7), [(40, 40, 1.0), (280, 200, 1.0)])
    script.do(SetLayer(light, {"mode": "Soft Light", "strength": 0.7}))
    edge = script.layer(part, "edge")
    script.stroke(edge, HARD.with_changes(size_px=14), (0.6, 0.4, 0.2), [(10, 120, 1.0), (300, 150, 1.0)])
    shade = script.layer(part, "shadow", mode="Multiply", strength=0.6)
    script.stroke(shade, HARD, (0.5, 0.6, 0.7), [(60, 230, 1.0), (300, 60, 1.0)])
    behind = script.layer(part, "glow", place="behind", mode="Screen", strength=0.6)
    script.stroke(behind, HARD.with_changes(size_px=220, strength=0.5), (0.2, 0.3, 0.6), [(160, 120, 1.0)])
    over = script.layer(part, "strays", place="over", mode="Multiply")
    script.stroke(over, HARD.with_changes(size_px=9), (0.5, 0.1, 0.1), [(20, 200, 1.0), (300, 30, 1.0)])
    second = script.part("Second", "glass")
    flat = script.layer(second, "flat", strength=0.4)
    script.stroke(flat, HARD, (0.3, 0.7, 0.6), [(240, 120, 1.0)])
    return script


@pytest.fixture
def masked(rich):
    """The same with masks, a frisket, a guide, a held edge and a pinned picture."""
    part = rich.painting.parts[0]
    flat, light = part.layers[0].uid, part.layers[1].uid
    rich.do(AddMask(light))
    rich.stroke(light, HARD.with_changes(edge=0.6), (0.3, 0.3, 0.3), [(130, 90, 1.0), (190, 150, 1.0)], on="mask")
    rich.do(SetFrisket({"shape": "oval", "x0": 90.0, "y0": 50.0, "x1": 230.0, "y1": 190.0}))
    rich.do(AddMask(flat, True))
    nodes = ((60.0, 60.0, 60.0, 80.0, 60.0, 40.0), (200.0, 60.0, 180.0, 40.0, 220.0, 80.0))
    rich.do(SetFrisket({"shape": "curve", "nodes": nodes}))
    rich.do(SetLayer(light, {"hold_edges": True}))
    rich.do(SetGuide(part.uid, {"kind": "animal", "x": 100.0, "y": 90.0, "height_px": 120.0, "yaw_deg": 30.0}))
    rich.do(PinPicture("Otter from the side", to_text(np.full((4, 20, 30), 65535, np.uint16))))
    return rich


def test_masks_friskets_guides_and_the_board_come_back_exactly(masked, tmp_path):
    masked.save(tmp_path / "a.ora")
    opened = open_painting(tmp_path / "a.ora")
    assert same_painting(opened.painting, masked.painting)
    assert same_painting(begun(opened.records), masked.painting)


def test_laid_hair_comes_back_so_that_later_fur_goes_under_it(rich, tmp_path):
    part = rich.painting.parts[0]
    fur = Brush("Fur", kind="fur", tip="round", size_px=50, spacing=0.3, hairs=30, hair_px=30, turn="comb")
    light = part.layers[1].uid
    rich.do(SetComb(part.uid, ({"points": ((160.0, 20.0), (160.0, 220.0))},)))
    rich.stroke(light, fur, (0.6, 0.5, 0.4), [(80, 90, 1.0), (240, 90, 1.0)])
    rich.save(tmp_path / "a.ora")
    opened = open_painting(tmp_path / "a.ora")
    assert opened.painting.layer(light).laid.paint.tiles
    assert same_painting(opened.painting, rich.painting)
    again = Script(Document(opened.painting))
    for one in (rich, again):
        one.stroke(light, fur, (0.1, 0.1, 0.1), [(80, 120, 1.0), (240, 120, 1.0)])
    assert same_painting(again.painting, rich.painting)
    assert same_painting(begun(rich.document.records), rich.painting)


def test_a_stranger_sees_masks_at_work(masked, tmp_path):
    masked.save(tmp_path / "a.ora")
    theirs = composed_by_a_stranger(tmp_path / "a.ora")
    ours = flattened(masked.painting).read(masked.painting.rect) / 65535
    difference = np.abs(theirs[:3] - ours[:3]).max(axis=0)
    # As without masks: half-covered edge pixels of body layers are not quite the same atop and clipped.
    assert (difference > 0.01).mean() < 0.02


def test_our_own_state_comes_back_exactly(rich, tmp_path):
    rich.save(tmp_path / "a.ora")
    opened = open_painting(tmp_path / "a.ora")
    assert opened.native
    assert same_painting(opened.painting, rich.painting)
    assert list(opened.records) == [*json.loads(json.dumps(rich.document.records)), {"op": "saved"}]
    assert same_painting(begun(opened.records), rich.painting)


def test_a_file_does_not_depend_on_the_size_of_tiles(rich, tmp_path, monkeypatch):
    """What clipping took from a layer is named by its pixels, not by tiles."""
    rich.save(tmp_path / "a.ora")
    with zipfile.ZipFile(tmp_path / "a.ora") as archive:
        state = json.loads(archive.read("japanner/painting.json"))
    layers = [layer for part in state["parts"] for layer in part["layers"]]
    spilled, _ = [layer["spill"] for layer in layers if "spill" in layer]
    assert spilled["areas"] == [[0, 0, 256, 240], [256, 0, 320, 240]]
    assert "tile" not in json.dumps(state)


unit = st.floats(0, 1)


@st.composite
def paintings(draw):
    rng = np.random.default_rng(draw(st.integers(0, 1000)))

    def paint():
        pixels = np.zeros((4, 140, 150), np.uint16)
        pixels[3] = (rng.random((140, 150)) < 0.5) * rng.integers(1, 65536, (140, 150))
        pixels[:3] = pixels[3] * rng.random((3, 140, 150))
        return Raster(150, 140).written(0, 0, pixels)

    layers = tuple(
        Layer(
            uid, draw(st.sampled_from(["Ünnamed ✓", "a<b>&\"c\"", "L"])),
            draw(st.sampled_from(["flat", "light", "edge"])),
            paint() if draw(st.booleans()) else Raster(150, 140), draw(st.sampled_from(["behind", "body", "over"])),
            draw(st.sampled_from(list(MODES))), draw(unit), draw(st.booleans()),
        )
        for uid in (3, 4, 5)
    )  # fmt: skip
    parts = (Part(1, "One", "skin", layers, draw(unit), draw(st.booleans())), Part(2, "Two", "metal"))
    light = Light(draw(st.floats(-90, 90)), draw(st.floats(-180, 180)))
    ground = (draw(unit), draw(unit), draw(unit))
    return Painting(150, 140, draw(st.floats(1, 10000)), "Títle", ground, light, parts, 8)


@settings(max_examples=25)
@given(paintings())
def test_any_painting_comes_back_exactly(tmp_path_factory, painting):
    path = tmp_path_factory.mktemp("ora") / "any.ora"
    ora_write.write(painting, path)
    assert same_painting(open_painting(path).painting, painting)


# Layout of the freedesktop.org layered-raster specification (names from memory; offsets are those of zip files).
def test_members_and_their_order(rich, tmp_path):
    path = tmp_path / "a.ora"
    rich.save(path)
    raw = path.read_bytes()
    assert raw[:4] == b"PK\3\4"
    assert raw[8:10] == b"\0\0"  # stored
    assert raw[28:30] == b"\0\0"  # no extra field
    assert raw[30:38] == b"mimetype"
    assert raw[38:54] == b"image/openraster"
    with zipfile.ZipFile(path) as archive:
        names = archive.namelist()
        assert archive.testzip() is None
        image = fromstring(archive.read("stack.xml"))
        assert image.tag == "image"
        assert (image.get("w"), image.get("h"), image.get("xres"), image.get("yres")) == ("320", "240", "300", "300")
        assert image.get("version")
        (root,) = list(image)
        assert root.tag == "stack"
        for node in root.iter():
            assert node.tag in ("stack", "layer")
            assert node.get("name")
            if node.tag == "layer":
                assert node.get("src") in names
                assert 0 <= float(node.get("opacity", "1")) <= 1
                assert node.get("visibility", "visible") in ("visible", "hidden")
                assert node.get("composite-op", "svg:src-over") in BY_OPENRASTER
        with Image.open(io.BytesIO(archive.read("mergedimage.png"))) as merged:
            assert merged.size == (320, 240)
            assert merged.mode in ("RGB", "RGBA")
        with Image.open(io.BytesIO(archive.read("Thumbnails/thumbnail.png"))) as thumbnail:
            assert thumbnail.size == (256, 192)


@pytest.mark.parametrize(("size", "expected"), [((3000, 1250), (256, 107)), ((200, 100), (200, 100))])
def test_the_thumbnail_fits_256_px_and_keeps_its_aspect(size, expected, tmp_path):
    ora_write.write(Painting(*size), tmp_path / "a.ora")
    with (
        zipfile.ZipFile(tmp_path / "a.ora") as archive,
        Image.open(io.BytesIO(archive.read("Thumbnails/thumbnail.png"))) as thumbnail,
    ):
        assert thumbnail.size == expected


def test_the_merged_image_is_the_picture(rich, tmp_path):
    rich.save(tmp_path / "a.ora")
    with zipfile.ZipFile(tmp_path / "a.ora") as archive:
        merged = cv2.imdecode(np.frombuffer(archive.read("mergedimage.png"), np.uint8), cv2.IMREAD_UNCHANGED)
    pixels = flattened(rich.painting).read(rich.painting.rect)[:3]
    expected = np.rint(pixels / 257).astype(int)
    assert np.abs(merged[..., 2::-1].transpose(2, 0, 1).astype(int) - expected).max() <= 0


def test_layers_keep_16_bits(rich, tmp_path):
    rich.save(tmp_path / "a.ora")
    with zipfile.ZipFile(tmp_path / "a.ora") as archive:
        for name in archive.namelist():
            if name.startswith("data/layer"):
                header = archive.read(name)[:26]
                assert header[24] == 16, name  # bit depth in the IHDR chunk, W3C PNG


def test_a_stranger_sees_the_same_picture(rich, tmp_path):
    """A plain reading of the standard, written for this test, composes stack.xml to our picture."""
    rich.save(tmp_path / "a.ora")
    theirs = composed_by_a_stranger(tmp_path / "a.ora")
    ours = flattened(rich.painting).read(rich.painting.rect) / 65535
    # Body layers are clipped for others; at half-covered edge pixels that is not the same as atop: 1 % of codes.
    difference = np.abs(theirs[:3] * theirs[3] - ours[:3]).max(axis=0)
    assert np.quantile(difference, 0.98) < 2e-3
    assert difference.max() < 0.2


def test_saving_twice_gives_the_same_bytes_of_paint(rich, tmp_path):
    rich.save(tmp_path / "a.ora")
    ora_write.write(open_painting(tmp_path / "a.ora").painting, tmp_path / "b.ora")
    with zipfile.ZipFile(tmp_path / "a.ora") as one, zipfile.ZipFile(tmp_path / "b.ora") as two:
        for name in one.namelist():
            if name.endswith(".png"):
                assert one.read(name) == two.read(name), name


def test_a_file_of_eight_bits_is_half_as_large_and_nearly_the_same(script, tmp_path):
    ora_write.write(script.painting, tmp_path / "16.ora")
    ora_write.write(script.painting, tmp_path / "8.ora", bits=8)
    found = open_painting(tmp_path / "8.ora").painting
    one, other = (flattened(x).read(x.rect).astype(int) for x in (script.painting, found))
    assert np.abs(one - other).max() <= 400  # codes of 65535: one and a half of 255
    with pytest.raises(InputError, match="bits"):
        ora_write.write(script.painting, tmp_path / "8.ora", bits=12)
