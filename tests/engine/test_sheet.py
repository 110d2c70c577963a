"""Strands on white paper, found and read in one photo that is made (`tests.engine.made_sheet`)."""

from unittest import TestCase

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.photo import PhotoUnusable
from engine.colorimetry.sheet import Sheet, read_sheet
from tests.engine.made_sheet import SIX, SIZE, photo_of_strands


def read(photo: FloatArray, count: int = 6) -> Sheet:
    return read_sheet(photo, count)


class Sheets(TestCase):
    def assert_read(self, photo: FloatArray, labs: list[FloatArray], most: float) -> None:
        found = read(photo, len(labs))
        off = [float(delta_e00(true, each.colour.lab)) for true, each in zip(labs, found.strands, strict=True)]
        self.assertLess(max(off), most, off)

    def test_six_strands_are_read_in_their_order_in_light_that_falls_off(self) -> None:
        self.assert_read(photo_of_strands(SIX), SIX, 1.0)
        self.assert_read(photo_of_strands(SIX[::-1], fall=0.35), SIX[::-1], 1.5)

    def test_lamps_and_windows_are_taken_off_by_the_paper(self) -> None:
        for light in ((1.0, 0.85, 0.65), (0.75, 0.85, 1.0), (0.6, 0.6, 0.6)):
            with self.subTest(light=light):
                self.assert_read(photo_of_strands(SIX, light=light), SIX, 2.5)

    def test_strands_that_lie_below_one_another_are_read_from_top_to_bottom(self) -> None:
        self.assert_read(photo_of_strands(SIX[:4], below=True), SIX[:4], 1.0)

    def test_the_places_lie_on_the_strands_and_the_paper_between_them(self) -> None:
        photo = photo_of_strands(SIX)
        found = read(photo)
        self.assertEqual([each.x for each in found.strands], sorted(each.x for each in found.strands))
        self.assertGreater(photo[found.paper_y, found.paper_x].min(), 0.8)

    def refused(self, code: str, field: str, photo: FloatArray, count: int = 6) -> None:
        with self.assertRaises(PhotoUnusable) as caught:
            read(photo, count)
        self.assertEqual((caught.exception.code, caught.exception.field), (code, field))

    def test_more_or_fewer_strands_than_were_planned_are_said(self) -> None:
        self.refused("few_strands", "6", photo_of_strands(SIX), 7)
        self.refused("many_strands", "6", photo_of_strands(SIX), 5)

    def test_a_strand_in_shadow_is_named(self) -> None:
        shade = photo_of_strands(SIX[:4], fall=0.0, shadow=(slice(0, 320), slice(390, 520)))
        with self.assertRaises(PhotoUnusable) as caught:
            read(shade, 4)
        self.assertIn(caught.exception.code, ("few_strands", "strand_in_shadow"))
        self.refused("strand_in_shadow", "3", photo_of_strands(SIX[:4], fall=0.62), 4)

    def test_no_paper_and_two_papers_are_said(self) -> None:
        self.refused("no_paper", "paper", photo_of_strands(SIX, sheets=()))
        dark = np.full((*SIZE, 3), 0.2)
        self.refused("no_paper", "paper", dark)
        halves = ((slice(20, 300), slice(20, 240)), (slice(20, 300), slice(280, 500)))
        self.refused("two_papers", "paper", photo_of_strands(SIX, sheets=halves))

    def test_what_is_no_photo_of_a_sheet_never_breaks_it(self) -> None:
        luck = np.random.default_rng(5)
        for seen in (np.zeros((40, 40, 3)), np.ones((60, 80, 3)), luck.random((80, 120, 3)), np.full((50, 50, 3), 0.9)):
            with self.assertRaises(PhotoUnusable):
                read(seen, 4)
