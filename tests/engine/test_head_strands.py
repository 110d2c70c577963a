"""Which zone has which strand, place by place. How patterns lie is common practice, no published source."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from engine.arrays import FloatArray
from engine.service.parting import AREAS, LENGTHWISE, STRANDS, Place, parted
from engine.service.strands import Strands, zone_shares

CM = 40.0
MANY = 400
ALONG = np.linspace(0.0, CM, 21)
PLACES = st.lists(
    st.builds(
        Place, name=st.just("zone"), part=st.sampled_from([*LENGTHWISE, *AREAS]), pattern=st.sampled_from([*STRANDS])
    ),
    min_size=1,
    max_size=6,
).filter(lambda places: len([each for each in places if each.part == "roots"]) < 2)


def head() -> Strands:
    """Strands over the whole width of a head, every fourth on top of all; the left ones on the left half."""
    across = np.linspace(20.0, 80.0, MANY)
    return Strands(
        across=across,
        layer=np.tile([0.1, 0.4, 0.6, 0.9], MANY // 4),
        along_cm=np.tile(ALONG, (MANY, 1)),
        roots={"left": (across < 50).astype(float), "right": (across >= 50).astype(float)},
    )


def shares(*places: Place, blends: float = 0.0) -> FloatArray:
    """(zones, strands, places)"""
    return zone_shares(places, parted(places, length_cm=CM), [blends] * len(places), head())


class WhichZone(unittest.TestCase):
    @given(PLACES, st.floats(0.0, 0.5))
    def test_no_hair_is_in_two_zones(self, places: list[Place], blend: float) -> None:
        found = zone_shares(places, parted(places, length_cm=CM), [blend] * len(places), head())
        self.assertGreaterEqual(found.min(), 0.0)
        self.assertLessEqual(found.sum(axis=0).max(), 1.0 + 1e-9)

    def test_stretches_of_the_length_follow_one_another(self) -> None:
        roots, mids, ends = shares(*(Place(name=part, part=part) for part in ("roots", "mids", "ends")))[:, 0]
        np.testing.assert_array_equal(np.flatnonzero(roots > 0.5), np.flatnonzero(ALONG < 3))
        np.testing.assert_array_equal(np.flatnonzero(mids > 0.5), np.flatnonzero((ALONG > 3) & (ALONG < 21.5)))
        np.testing.assert_array_equal(np.flatnonzero(ends > 0.5), np.flatnonzero(ALONG > 21.5))

    def test_across_a_seam_one_gives_way_to_the_other(self) -> None:
        hard = shares(Place(name="a", part="roots"), Place(name="b", part="ends"))[:, 0]
        soft = shares(Place(name="a", part="roots"), Place(name="b", part="ends"), blends=0.3)[:, 0]
        np.testing.assert_allclose(soft.sum(axis=0), 1.0)
        self.assertEqual(set(hard.ravel().tolist()), {0.0, 1.0})
        self.assertTrue((np.diff(soft[0]) <= 0).all())
        self.assertGreater(((soft[0] > 0) & (soft[0] < 1)).sum(), 3)

    def test_a_pattern_takes_about_its_share_and_what_is_left_stays_with_the_rest(self) -> None:
        for pattern, share in STRANDS.items():
            if pattern in ("all", "veil"):
                continue
            with self.subTest(pattern=pattern):
                woven, rest = shares(Place(name="woven", pattern=pattern), Place(name="rest"))[:, :, 5]
                self.assertAlmostEqual(float(woven.mean()), share, delta=0.12)
                np.testing.assert_allclose(woven + rest, 1.0)

    def test_two_alternate_panels_share_the_strands_between_them(self) -> None:
        one, other = shares(Place(name="a", pattern="alternate_a"), Place(name="b", pattern="alternate_b"))[:, :, 5]
        np.testing.assert_allclose(one + other, 1.0)

    def test_a_half_has_its_own_side_and_no_more(self) -> None:
        left, right = shares(Place(name="left", part="left"), Place(name="right", part="right"))[:, :, 5]
        np.testing.assert_array_equal(left > 0.5, head().across < 50)
        np.testing.assert_allclose(left + right, 1.0)

    def test_a_veil_lies_on_top_closed_at_the_crown_and_open_below(self) -> None:
        veil, beneath = shares(Place(name="veil", pattern="veil"), Place(name="beneath"))
        on_top = head().layer < 0.25
        self.assertTrue((veil[on_top][:, 2] == 1).all())
        self.assertTrue((veil[~on_top] == 0).all())
        self.assertTrue(0.4 < veil[on_top][:, -1].mean() < 0.9)
        np.testing.assert_allclose(veil + beneath, 1.0)

    def test_what_no_zone_has_is_left_over(self) -> None:
        self.assertAlmostEqual(float(shares(Place(name="only", pattern="slices"))[0, :, 5].mean()), 0.5, delta=0.05)
