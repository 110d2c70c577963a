"""What coats are mixed from and in which order they go on. Common practice, no published source."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from engine.errors import BadInput
from engine.service.purposes import LIGHTENER, MIXED_FROM, PLAIN, Laid, check_order, may_be_mixed, usual_place
from engine.service.schedule.work import Purpose

LAID = st.lists(st.builds(Laid, purpose=st.sampled_from(Purpose), begun=st.just(False)), max_size=8)


def laid(*purposes: Purpose, begun: int = 0) -> list[Laid]:
    return [Laid(purpose=purpose, begun=at < begun) for at, purpose in enumerate(purposes)]


class Purposes(unittest.TestCase):
    def test_each_purpose_is_mixed_or_a_product_as_it_is(self) -> None:
        self.assertEqual(set(MIXED_FROM) | PLAIN, set(Purpose))
        self.assertFalse(set(MIXED_FROM) & PLAIN)

    def test_a_permanent_neither_fills_nor_glazes_and_lightener_only_lifts(self) -> None:
        self.assertTrue(may_be_mixed(Purpose.COLOUR, "permanent"))
        for purpose in (Purpose.FILL, Purpose.GLAZE, Purpose.MASK, Purpose.LIFT, Purpose.SEAL):
            self.assertFalse(may_be_mixed(purpose, "permanent"))
        lifts = {purpose for purpose in Purpose if may_be_mixed(purpose, LIGHTENER)}
        self.assertEqual(lifts, {Purpose.LIFT})

    def test_lift_fill_colour_glaze_go_on_in_that_order(self) -> None:
        coats = laid(Purpose.COLOUR)
        for purpose, at in ((Purpose.LIFT, 0), (Purpose.FILL, 1), (Purpose.GLAZE, 3), (Purpose.PRE_TONE, 2)):
            self.assertEqual(usual_place(purpose, coats), at)
            coats.insert(at, Laid(purpose=purpose))

    def test_nothing_goes_in_front_of_what_is_on(self) -> None:
        self.assertEqual(usual_place(Purpose.LIFT, laid(Purpose.COLOUR, Purpose.GLAZE, begun=1)), 1)

    def test_lightener_after_what_is_still_to_go_on_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            check_order(laid(Purpose.FILL, Purpose.LIFT))
        check_order(laid(Purpose.FILL, Purpose.LIFT, begun=1))  # a second thought
        check_order(laid(Purpose.EQUALISE, Purpose.LIFT, Purpose.COLOUR))

    @given(LAID, st.sampled_from(Purpose))
    def test_the_usual_place_never_makes_an_order_that_can_not_be(self, coats: list[Laid], purpose: Purpose) -> None:
        ordered = sorted(coats, key=lambda coat: list(Purpose).index(coat.purpose))
        ordered.insert(usual_place(purpose, ordered), Laid(purpose=purpose))
        check_order(ordered)
