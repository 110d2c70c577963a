"""Amounts by area, stretch and strands. Common practice, no published source."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from engine.errors import BadInput, OutOfRange
from engine.service.amounts import DENSITY, HEAD_G, Density, needed
from engine.service.stretch import LENGTH_CM, Head, Stretch, amounts

DENSITIES = st.sampled_from(Density)


def split(length_cm: float, at_cm: float, **more: float) -> list[Stretch]:
    return [
        Stretch(name="roots", from_cm=0, to_cm=at_cm, **more),
        Stretch(name="lengths", from_cm=at_cm, to_cm=length_cm, **more),
    ]


class Stretches(TestCase):
    def grams(self, length_cm: float, density: Density, at_cm: float) -> list[float]:
        head = Head(length_cm=length_cm, density=density)
        return [each.grams for each in amounts(head, split(length_cm, at_cm))]

    def test_centimetres_and_words_agree(self) -> None:
        for word, length_cm in LENGTH_CM.items():
            for density in Density:
                self.assertAlmostEqual(Head(length_cm=length_cm, density=density).grams, needed(word, density).grams)

    def test_regrowth_of_long_hair_takes_a_quarter_to_a_third_and_of_short_hair_half_and_more(self) -> None:
        for length_cm, at_cm, least, most in ((30, 2, 0.25, 0.34), (45, 3, 0.23, 0.34), (9, 2, 0.5, 0.8)):
            roots, lengths = self.grams(length_cm, Density.MEDIUM, at_cm)
            self.assertTrue(least <= roots / (roots + lengths) <= most, f"{length_cm} cm: {roots:.0f} of {lengths:.0f}")

    def test_a_worked_case_in_which_regrowth_takes_as_much_as_the_lengths(self) -> None:
        roots, lengths = self.grams(14, Density.MEDIUM, 2)
        self.assertAlmostEqual(roots, lengths)

    def test_four_centimetres_of_regrowth_on_long_thick_hair(self) -> None:
        roots, lengths = self.grams(45, Density.THICK, 4)
        self.assertTrue(30 <= roots <= 40 and 95 <= lengths <= 115, f"{roots:.0f} and {lengths:.0f} g")

    @given(st.floats(1.5, 150), st.floats(0.05, 0.95), DENSITIES, st.floats(0.05, 0.95))
    def test_parts_of_a_head_are_the_head(self, length_cm: float, at: float, density: Density, area: float) -> None:
        head = Head(length_cm=length_cm, density=density)
        zones = [
            *split(length_cm, at * length_cm, area_share=area),
            *split(length_cm, at * length_cm, area_share=1 - area, strand_share=0.5),
            *split(length_cm, at * length_cm, area_share=1 - area, strand_share=0.5),
        ]
        self.assertAlmostEqual(sum(each.grams for each in amounts(head, zones)), head.grams, places=6)

    @given(st.floats(1, 149), st.floats(0.1, 40), DENSITIES)
    def test_longer_hair_never_takes_less(self, length_cm: float, more_cm: float, density: Density) -> None:
        longer = min(150.0, length_cm + more_cm)
        self.assertLessEqual(
            Head(length_cm=length_cm, density=density).grams, Head(length_cm=longer, density=density).grams + 1e-9
        )

    def test_a_whole_and_a_part_of_it_are_refused(self) -> None:
        head = Head(length_cm=30, density=Density.MEDIUM)
        whole, part = (Stretch(name=name, from_cm=0, to_cm=to_cm) for name, to_cm in (("whole", 30), ("roots", 2)))
        with self.assertRaisesRegex(BadInput, "hold 200 % of the hair at 0 cm: whole, roots must"):
            amounts(head, [whole, part])
        with self.assertRaisesRegex(BadInput, "the hair is 20 cm long"):
            amounts(Head(length_cm=20, density=Density.MEDIUM), [whole])

    def test_impossible_stretches_are_refused(self) -> None:
        for wrong in ({"to_cm": 2.0, "from_cm": 2.0}, {"to_cm": 5.0, "from_cm": 9.0}):
            with self.assertRaises(BadInput):
                Stretch(name="x", **wrong)
        for wrong in ({"area_share": 1.1}, {"strand_share": -0.1}, {"saturation": 3.0}):
            with self.assertRaises(OutOfRange):
                Stretch(name="x", from_cm=0, to_cm=2, **wrong)
        self.assertEqual(set(DENSITY) | set(HEAD_G), {*Density, *LENGTH_CM})
