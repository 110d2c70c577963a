"""Laws of hair and dye over shelves, canvases and processes that nobody has seen."""

import unittest
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.bowl.fade import fade, faded_canvas
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.dye.kind import Kind
from engine.dye.shade import Band, Shade
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family

CLEAR = Shade(name="clear")
BANDS = st.builds(
    Band, centre_nm=st.floats(400, 700), sigma_nm=st.floats(15, 70), weight=st.floats(0.05, 1.2)
)  # what dyes have; a line of no width is none


@st.composite
def shelves(draw: st.DrawFn) -> list[Shade]:
    """Two to five shades of any kind, strength and level."""
    return [
        Shade(
            name=f"shade {index}",
            kind=(kind := draw(st.sampled_from([Kind.DIRECT, Kind.DEMI, Kind.PERMANENT]))),
            bands=tuple(draw(st.lists(BANDS, min_size=1, max_size=3))),
            strength=draw(st.floats(0.2, 12)),
            level=draw(st.none() | st.floats(2, 10.5)) if kind.is_oxidative else None,
        )
        for index in range(draw(st.integers(2, 5)))
    ]


CANVASES = st.builds(
    Canvas,
    level=st.floats(1, 11),
    warmth=st.floats(-2, 2),
    lean=st.floats(0, 10),
    porosity=st.floats(0.5, 1.6),
    grey=st.sampled_from([0.0, 0.0, 0.1, 0.5, 1.0]),
    family=st.sampled_from(Family),
)
DEPOSIT = Process(developer_vol=6.0)
PROCESSES = st.builds(
    Process,
    minutes=st.none() | st.floats(0, 60),
    damp=st.booleans(),
    developer_vol=st.sampled_from([None, 6.0, 10.0, 20.0, 40.0]),
)


def mixed(shades: Sequence[Shade], grams: Sequence[float], clear: float) -> Bowl:
    return Bowl(grams={**dict(zip(shades, grams, strict=True)), CLEAR: clear})


class Mixing(unittest.TestCase):
    @settings(max_examples=200, deadline=None)
    @given(canvas=CANVASES, shelf=shelves(), data=st.data())
    def test_a_shade_in_place_of_clear_never_makes_hair_lighter(
        self, canvas: Canvas, shelf: list[Shade], data: st.DataObject
    ) -> None:
        grams = data.draw(st.lists(st.floats(0, 10), min_size=len(shelf), max_size=len(shelf)))
        which = data.draw(st.integers(0, len(shelf) - 1))
        clear, more = data.draw(st.floats(1, 60)), data.draw(st.floats(0.1, 1))
        before = predict(canvas, mixed(shelf, grams, clear), process=DEPOSIT).lab[0]
        grams[which] += more * clear
        after = predict(canvas, mixed(shelf, grams, clear * (1 - more)), process=DEPOSIT).lab[0]
        self.assertLessEqual(after, before + 0.05)

    @settings(max_examples=40, deadline=None)
    @given(canvas=CANVASES, shelf=shelves(), process=PROCESSES, share=st.floats(0.05, 0.95))
    def test_two_tubes_of_one_colour_are_as_one(
        self, canvas: Canvas, shelf: list[Shade], process: Process, share: float
    ) -> None:
        first, *others = shelf
        twin = replace(first, name="twin")
        rest = dict.fromkeys(others, 3.0) | {CLEAR: 20.0}
        one = predict(canvas, Bowl(grams={first: 6.0} | rest), process=process)
        two = predict(canvas, Bowl(grams={first: 6 * share, twin: 6 * (1 - share)} | rest), process=process)
        np.testing.assert_allclose(two.lab, one.lab, atol=1e-9)


class Wearing(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(canvas=CANVASES, shelf=shelves(), process=PROCESSES, washes=st.integers(1, 20))
    def test_before_the_first_wash_nothing_has_left_and_no_wash_undoes_a_lift(
        self, canvas: Canvas, shelf: list[Shade], process: Process, washes: int
    ) -> None:
        bowl = mixed(shelf, [4.0] * len(shelf), 15)
        now = predict(canvas, bowl, process=process).lab
        path = fade(canvas, bowl, washes=washes, process=process).lab
        np.testing.assert_allclose(path[0], now, atol=1e-6)
        worn = faded_canvas(canvas, bowl, washes, process=process)
        np.testing.assert_allclose(path[-1], canvas_lab(worn), atol=1e-4)
        self.assertGreaterEqual(worn.level, canvas.level)


class Grey(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(canvas=CANVASES, share=st.tuples(st.floats(0, 1), st.floats(0, 1)))
    def test_the_more_white_hair_the_lighter_where_hair_is_darker_than_white(
        self, canvas: Canvas, share: tuple[float, float]
    ) -> None:
        dark = replace(canvas, level=min(canvas.level, 9.5))
        less, more = (canvas_lab(replace(dark, grey=each))[0] for each in sorted(share))
        self.assertLessEqual(less, more + 1e-9)

    def test_a_little_white_hardly_lightens_and_half_of_it_is_no_blonde(self) -> None:
        """From path-traced mixtures of fibres; see the published checks."""
        tenth, half = (canvas_lab(Canvas(level=3, family=Family.NATURAL, grey=share))[0] for share in (0.1, 0.5))
        self.assertLessEqual(tenth, 32)
        self.assertTrue(40 <= half <= 48, half)


class SameLevel(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(level=st.floats(2, 9.5))
    def test_a_neutral_of_the_hairs_own_level_leaves_its_depth(self, level: float) -> None:
        neutral = Shade(name="neutral", kind=Kind.PERMANENT, level=level, strength=1.0)
        hair = Canvas(level=level, family=Family.NATURAL)
        before, after = canvas_lab(hair)[0], predict(hair, Bowl(grams={neutral: 30}), process=DEPOSIT).lab[0]
        above, below = (canvas_lab(replace(hair, level=level + away))[0] for away in (0.5, -0.5))
        half_a_level = (above - below) / 2
        self.assertLess(before - after, half_a_level)
        self.assertGreater(before - after, 0)
