"""A head is drawn from four sides, strand by strand, in its zones' colours."""

import re
from unittest import TestCase

import numpy as np

from studio.visits.head import HeadColours, HeadView, head_views
from studio.visits.models import Consult, Visit, Zone

PINK, BLUE = (60.0, 50.0, 0.0), (40.0, -8.0, -35.0)


def drawn(*parts: tuple[str, str], **consult: object) -> dict[str, HeadView]:
    """The views by name of zones (part, pattern), pink and blue in turns, of hair as a consult tells it."""
    visit = Visit()
    visit.consult = Consult(**consult)
    zones = [
        Zone(pk=at, name=f"{part} {at}", part=part, pattern=pattern, visit=visit)
        for at, (part, pattern) in enumerate(parts, start=1)
    ]
    labs = {zone.pk: np.array(BLUE if zone.pk % 2 == 0 else PINK) for zone in zones}
    colours = HeadColours(zones=labs, between={})
    return {str(view.name): view for view in head_views(zones, zones[0], colours)}


def is_blue(code: str) -> bool:
    red, _, blue = (int(code[at : at + 2], 16) for at in (1, 3, 5))
    return blue > red


def lowest(view: HeadView) -> float:
    """How far down its strands reach, in the picture's units."""
    found = 0.0
    for strokes in view.strokes:
        for start, steps in re.findall(r"M-?\d+ (-?\d+)l([-\d ]+)", strokes.d):
            numbers = [int(number) for number in steps.split()]
            found = max(found, (int(start) + sum(numbers[1::2])) / 10)
    return found


class DrawnHeads(TestCase):
    def test_left_is_on_the_right_from_the_front_and_on_the_left_from_behind(self) -> None:
        views = drawn(("left", "all"), ("right", "all"))
        for name, side in (("left side", False), ("right side", True)):
            self.assertEqual({is_blue(each.hex) for each in views[name].strokes}, {side})
        for name, blue_is_left in (("front", True), ("back", False)):
            with self.subTest(view=name):
                for each in views[name].strokes:
                    starts = [int(x) / 10 for x in re.findall(r"M(-?\d+) ", each.d)]
                    self.assertEqual(is_blue(each.hex) is blue_is_left, sum(starts) / len(starts) < 50)

    def test_hair_is_as_long_as_it_was_measured_and_never_leaves_the_picture(self) -> None:
        reaches = [lowest(drawn(("whole", "all"), length_cm=cm)["front"]) for cm in (10, 25, 45, 65, 150)]
        self.assertEqual(reaches, sorted(reaches))
        self.assertGreater(reaches[2] - reaches[1], 15)
        self.assertLessEqual(reaches[-1], 118)

    def test_a_nape_is_seen_from_behind_however_long_the_hair(self) -> None:
        for length in Consult.Length.values:
            with self.subTest(length=length):
                view = drawn(("whole", "all"), ("nape", "all"), length=length)["back"]
                self.assertTrue(any(is_blue(each.hex) for each in view.strokes))

    def test_hair_that_nobody_has_read_is_paper_white(self) -> None:
        visit = Visit()
        visit.consult = Consult()
        zone = Zone(pk=1, name="whole head", visit=visit)
        for view in head_views([zone], zone, HeadColours(zones={}, between={})):
            for strokes in view.strokes:
                levels = [int(strokes.hex[at : at + 2], 16) for at in (1, 3, 5)]
                self.assertLessEqual(max(levels) - min(levels), 6)
                self.assertGreater(min(levels), 120)

    def test_a_part_leads_to_its_zone_or_to_adding_it(self) -> None:
        front = drawn(("whole", "all"), ("frame", "all"))["front"]
        leads = {region.words: region.href for region in front.regions}
        self.assertEqual(leads["frame 2"], "?zone=2")
        self.assertEqual(leads["add crown"], "?zone=1&part=crown#add-zone")

    def test_beside_a_crown_the_rest_of_the_head_is_seen_from_every_side(self) -> None:
        for name, view in drawn(("whole", "all"), ("crown", "all"), length="long").items():
            with self.subTest(view=name):
                self.assertEqual({is_blue(each.hex) for each in view.strokes}, {True, False})
