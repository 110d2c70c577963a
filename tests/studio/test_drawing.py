"""Where things stand in the Bench's drawings, and what a look at it asks for."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from engine.bowl.steer import steer
from engine.colorimetry.lights import Light
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.tress import Stretch
from studio.bench.answers import Limits, limits_of
from studio.bench.plane import CENTRE, coloured, ladder_y, place_of, polygon
from studio.bench.wheel import APART_DEG, Marks, _spread_angles, rim_labs, wheel_of
from studio.head.sight import Sight, sight_of
from studio.shelf.models import Shade
from studio.ui.locks import aim_tress_lock, bare_lock, lock_of_colour, tress_lock

TEN = Canvas(level=10)


class WheelLayout(TestCase):
    @given(st.lists(st.floats(0, 359.9), min_size=1, max_size=20))
    def test_no_two_buttons_come_closer_than_they_may(self, angles: list[float]) -> None:
        placed = np.sort(np.array(_spread_angles(angles)))
        gaps = np.diff(np.append(placed, placed[0] + 360)) if len(placed) > 1 else np.array([360.0])
        self.assertGreater(gaps.min(), APART_DEG - 1)

    @given(st.lists(st.floats(0, 359.9), min_size=2, max_size=20, unique=True))
    def test_buttons_keep_their_order_round_the_wheel(self, angles: list[float]) -> None:
        placed = np.array(_spread_angles(angles))[np.argsort(angles)]
        turns = int((np.diff(np.append(placed, placed[0])) < -1e-9).sum())
        self.assertEqual(turns, 1)  # once round the wheel

    def test_buttons_that_are_far_apart_stay_where_they_pull(self) -> None:
        self.assertEqual(_spread_angles([10.0, 100.0, 200.0]), [10.0, 100.0, 200.0])

    def test_each_button_says_what_its_pour_would_give_and_how_far_off(self) -> None:
        dyes = {name: dye for name, dye in demo_shelf().items() if name in ("red", "blue", "clear")}
        shades = [Shade(pk=index, name=name.title(), keyboard_key=name[0]) for index, name in enumerate(dyes)]
        grams = [1.0, 1.0, 10.0]
        found = steer(TEN, {dyes["red"]: 2.0}, list(dyes.values()), add_g=grams)
        pulls = dict(zip(map(str, range(3)), found.pulls, strict=True))
        none = np.zeros((0, 3))
        marks = Marks(
            now=found.lab,
            start=found.lab,
            aim=np.array([50.0, 20, 5]),
            trail=none,
            fade=None,
            spread=None,
            reach=none,
        )
        wheel = wheel_of(pulls, list(zip(shades, grams, strict=True)), marks)
        self.assertEqual([button.add_g for button in wheel.buttons], grams)
        self.assertIn("10 g of Clear", wheel.buttons[2].words)
        self.assertRegex(wheel.buttons[0].words, r"1 g of Red: .+, \d+\.\d off")
        self.assertEqual(len(wheel.rings), 2)
        self.assertEqual((wheel.trail, wheel.fade, wheel.reach), ("", "", ""))


class Plane(TestCase):
    def test_neutral_stands_in_the_middle_and_what_is_too_strong_on_the_rim(self) -> None:
        middle = place_of(np.array([50.0, 0, 0]))
        self.assertEqual((float(middle.x), float(middle.y)), (CENTRE, CENTRE))
        near, far = (place_of(np.array([50.0, chroma, 0])) for chroma in (200.0, 400.0))
        self.assertEqual(near.x, far.x)

    def test_yellow_is_up_and_deep_is_down(self) -> None:
        self.assertLess(float(place_of(np.array([50.0, 0, 40])).y), CENTRE)
        self.assertLess(float(ladder_y(80)), float(ladder_y(20)))
        self.assertEqual(ladder_y(5), ladder_y(10))

    def test_two_points_make_no_area(self) -> None:
        self.assertEqual(polygon(np.zeros((2, 3))), "")
        self.assertEqual(len(polygon(np.zeros((4, 3))).split()), 4)
        self.assertEqual(coloured(np.zeros((0, 3))), ())

    def test_hues_out_of_reach_are_left_off_the_edge(self) -> None:
        edge = rim_labs(60.0, np.array([5.0, 95.0, 185.0]), np.array([30.0, 0.0, 12.0]))
        self.assertEqual(edge.shape, (2, 3))
        np.testing.assert_allclose(np.hypot(edge[:, 1], edge[:, 2]), [30, 12])


class Looks(TestCase):
    def test_what_a_request_asks_to_see_is_read_kindly(self) -> None:
        self.assertEqual(sight_of({}), Sight())
        asked = sight_of({"light": "A", "washes": "7", "mode": "aim"})
        self.assertEqual((asked.light, asked.washes, asked.mode), (Light.EVENING, 7, "aim"))
        for odd in ({"light": "FL2"}, {"washes": "7.5"}, {"washes": "x"}, {"mode": "sing"}):
            self.assertEqual(sight_of(odd), Sight())
        self.assertEqual(sight_of({"washes": "300"}).washes, 20)

    def test_limits_of_recipes_fall_back_to_the_usual_ones(self) -> None:
        self.assertEqual(limits_of({}), Limits())
        self.assertEqual(limits_of({"max_shades": "9", "step": "7", "stock": "?", "lines": "?"}), Limits())
        tight = limits_of({"max_shades": "2", "step": "1", "stock": "any", "lines": "any", "bowls": "own"})
        self.assertEqual((tight.max_shades, tight.step_g), (2, 1.0))
        self.assertFalse(tight.in_stock or tight.one_line or tight.one_bowl)


class TressLocks(TestCase):
    def stretch(self, level: float) -> Stretch:
        return Stretch(fibres=fibres_of(Canvas(level=level)), added=np.zeros(81), length=1.0, blend=0.2)

    def test_a_tress_of_one_zone_is_the_plain_lock(self) -> None:
        tress, plain = tress_lock([self.stretch(9)]), bare_lock(Canvas(level=9))
        self.assertEqual((tress.hex, tress.words, tress.hexes), (plain.hex, plain.words, plain.hexes))
        self.assertEqual(tress.gradients, plain.gradients)

    def test_a_tress_of_two_zones_runs_from_one_colour_to_the_other(self) -> None:
        tress = tress_lock([self.stretch(5), self.stretch(10)], words_of=1)
        body = tress.gradients[3]
        self.assertEqual(tress.hex, bare_lock(TEN).hex)
        depths = [sum(int(stop.hex[at : at + 2], 16) for at in (1, 3, 5)) for stop in body]
        self.assertLess(depths[0], depths[-1] - 150)
        self.assertGreater(len(body), len(bare_lock(TEN).gradients[3]))

    def test_an_aimed_tress_has_the_aims_and_grey_where_there_is_none(self) -> None:
        pink = (65.0, 30.0, 5.0)
        aimed = aim_tress_lock(((pink, 1.0, 0.1), (None, 1.0, 0.1)))
        self.assertEqual(aimed.hex, lock_of_colour(pink).hex)
        last = aimed.gradients[3][-1].hex
        channels = [int(last[at : at + 2], 16) for at in (1, 3, 5)]
        self.assertLess(max(channels) - min(channels), 6)
