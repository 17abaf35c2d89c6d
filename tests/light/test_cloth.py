"""Cloth draped over forms: it lies on them, nowhere within them, and keeps its size."""

import numpy as np
import pytest

from japanner.light.cloth import Cloth
from japanner.light.faces import surface_of
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.surface import distances, surface
from japanner.light.rows import _cloth, rows_of, worn_by
from japanner.light.turning import turned
from japanner.raster.geometry import Rect

LYING = (0.0, 90.0, 0.0)
TABLE = Piece("Table", "slab", place=(0.0, -0.5, 0.0))
BALL = Piece("Ball", "ball", size=(0.5, 0.5, 0.5))
CLOTH = Piece("Cloth", "sheet", place=(0.0, 0.6, 0.0), turn=LYING, size=(1.0, 1.0, 0.02), join="drape")


def places(cloth: Piece, *before: Piece) -> np.ndarray:
    """Where the points of a draped cloth are, in the maquette's axes, (64, 64, 3)."""
    own = _cloth(cloth, before).place
    return np.stack((own[..., 0], own[..., 2], -own[..., 1]), axis=-1) + cloth.place


def test_cloth_over_a_ball_lies_on_it_and_hangs_from_it():
    found = places(CLOTH, TABLE, BALL)
    near = distances(Maquette((TABLE, BALL)), found.reshape(-1, 3))[:, 0]
    assert near.min() > 0.0
    middle = found[24:40, 24:40].reshape(-1, 3)
    assert np.linalg.norm(middle, axis=1) == pytest.approx(0.53, abs=0.03)
    # The corners come down, and the border is drawn in.
    corners = found[[0, 0, -1, -1], [0, -1, 0, -1]]
    assert (corners[:, 1] < -0.2).all()
    assert np.abs(found[32, [0, -1], 0]).max() < 0.95
    # Threads keep their length.
    across = np.linalg.norm(np.diff(found, axis=1), axis=2)
    assert across.mean() == pytest.approx(2 / 63, rel=0.02)
    assert np.percentile(across, 98) < 1.15 * 2 / 63


def test_cloth_over_a_table_lies_flat():
    found = places(CLOTH, TABLE)
    assert found[..., 1] == pytest.approx(-0.47, abs=0.01)


def test_draped_cloth_is_seen_over_the_form_and_the_same_again():
    whole = Maquette((TABLE, BALL, CLOTH), (150.0, 150.0), 100.0, (0.0, -30.0, 0.0), 8.0)
    area = Rect(0, 0, 300, 300)
    found, again = (surface(whole, area, (0.0, 0.7, 0.7), step=3) for _ in range(2))
    assert (found.piece == 2).sum() > 1500
    assert not (found.piece == 1)[40:60].any()
    assert np.array_equal(found.depth, again.depth)
    # Moved over a smaller ball it lies otherwise.
    other = rows_of((TABLE, Piece("Ball", "ball", size=(0.3, 0.3, 0.3)), CLOTH))
    assert not np.array_equal(other.data, rows_of((TABLE, BALL, CLOTH)).data)


def test_distances_of_a_tilted_plane_of_cloth():
    v, u = np.meshgrid(np.linspace(1, -1, 64), np.linspace(-1, 1, 64), indexing="ij")
    volume = Cloth(np.stack((u, v, 0.5 * u), axis=-1)).volume
    index = np.argwhere(np.ones(volume.far.shape, bool))
    x, y, z = (index * volume.cell + volume.low).T
    wanted = np.abs(z - 0.5 * x) / np.sqrt(1.25)
    inner = (np.abs(x) < 0.8) & (np.abs(y) < 0.9) & (wanted < 3 * volume.cell)
    assert np.abs(volume.far.ravel() - wanted)[inner].max() < 0.05 * volume.cell


def test_only_a_sheet_is_draped():
    with pytest.raises(Exception, match="join"):
        Piece("Ball", "ball", join="drape")
    assert Piece.from_record(CLOTH.to_record()) == CLOTH


def test_a_cape_lies_on_the_shoulders_of_a_figure_and_leaves_its_head_free():
    figure = Piece("Figure", "figure", place=(0.3, 0.1, 0.0), turn=(20.0, 5.0, -4.0))
    cape = worn_by(figure)
    found = _cloth(cape, (figure,)).place.reshape(-1, 3) @ turned(cape.turn).T + cape.place
    near = surface_of(figure).distances(found)[:, 0]
    assert np.percentile(near, 1) > 0.0
    assert near.min() > -0.05
    # Much of it lies on the figure, on both shoulders and behind.
    lying = found[near < 0.1]
    assert len(lying) > 0.25 * len(found)
    frame = (found - figure.place) @ turned(figure.turn)
    assert frame[:, 1].max() < -0.7, "nothing of it is above the neck"
    assert (frame[near < 0.1, 0] < -1).any()
    assert (frame[near < 0.1, 0] > 1).any()
    assert frame[:, 1].min() < -2.3, "it hangs from them"


def test_distances_to_a_mesh_are_signed():
    found = surface_of(Piece("Figure", "figure")).distances(np.array(((0.0, 0.4, 0.2), (0.0, 3.0, 0.0))))
    assert found[0, 0] < 0
    assert found[1, 0] == pytest.approx(2.0, abs=0.1), "the crown is a unit up"
    assert found[1, 1:] == pytest.approx((0, 1, 0), abs=0.3)
