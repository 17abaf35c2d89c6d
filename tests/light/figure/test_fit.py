"""Heads found again from landmarks."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.light.figure.data import figure_data
from japanner.light.figure.fit import FEWEST, Standing, fit, landmarks
from japanner.light.figure.people import PEOPLE, another_person, person, uneven
from japanner.light.figure.pull import pulled
from japanner.light.figure.shape import Few, shaped
from japanner.light.figure.sliders import sliders
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.surface import seen_at

HEAD = ("nose tip", "left outer eye corner", "right outer eye corner", "left mouth corner", "right mouth corner",
        "chin", "left lobe", "right lobe")  # fmt: skip


def projected(who, standing, names, noise=0.0, seed=0):
    """Where landmarks of somebody are seen, as the program itself shows a maquette."""
    maquette = Maquette((), standing.middle, standing.unit_px, standing.turn, standing.eye)
    points, random = shaped(who), np.random.default_rng(seed)
    found = {}
    for name in names:
        x, y = seen_at(maquette, tuple(points[figure_data().landmarks[name]]))
        found[name] = (x + random.normal(0, noise), y + random.normal(0, noise))
    return found


# Forty landmarks, set to a pixel on a head a thousand high.
@pytest.mark.parametrize("seed", [3, 15])
def test_somebody_is_found_again(seed):
    random = np.random.default_rng(seed)
    who = another_person(seed)
    turn = random.uniform(-50, 50), random.uniform(-20, 20), random.uniform(-15, 15)
    standing = Standing((780.0, 900.0), 500.0, turn, random.uniform(6, 14))
    names = [landmarks()[i] for i in random.permutation(len(landmarks()))[:40]]
    found = fit(projected(who, standing, names, 1.0, seed), {"age": who.get("age", 30.0)})
    assert np.abs(np.subtract(found.standing.turn, standing.turn)).max() < 2
    assert found.rms < 1
    assert found.standing.unit_px == pytest.approx(500, rel=0.12)
    assert set(found.off) == set(names)


def test_a_few_landmarks_tell_how_a_head_stands():
    standing = Standing((400.0, 420.0), 220.0, (32.0, -8.0, 5.0), 9.0)
    found = fit(projected({}, standing, HEAD), {})
    assert found.sliders == {}
    assert found.standing.turn == pytest.approx(standing.turn, abs=0.3)
    assert found.standing.middle == pytest.approx(standing.middle, abs=3)
    assert found.rms < 0.1


def test_sliders_stay_where_they_are_if_nothing_speaks_against_them():
    who = person("Ione Marrash")
    standing = Standing((400.0, 420.0), 220.0, (-25.0, 4.0, 0.0), 9.0)
    found = fit(projected(who, standing, landmarks()), who)
    kept = [abs(found.sliders.get(name, 0) - value) for name, value in who.items() if name in sliders()]
    assert max(kept) < 0.05
    assert found.rms < 0.05


@pytest.mark.parametrize(
    ("places", "words"),
    [
        ({name: (float(k), 5.0 * k) for k, name in enumerate(HEAD[:5])}, "6 or more"),
        ({name: (10.0 * k, 20.0 * k) for k, name in enumerate(HEAD)}, "one line"),
        (dict.fromkeys(HEAD, (5.0, 5.0)), "one line"),
        ({**dict.fromkeys(HEAD, (1.0, 2.0)), "third eye": (0.0, 0.0)}, "third eye"),
        ({name: (float("nan"), 1.0) for name in HEAD}, "landmarks"),
    ],
)
def test_what_tells_nothing_is_refused_in_a_sentence(places, words):
    with pytest.raises(InputError, match=words):
        fit(places, {})


@settings(max_examples=15, deadline=None)
@given(st.lists(st.tuples(st.floats(0, 1000), st.floats(0, 1000)), min_size=FEWEST, max_size=12), st.integers(0, 10**6))
def test_any_places_are_answered(places, seed):
    names = np.random.default_rng(seed).permutation(landmarks())[: len(places)]
    try:
        found = fit(dict(zip(names.tolist(), places, strict=True)), {})
    except InputError as error:
        assert "landmarks" in str(error)  # noqa: PT017 - either is right
    else:
        assert np.isfinite(found.standing.turn).all()
        assert found.rms <= 12


def test_a_few_points_are_where_all_of_them_are():
    numbers = np.array(list(figure_data().landmarks.values()))
    for who in (person("Old Marl"), another_person(4)):
        assert Few.of(numbers).at(who) == pytest.approx(shaped(who)[numbers], abs=1e-6)


def test_people_are_told_apart_and_none_is_even():
    assert len(PEOPLE) == 12
    assert {"Ione Marrash", "Tobit Wrenfold"} <= set(PEOPLE)
    forms = np.stack([shaped(person(name)) for name in PEOPLE])
    apart = [np.abs(a - b).max() for k, a in enumerate(forms) for b in forms[:k]]
    assert min(apart) > 0.05
    for name in PEOPLE:
        piece = Piece(name, "figure", sliders=tuple(sorted(person(name).items())))
        assert any(sliders()[one].chapter == "asymmetry" for one, _ in piece.sliders)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 2**32))
def test_chance_makes_people_and_the_same_again(seed):
    who = another_person(seed)
    assert who == another_person(seed)
    assert 6 <= who.get("age", 30) <= 90
    points = shaped(who)
    height = points[figure_data().landmarks["crown"], 1] - points[figure_data().landmarks["under the chin"], 1]
    assert 1.3 < height < 2.5
    assert uneven(seed, 0) == {}


@settings(max_examples=15, deadline=None)
@given(st.sampled_from(landmarks()), st.tuples(*[st.floats(-0.05, 0.05)] * 3))
def test_a_pulled_landmark_comes_along_and_the_others_stay(name, shift):
    who = person("Ione Marrash")
    before, after = shaped(who), shaped(pulled(who, name, np.array(shift)))
    marks = figure_data().landmarks
    moved = {one: np.linalg.norm(after[at] - before[at]) for one, at in marks.items()}
    asked = np.linalg.norm(shift)
    assert (after[marks[name]] - before[marks[name]]) @ shift >= -1e-3
    assert moved[name] <= asked + 0.03
    assert np.mean(list(moved.values())) <= max(0.6 * asked, 0.01)
