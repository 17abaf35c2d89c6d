"""What is written for others, read back by libraries of others: TIFF, JPEG, WebP, PDF."""

from __future__ import annotations

import io

import numpy as np
import pytest
import tifffile
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageCms
from pypdf import PdfReader

from japanner.errors import FileFormatError, InputError, SaveError
from japanner.files.exchange import flat, pdf
from japanner.files.formats import EXPORTS, FORMATS, export_for
from japanner.files.opening import open_painting
from japanner.painting.operations import Fill, SetLayer
from japanner.painting.picture.compositor import flattened
from japanner.scripting import Script
from tests.paintings import HARD


@pytest.fixture(scope="module")
def painted():
    script = Script.new(240, 160, ppi=254.0, title="Two discs", ground=(0.3, 0.35, 0.4))
    for number, colour in enumerate(((0.8, 0.5, 0.3), (0.2, 0.4, 0.7))):
        part = script.part(f"Disc {number + 1}")
        flat_layer = script.layer(part, "flat")
        script.stroke(flat_layer, HARD.with_changes(edge=0.6), colour, [(80 + 80 * number, 80, 1.0)])
    return script.painting


def codes(painting, bits=16):
    pixels = flattened(painting).read(painting.rect)[:3].transpose(1, 2, 0)
    return pixels if bits == 16 else np.rint(pixels / 257)


@pytest.mark.parametrize(("bits", "kind"), [(8, np.uint8), (16, np.uint16)])
def test_tiff_has_every_code_its_resolution_and_profile(painted, tmp_path, bits, kind):
    flat.export_tiff(painted, tmp_path / "a.tif", bits=bits)
    with tifffile.TiffFile(tmp_path / "a.tif") as file:
        page = file.pages[0]
        assert page.asarray().dtype == kind
        assert np.abs(page.asarray().astype(int) - codes(painted, bits)).max() <= (bits == 8)
        assert page.get_resolution("INCH") == pytest.approx((254, 254))
        profile = ImageCms.ImageCmsProfile(io.BytesIO(page.iccprofile))
    assert "sRGB" in ImageCms.getProfileDescription(profile)
    again = open_painting(tmp_path / "a.tif").painting
    assert again.ppi == pytest.approx(254)
    assert np.abs(codes(again).astype(int) - codes(painted)).max() <= (257 if bits == 8 else 0)


def test_an_icc_round_trip_by_littlecms_leaves_codes_as_they_are(painted, tmp_path):
    flat.export_jpeg(painted, tmp_path / "a.jpg")
    with Image.open(tmp_path / "a.jpg") as image:
        assert image.info["dpi"] == pytest.approx((254, 254), abs=0.5)
        own = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
        through = ImageCms.profileToProfile(image, own, ImageCms.createProfile("sRGB"))
        assert np.abs(np.asarray(through).astype(int) - np.asarray(image)).max() <= 1


@pytest.mark.parametrize("ending", [".jpg", ".jpeg", ".webp"])
def test_pictures_with_small_losses_come_back_alike(painted, tmp_path, ending):
    path = tmp_path / f"a{ending}"
    export_for(path)(painted, path)
    again = open_painting(path).painting
    assert (again.width, again.height) == (240, 160)
    assert np.abs(codes(again, 8) - codes(painted, 8)).mean() < 2


def test_layers_as_pages_come_back_as_layers(painted, tmp_path):
    flat.export_layers(painted, tmp_path / "layers.tif")
    with tifffile.TiffFile(tmp_path / "layers.tif") as file:
        assert len(file.pages) == 2
        assert file.pages[1].asarray().shape == (160, 240, 4)
        assert file.pages[0].description == "Disc 1: Flat"
    again = open_painting(tmp_path / "layers.tif").painting
    assert len(again.parts[0].layers) == 2
    mine = [layer.pixels.read(painted.rect) for _, layer in painted.layers()]
    for one, layer in zip(mine, again.parts[0].layers, strict=True):
        assert np.abs(layer.pixels.read(painted.rect).astype(int) - one).max() <= 2
    hidden = painted
    for part, layer in painted.layers():
        hidden, _ = SetLayer(layer.uid, {"shown": False}).apply(hidden)
        assert part
    with pytest.raises(InputError, match="no layer"):
        flat.export_layers(hidden, tmp_path / "none.tif")
    assert not (tmp_path / "none.tif").exists()


def test_a_pdf_has_its_physical_size_and_the_very_pixels(painted, tmp_path):
    """240 px at 254 ppi are 24 mm."""
    pdf.export_pdf(painted, tmp_path / "a.pdf")
    page = PdfReader(tmp_path / "a.pdf").pages[0]
    assert [float(v) for v in page.mediabox[2:]] == pytest.approx([24 * pdf.MM, 16 * pdf.MM], abs=0.01)
    (image,) = page.images
    assert np.array_equal(np.asarray(image.image.convert("RGB")), codes(painted, 8).astype(np.uint8))
    assert PdfReader(tmp_path / "a.pdf").metadata.title == "Two discs" or "Two discs" in str(PdfReader(
        tmp_path / "a.pdf").xmp_metadata.dc_title)  # fmt: skip


def test_bleed_and_marks(painted, tmp_path):
    pdf.export_pdf(painted, tmp_path / "a.pdf", bleed_mm=3.0, marks=True)
    page = PdfReader(tmp_path / "a.pdf").pages[0]
    trim, bleed = ([float(v) for v in box] for box in (page.trimbox, page.bleedbox))
    assert trim[2] - trim[0] == pytest.approx(18 * pdf.MM, abs=0.01)
    assert trim[0] - bleed[0] == pytest.approx(3 * pdf.MM, abs=0.01)
    assert float(page.mediabox[2]) > bleed[2]
    drawn = page.get_contents().get_data().decode()
    assert drawn.count(" l") == 8, "two lines at each corner"
    with pytest.raises(InputError, match="bleed_mm"):
        pdf.export_pdf(painted, tmp_path / "b.pdf", bleed_mm=9.0)
    assert not (tmp_path / "b.pdf").exists()


@pytest.mark.parametrize(("kind", "export"), EXPORTS, ids=[f"{kind.ending} {one.words}" for kind, one in EXPORTS])
def test_what_cannot_be_written_leaves_nothing(painted, tmp_path, kind, export, monkeypatch):
    with pytest.raises(SaveError, match="was not saved"):
        export.write(painted, tmp_path / "nowhere" / f"a{kind.ending}")

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    with pytest.raises(SaveError, match=r"was not saved: .*space"):
        export.write(painted, tmp_path / f"a{kind.ending}")
    assert not list(tmp_path.iterdir())


@settings(max_examples=40, deadline=None)
@given(st.binary(max_size=400), st.sampled_from([begin for kind in FORMATS if kind.open for begin in kind.begins]))
def test_damaged_files_say_so(tmp_path_factory, rest, begin):
    path = tmp_path_factory.mktemp("damaged") / "a.tif"
    path.write_bytes(begin + rest)
    with pytest.raises(FileFormatError):
        open_painting(path)


def test_tiffs_of_other_kinds(tmp_path):
    grey = np.linspace(0, 255, 60 * 40).astype(np.uint8).reshape(40, 60)
    tifffile.imwrite(tmp_path / "grey.tif", grey)
    assert codes(open_painting(tmp_path / "grey.tif").painting, 8)[..., 1] == pytest.approx(grey, abs=1)
    tifffile.imwrite(tmp_path / "float.tif", (grey / 255).astype(np.float32))
    assert codes(open_painting(tmp_path / "float.tif").painting, 8)[..., 1] == pytest.approx(grey, abs=1)
    tifffile.imwrite(tmp_path / "ink.tif", np.zeros((8, 8, 4), np.uint8), photometric="separated")
    with pytest.raises(FileFormatError, match="SEPARATED"):
        open_painting(tmp_path / "ink.tif")


def test_a_wide_picture_is_no_webp():
    script = Script.new(17000, 10)
    script.do(Fill(script.layer(script.part("Part"), "flat"), (0, 0, 0)))
    with pytest.raises(InputError, match="16383"):
        flat.export_webp(script.painting, None)
