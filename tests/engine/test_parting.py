"""Zones of a head that nobody measured, and how they part it. Common practice, no published source."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from engine.errors import BadInput, OutOfRange, Unknown
from engine.service.amounts import Density
from engine.service.parting import (
    AREAS,
    LENGTHWISE,
    STRANDS,
    Place,
    called,
    came_from,
    in_order,
    parted,
    parted_as,
    touches,
    with_part,
)
from engine.service.stretch import Head, amounts

PLACES = st.lists(
    st.builds(Place, name=st.just("zone"), part=st.sampled_from([*LENGTHWISE, *AREAS]), pattern=st.just("all")),
    min_size=1,
    max_size=6,
).filter(lambda places: len([each for each in places if each.part == "roots"]) < 2)


def along(*parts: str, length_cm: float = 40.0, regrowth_cm: float | None = None) -> list[tuple[float, float]]:
    found = parted([Place(name=part, part=part) for part in parts], length_cm=length_cm, regrowth_cm=regrowth_cm)
    return [(each.from_cm, each.to_cm) for each in found]


class Parting(unittest.TestCase):
    def test_roots_have_the_regrowth_and_the_rest_is_shared(self) -> None:
        self.assertEqual(along("whole"), [(0, 40)])
        self.assertEqual(along("roots", "ends", regrowth_cm=4), [(0, 4), (4, 40)])
        self.assertEqual(along("roots", "mids", "ends", regrowth_cm=4), [(0, 4), (4, 22), (22, 40)])
        self.assertEqual(along("roots", "mids", "mids", "ends", regrowth_cm=4)[3], (28, 40))

    def test_a_root_that_nobody_measured_is_three_centimetres(self) -> None:
        self.assertEqual(along("roots", "ends")[0], (0, 3))
        self.assertEqual(along("roots", "ends", length_cm=2)[1], (1.5, 2))

    def test_a_part_of_the_scalp_is_left_by_the_stretches(self) -> None:
        whole, frame = parted([Place(name="rest"), Place(name="frame", part="frame")], length_cm=30)
        self.assertAlmostEqual(whole.area_share, 0.9)
        self.assertEqual((frame.area_share, frame.from_cm, frame.to_cm), (0.1, 0, 30))

    def test_what_is_woven_out_is_left_by_the_others(self) -> None:
        rest, woven = parted([Place(name="rest"), Place(name="lights", pattern="weave")], length_cm=30)
        self.assertEqual((rest.strand_share, woven.strand_share), (0.6, 0.4))
        first, second = parted(
            [Place(name="a", pattern="alternate_a"), Place(name="b", pattern="alternate_b")], length_cm=30
        )
        self.assertEqual((first.strand_share, second.strand_share), (0.5, 0.5))

    def test_what_was_measured_stands(self) -> None:
        (band,) = parted([Place(name="band", part="mids", from_cm=5, to_cm=12)], length_cm=30)
        self.assertEqual((band.from_cm, band.to_cm), (5, 12))
        (half,) = parted([Place(name="left", area_share=0.5)], length_cm=45)
        grams = amounts(Head(length_cm=45, density=Density.MEDIUM), [half])[0].grams
        self.assertAlmostEqual(grams, 60)  # half of long hair of medium density (HANDBOOK, "Numbers": 120 g)

    def test_a_part_that_is_treated_apart_parts_the_whole_along_its_length(self) -> None:
        self.assertEqual(with_part(["whole"], "roots"), ("roots", "ends"))
        self.assertEqual(with_part(["whole", "nape"], "mids"), ("roots", "mids", "ends", "nape"))
        self.assertEqual(with_part(["roots", "ends"], "whole"), ("whole",))
        self.assertEqual(with_part(["ends", "roots"], "mids"), ("roots", "mids", "ends"))
        self.assertEqual(with_part(["whole"], "frame"), ("whole", "frame"))
        self.assertEqual(with_part(["left", "right", "nape"], "roots"), ("roots", "ends", "nape"))
        self.assertEqual(with_part(["roots", "ends", "left"], "right"), ("left", "right"))
        self.assertEqual(with_part(["whole"], "left"), ("whole", "left"))
        self.assertEqual(parted_as("halves", ["whole", "nape"]), ("nape", "left", "right"))
        self.assertEqual(parted_as("two", ["left", "right", "frame"]), ("roots", "ends", "frame"))
        for wrong in (lambda: with_part(["whole"], "fringe"), lambda: in_order(["x"]), lambda: parted_as("five", [])):
            self.assertRaises(Unknown, wrong)

    def test_hair_of_a_further_part_was_in_the_whole_or_in_the_lengths(self) -> None:
        self.assertEqual(came_from("nape", ["whole"]), "whole")
        self.assertEqual(came_from("mids", ["roots", "ends"]), "ends")
        self.assertEqual(came_from("mids", ["roots", "mids"]), "mids")
        self.assertIsNone(came_from("nape", ["roots", "ends"]))
        self.assertIsNone(came_from("roots", ["ends"]))

    def test_ends_without_mids_are_the_lengths(self) -> None:
        self.assertEqual(called("ends", ["roots", "ends"]), "lengths")
        self.assertIsNone(called("ends", ["roots", "mids", "ends"]))
        self.assertIsNone(called("roots", ["roots", "ends"]))

    def test_halves_share_what_other_parts_of_the_scalp_leave(self) -> None:
        places = [Place(name=part, part=part) for part in ("left", "right", "frame", "crown")]
        left, right, frame, _ = parted(places, length_cm=30)
        self.assertEqual((left.area_share, right.area_share, frame.area_share), (0.35, 0.35, 0.1))

    def test_a_half_runs_through_every_part_but_the_other_half(self) -> None:
        self.assertTrue(touches("left", "nape") and touches("roots", "right") and touches("whole", "left"))
        self.assertFalse(touches("left", "right") or touches("roots", "ends") or touches("crown", "nape"))

    def test_f42_the_lengths_of_long_thick_hair_take_about_a_hundred_grams(self) -> None:
        places = [Place(name="roots", part="roots"), Place(name="lengths", part="ends")]
        head = Head(length_cm=45, density=Density.THICK)
        roots, lengths = amounts(head, parted(places, length_cm=45))
        self.assertAlmostEqual(roots.grams + lengths.grams, head.grams)
        self.assertTrue(90 <= lengths.grams <= 120, lengths.grams)
        self.assertTrue(0.2 <= roots.grams / head.grams <= 0.34)  # a quarter to a third of long hair's head

    @given(places=PLACES, length_cm=st.floats(6, 90), regrowth_cm=st.floats(0.5, 90))
    def test_no_hair_is_held_twice_by_the_lengths_and_parts(
        self, places: list[Place], length_cm: float, regrowth_cm: float
    ) -> None:
        found = parted(places, length_cm=length_cm, regrowth_cm=regrowth_cm)
        areas = sum(each.area_share for each, place in zip(found, places, strict=True) if not place.is_lengthwise)
        if areas <= 1:
            head = Head(length_cm=length_cm, density=Density.MEDIUM)
            needs = amounts(head, [each for each in found if each.area_share and each.strand_share])
            self.assertLessEqual(sum(need.grams for need in needs), head.grams * 1.0001)

    def test_what_can_not_be_is_refused(self) -> None:
        with self.assertRaises(Unknown):
            Place(name="beard", part="beard")
        with self.assertRaises(Unknown):
            Place(name="a", pattern="zigzag")
        with self.assertRaises(BadInput):
            Place(name="a", from_cm=3)
        with self.assertRaises(OutOfRange):
            parted([Place(name="a")], length_cm=500)
        self.assertTrue(all(0 < share <= 1 for share in STRANDS.values()))
