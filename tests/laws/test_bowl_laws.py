"""Laws that hold for every bowl on every canvas."""

from unittest import TestCase

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st

from engine.bowl.adjust import adjust
from engine.bowl.fade import fade, faded_canvas
from engine.bowl.match import match
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, added_absorption
from engine.bowl.predict import predict, seen_reflectance
from engine.bowl.ranking import ALIKE, CHANCE
from engine.bowl.spread import Doubt, spread
from engine.bowl.weigh import Scale
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, fibres_of

SEARCHED = 0.05  # delta E00 that a search on the scale's steps may leave lying
COLOURS = [shade for shade in demo_shelf().values() if not shade.is_clear]
CLEAR = demo_shelf()["clear"]

canvases = st.builds(
    Canvas,
    level=st.floats(1, 11),
    warmth=st.floats(-2, 2),
    lean=st.floats(0, 10),
    porosity=st.floats(0.5, 1.6),
    grey=st.floats(0, 1),
)
bowls = st.dictionaries(st.sampled_from([*COLOURS, CLEAR]), st.floats(0.1, 100), min_size=1, max_size=6).map(
    lambda grams: Bowl(grams=grams)
)
processes = st.builds(Process, minutes=st.none() | st.floats(0, 120), damp=st.booleans())


class Laws(TestCase):
    @given(canvases, bowls, processes)
    def test_dye_never_lightens_in_any_part_of_the_spectrum(self, canvas: Canvas, bowl: Bowl, process: Process) -> None:
        fibres = fibres_of(canvas)
        added = added_absorption(bowl, canvas.porosity, process)
        bare, dyed = seen_reflectance(fibres, 0 * added), seen_reflectance(fibres, added)
        self.assertTrue(np.all(dyed <= bare + 1e-12))
        self.assertTrue(np.all((dyed > 0) & (dyed < 1)))

    @given(canvases, bowls, st.floats(0.1, 500))
    def test_more_clear_never_deepens(self, canvas: Canvas, bowl: Bowl, clear_g: float) -> None:
        grams = dict(bowl.grams)
        grams[CLEAR] = grams.get(CLEAR, 0) + clear_g
        before = added_absorption(bowl, canvas.porosity, FULL_TIME_DRY)
        after = added_absorption(Bowl(grams=grams), canvas.porosity, FULL_TIME_DRY)
        self.assertTrue(np.all(after <= before + 1e-12))

    @given(canvases, bowls, st.floats(0.05, 20))
    def test_the_colour_depends_on_proportions_only(self, canvas: Canvas, bowl: Bowl, factor: float) -> None:
        scaled = Bowl(grams={shade: grams * factor for shade, grams in bowl.grams.items()})
        np.testing.assert_allclose(predict(canvas, scaled).lab, predict(canvas, bowl).lab, atol=1e-8)

    @given(canvases, bowls, st.randoms(use_true_random=False))
    def test_the_order_of_pouring_changes_nothing(self, canvas: Canvas, bowl: Bowl, random: object) -> None:
        poured = list(bowl.grams.items())
        random.shuffle(poured)  # type: ignore[attr-defined]
        np.testing.assert_allclose(predict(canvas, Bowl(grams=dict(poured))).lab, predict(canvas, bowl).lab, atol=1e-9)

    @given(canvases, bowls, st.floats(0, 100), st.floats(0, 100))
    def test_more_time_never_lightens(self, canvas: Canvas, bowl: Bowl, one: float, other: float) -> None:
        sooner, later = (
            added_absorption(bowl, canvas.porosity, Process(minutes=minutes)) for minutes in sorted((one, other))
        )
        self.assertTrue(np.all(sooner <= later + 1e-12))

    @settings(max_examples=12, deadline=None)
    @given(
        st.builds(Canvas, level=st.floats(6, 11)),
        st.lists(st.sampled_from(COLOURS), min_size=2, max_size=5, unique=True),
        st.tuples(st.floats(25, 80), st.floats(-40, 40), st.floats(-40, 40)),
        st.randoms(use_true_random=False),
    )
    def test_the_order_of_the_shelf_changes_no_match(
        self, canvas: Canvas, shelf: list, target: tuple, random: object
    ) -> None:
        shuffled = list(shelf)
        random.shuffle(shuffled)  # type: ignore[attr-defined]
        one, other = (match(canvas, order, np.array(target), scale=Scale()) for order in (shelf, shuffled))
        self.assertAlmostEqual(one.weighed_delta_e00, other.weighed_delta_e00, delta=1e-6)
        self.assertEqual(set(one.recipes[0].bowl.colours), set(other.recipes[0].bowl.colours))

    def test_asking_for_one_answer_searches_no_less(self) -> None:
        wander = np.random.default_rng(11)
        for _ in range(20):
            level, warmth, porosity = wander.uniform((4, -1, 0.7), (11, 2, 1.5)).tolist()
            canvas = Canvas(level=level, warmth=warmth, porosity=porosity)
            target = wander.uniform((20, -40, -40), (85, 60, 60))
            one, three = (match(canvas, [*COLOURS, CLEAR], target, scale=Scale(), answers=count) for count in (1, 3))
            self.assertLessEqual(one.weighed_delta_e00, three.weighed_delta_e00 + SEARCHED, (canvas, target))

    @settings(max_examples=10, deadline=None)
    @given(
        st.builds(Canvas, level=st.floats(7, 11)),
        st.tuples(st.floats(30, 75), st.floats(-30, 40), st.floats(-30, 40)),
        st.sampled_from([(1.0, 0.5), (0.5, 0.1), (1.0, 0.1)]),
    )
    def test_finer_steps_of_the_scale_never_worsen_a_match(
        self, canvas: Canvas, target: tuple, steps: tuple[float, float]
    ) -> None:
        coarse, fine = (
            match(canvas, [*COLOURS, CLEAR], np.array(target), scale=Scale(step_g=step), max_shades=2, answers=10)
            for step in steps
        )
        self.assertLessEqual(fine.weighed_delta_e00, coarse.weighed_delta_e00 + SEARCHED)
        for found in (coarse, fine):
            first, near = found.recipes[0], min(found.recipes, key=lambda recipe: recipe.delta_e00)
            surer = round(first.chance / CHANCE) > round(near.chance / CHANCE)
            self.assertTrue(surer or first.delta_e00 < found.weighed_delta_e00 + 2 * ALIKE)

    @settings(max_examples=12, deadline=None)
    @given(
        st.builds(Canvas, level=st.floats(8, 11), porosity=st.floats(0.8, 1.4)),
        st.dictionaries(st.sampled_from(COLOURS), st.floats(0.5, 6), min_size=1, max_size=2),
        st.tuples(st.floats(35, 75), st.floats(-30, 40), st.floats(-30, 40)),
    )
    @example(Canvas(level=8), {COLOURS[0]: 1.0}, (63.0, 0.0, -23.0))
    def test_adjusting_a_bowl_never_beats_a_fresh_match(self, canvas: Canvas, grams: dict, target: tuple) -> None:
        """Additions of two shades to a bowl of two can hold four colours, so the match may use four."""
        aim, start = np.array(target), Bowl(grams={**grams, CLEAR: 40.0})
        mended = adjust(canvas, start, [*COLOURS, CLEAR], aim, max_total_g=120)
        fresh = match(canvas, [*COLOURS, CLEAR], aim, scale=Scale(total_g=120, step_g=0.05), max_shades=4)
        self.assertGreaterEqual(mended.delta_e00, fresh.weighed_delta_e00 - SEARCHED)

    @given(canvases, bowls, st.floats(0, 1), st.floats(0, 1))
    @settings(deadline=None)
    def test_surer_input_never_spreads_more(self, canvas: Canvas, bowl: Bowl, one: float, other: float) -> None:
        def doubt(share: float) -> Doubt:
            return Doubt(level=0.5 * share, porosity=0.2 * share, grams=0.0, minutes=0.0)

        sure, unsure = (spread(canvas, bowl, doubt=doubt(share)).within_90 for share in sorted((one, other)))
        self.assertLessEqual(sure, 1.1 * unsure + 0.1)

    @given(canvases, bowls, st.integers(1, 30), st.booleans())
    @settings(deadline=None)
    def test_fading_goes_steadily_towards_the_bare_canvas(
        self, canvas: Canvas, bowl: Bowl, washes: int, hot: bool
    ) -> None:
        path = fade(canvas, bowl, washes=washes, hot_water=hot)
        self.assertTrue(np.all(np.diff(path.lab[:, 0]) >= -1e-9))
        self.assertTrue(np.all(path.lab[:, 0] <= predict(canvas, None).lab[0] + 1e-9))
        worn = predict(faded_canvas(canvas, bowl, washes, hot_water=hot), None)
        np.testing.assert_allclose(worn.lab, path.lab[-1], atol=1e-3)
