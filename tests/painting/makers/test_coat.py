"""A coat on a part: where it lies, how many hairs, how long, and that it follows the comb lines."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial import cKDTree
from skimage.feature import structure_tensor

from japanner.color import srgb
from japanner.color.lab import lightness_from_srgb
from japanner.errors import InputError
from japanner.files import ora_read, ora_write
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.form.combing import comb_of
from japanner.painting.makers import MAKERS, Scene
from japanner.painting.makers.fur.hairs import planted
from japanner.painting.makers.fur.kinds import GUARD
from japanner.painting.makers.fur.pelt import Pelt
from japanner.painting.operations import (
    DeleteLayer,
    DropFrisket,
    Fill,
    FrameCanvas,
    Make,
    ScaleCanvas,
    SetComb,
    SetFrisket,
    SetLayer,
    SetMaquette,
    SetPart,
    operation_from_record,
    to_record,
)
from japanner.painting.picture.compositor import flattened
from japanner.painting.picture.reduced import reduced
from japanner.raster.geometry import Rect
from japanner.scripting import Script, shipped_brush
from tests.paintings import same_painting
from tests.strand.test_comb_form import mean_error, meridians

GUIDES = ({"points": ((150.0, 60.0), (120.0, 150.0), (130.0, 240.0))}, {"points": ((160.0, 60.0), (230.0, 140.0))})


@pytest.fixture
def furred():
    script = Script.new(320, 300)
    part = script.part("Pelt", "fur")
    layer = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 30, "y0": 30, "x1": 290, "y1": 270}))
    script.do(Fill(layer, (0.5, 0.4, 0.3)))
    script.do(DropFrisket())
    script.do(SetComb(part, GUIDES))
    return script, part


def layers(script, part):
    return {layer.name: layer for layer in script.painting.part(part).layers}


def left_half(script, part):
    """A hidden layer that says: all of the left half, nothing of the right."""
    layer = script.layer(part, "sketch")
    script.do(SetFrisket({"shape": "box", "x0": 0, "y0": 0, "x1": 160, "y1": 300}))
    script.do(Fill(layer, (0, 0, 0)))
    script.do(DropFrisket())
    script.do(SetLayer(layer, {"shown": False}))
    return layer


def pelt(script, part, **values):
    settings = MAKERS["coat"].checked(values)
    return Pelt.of(Scene(script.painting, script.painting.part(part), settings, 3))


def test_painted_hair_runs_as_the_comb_field_says(furred):
    """The structure tensor of what is painted (scikit-image) against the field, weighted by its coherence."""
    script, part = furred
    script.do(Make(part, "coat", {"coat": "double coat", "mess": 0.0, "clump": 0.0, "length": 30.0}))
    pixels = layers(script, part)["Coat"].pixels.read(script.painting.rect).astype(float) / 65535
    grey = pixels[1] / np.maximum(pixels[3], 0.05)
    rows, across, columns = structure_tensor(grey, sigma=4, order="rc")
    hair = np.degrees(np.arctan2(2 * across, columns - rows) / 2) + 90
    coherence = np.hypot(columns - rows, 2 * across) / np.maximum(columns + rows, 1e-9)
    field = comb_of(script.painting, script.painting.part(part))
    ys, xs = np.mgrid[60:240, 70:250]
    dx, dy = field.directions((xs + 0.5).astype(np.float32), (ys + 0.5).astype(np.float32))
    off = np.abs((hair[60:240, 70:250] - np.degrees(np.arctan2(dy, dx)) + 90) % 180 - 90)
    assert np.average(off, weights=coherence[60:240, 70:250]) <= 10


def test_as_many_hairs_as_asked_for_and_as_long(furred):
    script, part = furred
    found = pelt(script, part, density=100.0, length=20.0)
    hairs = planted(found, GUARD[0], 1.0, "some")
    area = float(found.scene.form.cover.sum())
    assert len(hairs.points) == pytest.approx(area * GUARD[0].share, rel=0.03)
    logs = np.log(hairs.length)
    assert np.exp(logs.mean()) == pytest.approx(20 * GUARD[0].long, rel=0.02)
    assert logs.std() == pytest.approx(0.18, rel=0.1)
    # Spread evenly: quarters of the oval hold the same.
    x, y = hairs.points[:, 0].T
    counts = [((x > 160) == a).astype(int) @ ((y > 150) == b).astype(int) for a in (0, 1) for b in (0, 1)]
    assert np.std(counts) < 0.03 * np.mean(counts)


def test_bald_where_a_map_says_so(furred):
    script, part = furred
    bare = left_half(script, part)
    script.do(Make(part, "coat", {"density_map": bare, "length": 10.0}))
    cover = layers(script, part)["Coat"].pixels.read(script.painting.rect)[3] / 65535
    assert cover[100:200, 80:140].mean() > 0.6
    assert cover[100:200, 190:260].max() == 0


def test_maps_say_where_hairs_are_silver(furred):
    script, part = furred
    where = left_half(script, part)
    maps = {"pale_map": where, "clump_map": where, "wave_map": where}
    script.do(Make(part, "coat", {"length": 10.0, "lit": "as painted", **maps}))
    pixels = layers(script, part)["Coat"].pixels.read(script.painting.rect).astype(float)[:, 100:200]
    value = pixels[1] / np.maximum(pixels[3], 1)
    assert value[:, 80:140].mean() > 1.15 * value[:, 190:260].mean()


def test_maps_say_where_hairs_are_dark(furred):
    script, part = furred
    script.do(Make(part, "coat", {"length": 10.0, "lit": "as painted", "dark_map": left_half(script, part)}))
    pixels = layers(script, part)["Coat"].pixels.read(script.painting.rect).astype(float)[:, 100:200]
    value = pixels[1] / np.maximum(pixels[3], 1)
    assert value[:, 80:140].mean() < 0.8 * value[:, 190:260].mean()


def test_hairs_take_the_undertones_of_the_mixing_grid(furred):
    script, part = furred
    spreads = []
    for undertones in (0.0, 100.0):
        hairs = planted(
            pelt(script, part, undertones=undertones, variety=0.0, gloss=0.0), GUARD[0], 1.0, "some"
        ).shaped()
        middle = srgb.decode(hairs.colours()[:, 1].astype(float))
        spreads.append(np.log(middle[:, 0] / middle[:, 2]).std())
    assert spreads[1] > spreads[0] + 0.1
    # The grid's own colours say how far.
    found = pelt(script, part, undertones=100.0)
    rows = srgb.decode(np.array([row[2] for row in found.scene.grid.values()]))
    assert spreads[1] == pytest.approx(np.log(rows[:, 0] / rows[:, 2]).std(), rel=0.35)


def test_maps_say_where_hairs_are_thick(furred):
    script, part = furred
    found = pelt(script, part, thick_map=left_half(script, part))
    hairs = planted(found, GUARD[0], 1.0, "some").shaped()
    width, left = hairs.strands().look[:, 0], hairs.points[:, 0, 0] < 155
    assert np.median(width[~left]) == pytest.approx(0.35 * np.median(width[left]), rel=0.05)


def test_maps_of_the_part_are_those_of_brush_and_coat(furred, tmp_path):
    script, part = furred
    where = left_half(script, part)
    script.do(SetPart(part, {"density_map": where, "length_map": where}))
    script.do(Make(part, "coat", {"length": 10.0}))
    coat = layers(script, part)["Coat"].pixels.read(script.painting.rect)[3]
    assert coat[100:200, 80:140].mean() > 30000
    assert coat[100:200, 190:260].max() == 0
    strands = script.layer(part, "strands", place="over")
    fur, across = shipped_brush("Sleek coat"), [(float(x), 150.0, 1.0) for x in range(60, 261, 20)]
    script.stroke(strands, fur, (0.6, 0.5, 0.4), across)
    laid = script.painting.layer(strands).pixels.read(script.painting.rect)[3]
    assert laid[130:170, 80:140].mean() > 20000
    assert laid[:, 185:].max() == 0
    path = tmp_path / "mapped.ora"
    ora_write.write(script.painting, path, [])
    assert ora_read.opened(path).painting.part(part).density_map == where
    # Length alone: fur is there, and short.
    script.do(SetPart(part, {"density_map": 0}))
    short = script.layer(part, "strands", place="over")
    script.stroke(short, fur, (0.6, 0.5, 0.4), across)
    cover = script.painting.layer(short).pixels.read(script.painting.rect)[3] / 65535
    assert 0 < cover[:, 190:250].sum() < 0.5 * cover[:, 75:135].sum()
    # A layer that is gone says nothing.
    script.do(DeleteLayer(where))
    script.stroke(short, fur, (0.6, 0.5, 0.4), across, seed=5)
    assert (script.painting.layer(short).pixels.read(script.painting.rect)[3, :, 190:250] / 65535).sum() > 1.5 * cover[
        :, 190:250
    ].sum()
    with pytest.raises(InputError, match="density_map"):
        script.do(SetPart(part, {"density_map": -1}))


def test_a_coily_coat_is_made_of_coils(furred):
    script, part = furred
    found = pelt(script, part, coat="coily", length=30.0, mess=0.0)
    hairs = planted(found, GUARD[0], 1.0, "some").shaped()
    assert hairs.shade is not None
    points = hairs.points[:, 10:]
    long, chord = np.hypot(*np.diff(points, axis=1).T).sum(axis=0), np.hypot(*(points[:, -1] - points[:, 0]).T)
    # Five turns of a coil of 0.07 of the length, seen 26 degrees from the side: about twice as long as it reaches.
    assert 1.6 < np.median(long / chord) < 3.2
    straight = planted(pelt(script, part, coat="double coat", length=30.0, mess=0.0), GUARD[0], 1.0, "some").shaped()
    # Coils fill more than straight hairs do.
    assert 0.3 < len(hairs.points) / len(straight.points) < 0.55
    assert straight.shade is None


def test_fur_keeps_off_what_is_bald(furred):
    script, part = furred
    eye = script.part("Eye", "eye")
    layer = script.layer(eye, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 120, "y0": 120, "x1": 200, "y1": 180}))
    script.do(Fill(layer, (0.1, 0.1, 0.1)))
    script.do(DropFrisket())
    script.do(SetPart(eye, {"bald": True}))
    script.do(Make(part, "coat", {"length": 40.0}))
    strands = script.layer(part, "strands")
    fur = shipped_brush("Double coat")
    script.stroke(strands, fur, (0.6, 0.5, 0.4), [(60, 150, 1.0), (260, 150, 1.0)])
    inside = np.s_[135:165, 140:180]
    for name in ("Undercoat", "Coat"):
        assert not layers(script, part)[name].pixels.read(script.painting.rect)[3][inside].any()
    laid = script.painting.layer(strands).pixels.read(script.painting.rect)[3]
    assert not laid[inside].any()
    assert laid[140:160, 80:110].any()
    # Only other parts' fur: its own lashes may lie over it.
    own = script.layer(eye, "strands", place="over")
    script.stroke(own, fur.with_changes(turn="fixed"), (0.6, 0.5, 0.4), [(140, 150, 1.0), (180, 150, 1.0)])
    assert script.painting.layer(own).pixels.read(script.painting.rect)[3][inside].any()


def test_the_edge_breaks_into_hairs_and_nothing_lies_double(furred):
    script, part = furred
    script.do(Make(part, "coat"))
    edge, flat = (layers(script, part)[name].pixels.read(script.painting.rect)[3] / 65535 for name in ("Edge", "Flat"))
    assert layers(script, part)["Edge"].role == "edge"
    assert (edge * (flat == 1)).max() == 0
    # Where the silhouette half covers a pixel its hair is whole: what is behind does not shine through as a line.
    script.do(SetPart(part, {"shown": True}))
    whole = flattened(replace(script.painting, ground=(0.0, 1.0, 0.0))).read(script.painting.rect) / 65535
    half = (flat > 0.3) & (flat < 0.7) & (edge > 0.9)
    assert half.sum() > 10
    assert (whole[1] - whole[0])[half].max() < 0.1
    # Hair leaves most where the comb leads out.
    assert edge[230:, :].sum() > 1.5 * edge[:60, :].sum() > 0
    script.do(Make(part, "coat", {"edge": 0.0}, again=layers(script, part)["Coat"].made.run))
    assert "Edge" not in layers(script, part)


def test_the_edge_alone_breaks_a_painted_silhouette(furred):
    script, part = furred
    flat = layers(script, part)["Flat"].uid
    script.stroke(
        flat, shipped_brush("Round").with_changes(size_px=120.0), (0.2, 0.5, 0.2), [(60, 260, 1), (260, 260, 1)]
    )
    before = set(layers(script, part))
    script.do(Make(part, "coat", {"layers": "the edge alone", "lit": "as painted", "length": 30.0}))
    assert set(layers(script, part)) - before == {"Edge"}
    pixels = layers(script, part)["Edge"].pixels.read(script.painting.rect).astype(float)
    outside = pixels[:, 275:]
    assert (outside[3] > 20000).sum() > 300
    # In the colour that is painted there.
    assert outside[1].sum() > 1.4 * outside[0].sum()


def test_the_coat_keeps_to_the_value_scale(furred):
    script, part = furred
    script.do(Make(part, "coat", {"coat": "plush"}))
    pixels = layers(script, part)["Coat"].pixels.read(script.painting.rect).astype(float)
    solid = pixels[3] > 60000
    values = lightness_from_srgb((pixels[:3, solid] / pixels[3, solid]).T)
    scale = script.painting.part(part).scale
    low, high = np.percentile(values, (5, 95))
    assert scale[0] - 8 < low < scale[2]
    assert scale[2] < high < scale[4] + 4


def test_comb_strokes_are_kept_scaled_and_replayed(furred, tmp_path):
    script, part = furred
    operation = SetComb(part, GUIDES)
    assert operation_from_record(to_record(operation)) == operation
    path = tmp_path / "combed.ora"
    ora_write.write(script.painting, path, [])
    read = ora_read.opened(path).painting
    assert read.part(part).comb == script.painting.part(part).comb
    assert same_painting(read, script.painting)
    script.do(ScaleCanvas(640, 600))
    assert script.painting.part(part).comb[0].points[0] == (300.0, 120.0)
    script.do(FrameCanvas(10, 20, 640, 600))
    assert script.painting.part(part).comb[0].points[0] != (300.0, 120.0)
    assert operation.scaled(2.0).guides[0]["points"][0] == (300.0, 120.0)


def test_a_part_is_combed_over_its_maquette():
    script = Script.new(400, 400)
    part = script.part("Ball", "fur")
    ball = Piece("Ball", part=part)
    script.do(SetMaquette(Maquette((ball,), (200.0, 200.0), 190.0).to_record()))
    guides, u, v = meridians((0, 0.5, 0.85), 4, 0.1, 1.3)
    layer = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": 10, "y0": 10, "x1": 390, "y1": 390}))
    script.do(Fill(layer, (0.5, 0.4, 0.3)))
    script.do(DropFrisket())
    script.do(SetComb(part, tuple({"points": one.points} for one in guides)))
    painting = script.painting
    field = comb_of(painting, painting.part(part))
    assert comb_of(painting, painting.part(part)) is field
    assert mean_error(field, u, v) < 9
    script.do(SetMaquette(Maquette().to_record()))
    flat = comb_of(script.painting, script.painting.part(part))
    assert mean_error(flat, u, v) > mean_error(field, u, v) + 1


def test_what_cannot_be_combed_is_refused(furred):
    script, part = furred
    bare = script.part("Bare", "fur")
    with pytest.raises(InputError, match="silhouette"):
        comb_of(script.painting, script.painting.part(bare))
    with pytest.raises(InputError, match="comb"):
        script.do(SetComb(part, ({"points": ((0.0, 0.0),), "swirl": 1},)))


def test_a_small_trial_of_a_coat_looks_like_the_coat(furred):
    """Comb strokes, hidden maps and the thickness of hairs go along to the small copy that settings are tried on."""
    script, part = furred
    bare = left_half(script, part)
    small = reduced(script.painting, 2)
    assert small.part(part).comb == tuple(one.scaled(0.5) for one in script.painting.part(part).comb)
    operation = Make(part, "coat", {"density_map": bare, "coat": "plush"})
    whole, _ = operation.apply(script.painting)
    tried, _ = operation.scaled(0.5).apply(small)
    one, other = (flattened(found).read(found.rect)[:3] / 65535 for found in (reduced(whole, 2), tried))
    furry, naked = np.s_[:, 40:110, 45:75], np.s_[:, 40:110, 90:130]
    for place in (furry, naked):
        assert one[place].mean() == pytest.approx(other[place].mean(), rel=0.08)


def value_of(script, part, **settings):
    """Median L* of the middle of a coat."""
    painting, _ = Make(part, "coat", {"length": 20.0, "edge": 0.0, **settings}).apply(script.painting)
    codes = flattened(painting).read(Rect(110, 90, 210, 210))[:3].astype(float) / 65535
    return float(np.median(lightness_from_srgb(np.moveaxis(codes, 0, -1))))


def black(script, part):
    """The furred oval in black, with its value scale."""
    flat = script.painting.part(part).flats[0].uid
    script.do(Fill(flat, (0.06, 0.06, 0.065), "silhouette"))
    script.do(SetPart(part, {"scale": [3.0, 7.0, 11.0, 27.0, 45.0]}))


def test_a_black_coat_stays_dark_and_shines_in_a_cool_grey(furred):
    script, part = furred
    black(script, part)
    assert value_of(script, part) < 30
    assert value_of(script, part, gloss=0.0) < value_of(script, part, gloss=300.0) - 3
    # Away from the key it is the sky that is seen.
    shown = {}
    for gloss in (0.0, 300.0):
        found = pelt(script, part, coat="double coat", length=20.0, gloss=gloss)
        hairs = planted(found, GUARD[0], 1.0, "some").shaped()
        away = hairs.normal @ np.asarray(found.scene.light) < 0.1
        shown[gloss] = hairs.colours()[away, 1].mean(axis=0)
    red, _, blue = shown[300.0] - shown[0.0]
    assert blue > red > 0


def test_light_that_is_painted_beneath_does_not_count_twice(furred):
    script, part = furred
    black(script, part)
    bare = value_of(script, part)
    light = script.layer(part, "light", mode="Normal", strength=1.0)
    script.do(Fill(light, (0.5, 0.5, 0.5), "silhouette"))
    assert value_of(script, part) == pytest.approx(bare, abs=1.0)
    assert value_of(script, part, lit="as painted") > bare + 15
    assert bare + 3 < value_of(script, part, by_key=50.0)


def test_a_wet_coat_comes_to_pinched_tufts_by_regions(furred):
    """Tips of a tuft are nearer to each other than roots are; where the map is bare, nothing has changed."""
    script, part = furred
    wet = left_half(script, part)
    found = pelt(script, part, length=20.0, wet=100.0, wet_map=wet, tuft=24.0, mess=0.0, clump=0.0, gloss=0.0)
    hairs = planted(found, GUARD[0], 1.0, "some").shaped()
    roots, tips = hairs.points[:, 0], hairs.points[:, -1]

    def apart(points, chosen):
        return float(np.median(cKDTree(points[chosen]).query(points[chosen], k=12)[0][:, -1]))

    left, right = roots[:, 0] < 140, roots[:, 0] > 180
    assert apart(tips, left) < 0.75 * apart(roots, left)
    assert apart(tips, right) == pytest.approx(apart(roots, right), rel=0.2)
    assert np.allclose(hairs.wet[right], 0)
    values = hairs.colours()[:, 0].mean(axis=1)
    assert np.median(values[left]) < np.median(values[right])
