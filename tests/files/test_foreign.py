"""OpenRaster files of others, well made, odd and hostile."""

from __future__ import annotations

import subprocess
import sys
import zipfile
import zlib

import numpy as np
import pytest

from japanner.errors import FileFormatError, InputError
from japanner.files import png
from japanner.files.opening import open_painting
from japanner.painting.picture.compositor import flattened
from japanner.raster import png_data
from japanner.raster.modes import blend
from japanner.raster.tiles import straight
from tests.paintings import rgba, solid

RED, BLUE = (0.8, 0.1, 0.1), (0.1, 0.2, 0.9)


def layer_png(colour, alpha=1.0, width=20, height=20):
    raster = solid(width, height, colour, alpha)
    return png.encode(straight(raster.read(raster.rect)))


def foreign(path, xml, members=None, mimetype=b"image/openraster"):
    with zipfile.ZipFile(path, "w") as archive:
        if mimetype is not None:
            archive.writestr("mimetype", mimetype)
        archive.writestr("stack.xml", xml)
        archive.writestr("data/red.png", layer_png(RED))
        archive.writestr("data/blue.png", layer_png(BLUE, 0.5))
        for name, data in (members or {}).items():
            archive.writestr(name, data)
    return path


def image(inside, attributes='w="20" h="20"'):
    return f"<image {attributes}><stack>{inside}</stack></image>"


def seen(path, x=5, y=5):
    return rgba(flattened(open_painting(path).painting), x, y)[:3]


def over(below, colour, alpha, mode="Normal"):
    return blend(mode, (*below, 1), (*colour, alpha))[0, :3]


def test_layers_lie_in_order_with_opacity_and_mode(tmp_path):
    xml = image(
        '<layer name="Top" src="data/blue.png" opacity="0.8" composite-op="svg:multiply"/><layer src="data/red.png"/>'
    )
    path = foreign(tmp_path / "a.ora", xml)
    assert seen(path) == pytest.approx(over(RED, BLUE, 0.4, "Multiply"), abs=1e-4)
    painting = open_painting(path).painting
    assert [layer.name for _, layer in painting.layers()] == ["Layer", "Top"]
    assert not open_painting(path).native


def test_offsets_and_hidden_layers(tmp_path):
    xml = image('<layer src="data/blue.png" visibility="hidden"/><layer src="data/red.png" x="10" y="-5"/>')
    path = foreign(tmp_path / "a.ora", xml)
    assert seen(path, 15, 5) == pytest.approx(RED, abs=1e-4)
    assert seen(path, 5, 5) == pytest.approx([1, 1, 1])
    assert seen(path, 15, 17) == pytest.approx([1, 1, 1])


def test_an_isolated_stack_becomes_a_part(tmp_path):
    xml = image('<stack name="Fox" opacity="0.5"><layer src="data/red.png"/></stack><layer src="data/blue.png"/>')
    path = foreign(tmp_path / "a.ora", xml)
    assert seen(path) == pytest.approx(over(over((1, 1, 1), BLUE, 0.5), RED, 0.5), abs=1e-4)
    assert [part.name for part in open_painting(path).painting.parts] == ["Layers", "Fox"]


def test_a_stack_with_a_mode_of_its_own_is_merged(tmp_path):
    inside = '<stack composite-op="svg:multiply"><layer src="data/blue.png"/><layer src="data/red.png"/></stack>'
    path = foreign(tmp_path / "a.ora", image(inside + '<layer src="data/red.png"/>'))
    assert seen(path) == pytest.approx(over(RED, over(RED, BLUE, 0.5), 1.0, "Multiply"), abs=2e-4)


def test_unknown_things_are_ignored_or_remarked(tmp_path):
    xml = image('<filter/><layer src="data/red.png" composite-op="x:glitter" mood="glad" opacity="a" x="b"/>')
    opened = open_painting(foreign(tmp_path / "a.ora", xml))
    assert rgba(flattened(opened.painting), 5, 5)[:3] == pytest.approx(RED, abs=1e-4)
    assert opened.remarks == ("The mode x:glitter is not known here; Normal takes its place.",)


def sentence_or_none(path):
    try:
        open_painting(path)
    except FileFormatError as error:
        return str(error)
    return None


BOMB = """<!DOCTYPE a [<!ENTITY l "lollollol"><!ENTITY m "&l;&l;&l;&l;&l;">]>"""
LAYER = '<layer src="data/red.png"/>'


@pytest.mark.parametrize(
    ("xml", "words"),
    [
        (BOMB + image(LAYER), "is refused: its stack.xml defines entities"),
        ('<!DOCTYPE a SYSTEM "file:///etc/passwd">' + image(LAYER), "is refused: its stack.xml defines entities"),
        ("<image", "is damaged: its stack.xml cannot be read"),
        ("<picture/>", "is damaged: its stack.xml describes no image"),
        ('<image w="20" h="20"/>', "has no layers"),
        (image(LAYER, 'w="0" h="20"'), "cannot be opened: width: expected 1 to 32768, got 0"),
        (image(LAYER, 'w="99999999" h="20"'), "cannot be opened: width: expected 1 to 32768, got 99999999"),
        (image(LAYER, 'w="30000" h="30000"'), "cannot be opened: width x height: expected at most 200 Mpx"),
        (image('<layer src="data/gone.png"/>'), "is not complete: data/gone.png is missing"),
        (image('<layer src="stack.xml"/>'), "stack.xml is not a readable PNG picture"),
        (image("<stack>" * 40 + LAYER + "</stack>" * 40).replace("<stack>", '<stack isolation="auto">'), "too deeply"),
        (image(LAYER * 1001), "is refused: it has more than 1000 layers"),
    ],
)
def test_a_bad_stack_gives_one_sentence(xml, words, tmp_path):
    with pytest.raises(FileFormatError, match=words) as caught:
        open_painting(foreign(tmp_path / "a.ora", xml))
    assert "\n" not in str(caught.value)
    assert "a.ora" in str(caught.value)


def test_a_zip_of_something_else(tmp_path):
    with pytest.raises(FileFormatError, match="is a zip file, but not an OpenRaster painting"):
        open_painting(foreign(tmp_path / "a.ora", image(LAYER), mimetype=b"application/pdf"))
    with pytest.raises(FileFormatError, match="is a zip file, but not an OpenRaster painting"):
        open_painting(foreign(tmp_path / "b.ora", image(LAYER), mimetype=None))


@pytest.mark.parametrize("name", ["../evil.png", "data/../../evil.png", "..\\evil.png"])
def test_entries_that_point_outside(name, tmp_path):
    with pytest.raises(FileFormatError, match=r"is refused: the entry .* points outside the file"):
        open_painting(foreign(tmp_path / "a.ora", image(LAYER), {name: b""}))
    assert not (tmp_path.parent / "evil.png").exists()


def test_a_zip_bomb_is_refused_before_it_unpacks(tmp_path):
    path = tmp_path / "a.ora"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("mimetype", b"image/openraster")
        archive.writestr("stack.xml", b"\0" * 150_000_000)
    code = (
        "import resource, sys\n"
        "from pathlib import Path\n"
        "from japanner.files.opening import open_painting\n"
        "before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss\n"
        "try:\n    open_painting(Path(sys.argv[1]))\n"
        "except Exception as error:\n    print(error)\n"
        "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before)\n"
    )
    done = subprocess.run([sys.executable, "-c", code, path], capture_output=True, text=True, check=True)
    words, growth = done.stdout.splitlines()
    assert words == "a.ora is refused: stack.xml would unpack to 150 MB."
    assert int(growth) < 50_000  # KiB


def test_a_png_of_absurd_size_is_refused_by_its_header(tmp_path):
    header = png_data.chunk(b"IHDR", (60000).to_bytes(4, "big") * 2 + b"\x08\x06\0\0\0")
    data = png.SIGNATURE + header + png_data.chunk(b"IDAT", zlib.compress(b"\0" * 100)) + png_data.chunk(b"IEND", b"")
    with pytest.raises(FileFormatError, match="is 60000 x 60000 px, more than the 200 Mpx that can be opened"):
        open_painting(foreign(tmp_path / "a.ora", image('<layer src="big.png"/>'), {"big.png": data}))


def test_every_way_of_cutting_a_file_off_gives_a_sentence(script, tmp_path):
    script.save(tmp_path / "whole.ora")
    raw = (tmp_path / "whole.ora").read_bytes()
    for share in np.linspace(0, 0.999, 25):
        (tmp_path / "cut.ora").write_bytes(raw[: int(len(raw) * share)])
        with pytest.raises(FileFormatError) as caught:
            open_painting(tmp_path / "cut.ora")
        assert str(caught.value).startswith("cut.ora ")


def test_flipped_bytes_never_crash(script, tmp_path):
    """Either it opens, because the byte did not matter, or there is one sentence."""
    script.save(tmp_path / "whole.ora")
    raw, rng = bytearray((tmp_path / "whole.ora").read_bytes()), np.random.default_rng(2)
    for _ in range(80):
        damaged = bytearray(raw)
        for place in rng.integers(0, len(raw), 3):
            damaged[place] ^= int(rng.integers(1, 256))
        (tmp_path / "bad.ora").write_bytes(damaged)
        words = sentence_or_none(tmp_path / "bad.ora")
        assert words is None or "\n" not in words


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda text: text.replace('"format": 2', '"format": 99'), "was saved by a newer Japanner"),
        (lambda text: "[]", "its description: expected a record"),
        (lambda text: text.replace('"width": 320', '"width": "wide"'), "width: expected a whole number"),
        (lambda text: text.replace('"strength": 1.0', '"strength": 5.0', 1), "strength: expected 0 to 1, got 5"),
        (lambda text: text.replace('"uid": 3', '"uid": 2'), "two of its layers carry the same number"),
        (
            lambda text: text.replace('"role": "flat"', '"rule": "flat"'),
            "'rule' is not one of its fields",
        ),
        (lambda text: text.replace("data/layer2.png", "data/nothing.png"), "data/nothing.png is missing"),
        (lambda text: "[" * 100_000, "makes no sense"),
    ],
)
def test_a_damaged_state_gives_one_sentence(change, words, script, tmp_path):
    script.save(tmp_path / "a.ora")
    with zipfile.ZipFile(tmp_path / "a.ora") as good, zipfile.ZipFile(tmp_path / "b.ora", "w") as bad:
        for name in good.namelist():
            data = good.read(name)
            bad.writestr(name, change(data.decode()) if name == "japanner/painting.json" else data)
    with pytest.raises(FileFormatError, match=words):
        open_painting(tmp_path / "b.ora")


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.ora", b"", "a.ora is empty"),
        ("a.ora", b"hello there", "none of the kinds that can be opened: OpenRaster painting, PNG picture"),
        ("a.png", b"\xff\xd8\xff\xe0 a picture of another kind", "is damaged, or no picture"),
        ("a.png", png.SIGNATURE + b"rubbish", "is not a readable PNG picture"),
        ("a.ora", b"PK\3\4 rubbish", "is damaged or cut off"),
    ],
)
def test_files_of_another_kind(name, data, words, tmp_path):
    (tmp_path / name).write_bytes(data)
    with pytest.raises(FileFormatError, match=words):
        open_painting(tmp_path / name)


def test_the_content_decides_and_not_the_name(script, tmp_path):
    script.export(tmp_path / "a.png")
    (tmp_path / "a.png").rename(tmp_path / "renamed.ora")
    assert open_painting(tmp_path / "renamed.ora").painting.parts[0].name == "Picture"


def test_what_cannot_be_read_says_why(tmp_path):
    with pytest.raises(FileFormatError, match=r"none\.ora cannot be read: no such file or directory"):
        open_painting(tmp_path / "none.ora")
    with pytest.raises(FileFormatError, match="cannot be opened: it is a folder"):
        open_painting(tmp_path)


def test_a_painting_that_refuses_is_an_input_error():
    assert issubclass(InputError, ValueError)
