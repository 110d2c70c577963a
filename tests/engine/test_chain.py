"""Hair through the coats of a visit."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.spread import spread
from engine.colorimetry.difference import delta_e00
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, Missing, OutOfRange
from engine.hair.canvas import Canvas, OldColour, lightened
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from engine.service.chain import ChainedCoat, chain, laid_on
from engine.service.processing import Moment
from engine.service.schedule.work import Purpose
from tests.engine.made import bowl
from tests.engine.test_learning import school
from tests.salons.salon import Otherness

NINE = Canvas(level=9, porosity=1.2)
FIVE = Canvas(level=5, family=Family.NATURAL)
PINK, TONER = bowl(magenta=2, clear=58), bowl(violet=1, clear=60)


def coat(purpose: Purpose, **more: object) -> ChainedCoat:
    return ChainedCoat(purpose=purpose, **more)


class Chains(TestCase):
    @given(st.floats(0, 8), st.floats(0, 8), st.floats(5, 11))
    def test_one_colour_is_its_forecast_and_two_are_no_lighter(self, one: float, two: float, level: float) -> None:
        hair, first, second = Canvas(level=level), bowl(crimson=one, clear=30), bowl(blue=two, clear=30)
        after = chain(hair, [coat(Purpose.COLOUR, bowl=first), coat(Purpose.OVERLAY, bowl=second)])
        self.assertLess(float(delta_e00(after[0].lab, predict(hair, first).lab)), 1e-4)
        for alone in (first, second):
            self.assertLessEqual(after[1].lab[0], predict(hair, alone).lab[0] + 1e-4)

    def test_each_coat_goes_on_what_the_one_before_has_left(self) -> None:
        lift, tone = coat(Purpose.LIFT, to_level=9), coat(Purpose.PRE_TONE, bowl=TONER)
        after = chain(FIVE, [lift, tone, coat(Purpose.COLOUR, bowl=PINK)])
        by_hand = chain(lightened(FIVE, 9), [tone, coat(Purpose.COLOUR, bowl=PINK)])
        np.testing.assert_allclose(after[-1].lab, by_hand[-1].lab)
        bare = predict(lightened(FIVE, 9), PINK).lab
        self.assertGreater(float(delta_e00(after[-1].lab, bare)), 2)  # the toner is seen through the colour

    def test_an_unread_lift_is_a_range_that_a_reading_closes(self) -> None:
        lift, colour = coat(Purpose.LIFT, to_level=9), coat(Purpose.COLOUR, bowl=PINK)
        for after in chain(FIVE, [lift, colour]):
            assert after.darker is not None and after.lighter is not None
            self.assertTrue(after.darker[0] < after.lab[0] < after.lighter[0])
        read = chain(FIVE, [coat(Purpose.LIFT, to_level=9, read=Canvas(level=8.5)), colour])[-1]
        self.assertIsNone(read.darker)
        np.testing.assert_allclose(read.lab, predict(Canvas(level=8.5), PINK).lab, atol=1e-4)

    def test_each_coat_adds_its_doubt_and_a_reading_takes_that_of_a_lift_away(self) -> None:
        coats = [coat(Purpose.LIFT, to_level=9), coat(Purpose.PRE_TONE, bowl=TONER), coat(Purpose.COLOUR, bowl=PINK)]
        wander = [each.spread.within_90 for each in chain(FIVE, coats)]
        self.assertGreater(wander[2], wander[0])
        self.assertTrue(all(each.spread.within_50 < each.spread.within_90 for each in chain(FIVE, coats)))
        coats[0] = coat(Purpose.LIFT, to_level=9, read=lightened(FIVE, 9))
        read = [each.spread.within_90 for each in chain(FIVE, coats)]
        self.assertLess(read[0], 0.8 * wander[0])
        self.assertLess(read[2], wander[2])
        alone = spread(lightened(FIVE, 9), PINK).within_90
        one = chain(lightened(FIVE, 9), [coat(Purpose.COLOUR, bowl=PINK)])[0].spread.within_90
        self.assertAlmostEqual(one / alone, 1, delta=0.3)  # the same doubt, by slopes and by drawing

    def test_a_remover_takes_old_colour_and_not_the_hairs_own(self) -> None:
        old = Canvas(level=9, old=(OldColour(shade=demo_shelf()["red"], k_s=1.0),))
        before, after = canvas_lab(old), chain(old, [coat(Purpose.REMOVE)])[0].lab
        bare = canvas_lab(Canvas(level=9))
        self.assertTrue(before[0] < after[0] < bare[0])
        np.testing.assert_allclose(chain(NINE, [coat(Purpose.REMOVE)])[0].lab, canvas_lab(NINE))

    def test_an_equaliser_evens_what_hair_takes_and_a_mask_alone_changes_nothing(self) -> None:
        porous = Canvas(level=10, porosity=1.6)
        colour = coat(Purpose.COLOUR, bowl=PINK)
        plain, evened = (chain(porous, coats)[-1].lab for coats in ([colour], [coat(Purpose.EQUALISE), colour]))
        self.assertGreater(evened[0], plain[0])
        np.testing.assert_allclose(chain(NINE, [coat(Purpose.MASK)])[0].lab, canvas_lab(NINE))

    def test_what_cannot_be_is_refused_by_its_field(self) -> None:
        for make, field, kind in (
            (lambda: chain(NINE, [coat(Purpose.LIFT, to_level=8)]), "coats.0.to_level", OutOfRange),
            (lambda: coat(Purpose.LIFT), "to_level", BadInput),
            (lambda: coat(Purpose.SEAL, to_level=9), "to_level", BadInput),
            (lambda: coat(Purpose.GLAZE), "bowl", Missing),
            (lambda: coat(Purpose.REMOVE, bowl=PINK), "bowl", BadInput),
            (
                lambda: chain(FIVE, [coat(Purpose.LIFT, to_level=9, rinsed=False), coat(Purpose.COLOUR, bowl=PINK)]),
                "coats.1",
                BadInput,
            ),
        ):
            with self.subTest(field=field), self.assertRaises(kind) as caught:
                make()
            self.assertEqual(caught.exception.field, field)

    def test_what_was_learned_is_seen_through_all_coats(self) -> None:
        """One coat is its forecast; of two that nothing was lifted between, both are told at once."""
        knowledge = school(Otherness.STRONG)[2].knowledge
        process = Process(taught=knowledge)
        pink, blue = (
            Bowl(grams={knowledge.taught(shade): grams for shade, grams in each.grams.items()})
            for each in (PINK, bowl(blue=1, clear=40))
        )
        coats = [coat(Purpose.COLOUR, bowl=each, process=process) for each in (pink, blue)]
        after = chain(NINE, [coat(Purpose.LIFT, to_level=9.5), *coats])
        hair = lightened(NINE, 9.5)
        np.testing.assert_allclose(after[1].lab, predict(hair, pink, process=process).lab, atol=1e-9)
        self.assertGreater(float(delta_e00(after[1].lab, predict(hair, pink).lab)), 0.5)
        self.assertLess(after[2].lab[0], after[1].lab[0])

    def test_what_no_later_lift_took_off_is_what_is_laid_on(self) -> None:
        coats = [
            coat(Purpose.COLOUR, bowl=PINK),
            coat(Purpose.LIFT, to_level=9.5),
            coat(Purpose.PRE_TONE, bowl=TONER),
            coat(Purpose.SEAL),
            coat(Purpose.COLOUR, bowl=PINK),
        ]
        hair, laid = laid_on(NINE, coats)
        self.assertEqual((hair.level, hair.old), (9.5, ()))
        self.assertEqual([each for each, _ in laid], [TONER, PINK])


class WhileItWorks(TestCase):
    def test_wet_and_working_hair_looks_deeper_than_it_will_and_says_so(self) -> None:
        """Common practice, no published source: colour is never judged wet."""
        for mix in (PINK, TONER, bowl(crimson=6, clear=20)):
            after = chain(NINE, [coat(Purpose.COLOUR, bowl=mix, process=Process(minutes=30))])[0]
            looks = {each.moment: each for each in after.processing}
            self.assertEqual(list(looks), [Moment.WORKING, Moment.FULL_TIME, Moment.WET])
            self.assertEqual((looks[Moment.WORKING].minutes, looks[Moment.FULL_TIME].minutes), (5, 30))
            for moment in (Moment.FULL_TIME, Moment.WET):
                self.assertLess(looks[moment].lab[0], after.lab[0])
            self.assertLess(looks[Moment.FULL_TIME].lab[0], looks[Moment.WET].lab[0])
            self.assertIn("wet", looks[Moment.WET].words)
            self.assertTrue(all(each.words.endswith(".") for each in after.processing))

    def test_what_is_off_in_minutes_has_no_first_look_and_what_has_no_colour_none(self) -> None:
        quick = chain(NINE, [coat(Purpose.GLAZE, bowl=TONER, process=Process(minutes=4))])[0]
        self.assertEqual([each.moment for each in quick.processing], [Moment.FULL_TIME, Moment.WET])
        self.assertEqual(chain(NINE, [coat(Purpose.GLAZE, bowl=bowl(clear=30))])[0].processing, ())
        self.assertEqual(chain(NINE, [coat(Purpose.SEAL)])[0].processing, ())
