"""Shelves of more sets than can be fitted: nearly as near as if all were, and never worse for a tube more."""

from itertools import pairwise
from random import Random
from unittest import TestCase
from unittest.mock import patch

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.goal import Goal, ZoneAim, goal_of
from engine.bowl.grow import every_set, with_one_more, with_one_other
from engine.bowl.match import match
from engine.bowl.mix import FULL_TIME_DRY, Bowl
from engine.bowl.predict import predict
from engine.bowl.solve import fit_sets
from engine.bowl.weigh import Scale
from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.lights import Light
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas

KEPT = 16
AS_NEAR = 0.05  # delta E00


def random_shelf(rng: Random, count: int) -> list[Shade]:
    """Shades of one to three bands, as dyes have them."""
    return [
        Shade(
            name=f"shade {index}",
            strength=rng.uniform(1, 12),
            bands=tuple(
                Band(centre_nm=rng.uniform(400, 680), sigma_nm=rng.uniform(20, 60), weight=rng.uniform(0.1, 1))
                for _ in range(rng.randint(1, 3))
            ),
        )
        for index in range(count)
    ]


def random_head(rng: Random) -> tuple[Canvas, FloatArray]:
    canvas = Canvas(level=rng.uniform(6, 11), warmth=rng.uniform(-1, 1), grey=rng.choice([0.0, 0.0, 0.4]))
    return canvas, lab_from_lch(np.array([rng.uniform(20, 85), rng.uniform(0, 60), rng.uniform(0, 360)]))


def goal_for(canvas: Canvas, target: FloatArray, shelf: list[Shade]) -> Goal:
    return goal_of([ZoneAim(canvas=canvas, target_lab=target)], shelf, FULL_TIME_DRY, Light.DAYLIGHT)


def nearest(goal: Goal, largest: int) -> float:
    return min(float(goal.difference(fit.fractions, fit.sets).min()) for fit in fit_sets(goal, largest, KEPT))


class LargeShelves(TestCase):
    def test_sets_that_grow_come_as_near_as_all_of_them(self) -> None:
        for seed in range(12):
            rng = Random(seed)
            goal = goal_for(*random_head(rng), random_shelf(rng, 14))
            every = nearest(goal, 4)
            few = patch.multiple("engine.bowl.solve", SETS_MOST=200, GROWN_MOST=200)
            with few, self.subTest(seed=seed):
                self.assertLessEqual(nearest(goal, 4), every + AS_NEAR)

    def test_pairs_of_which_one_step_promises_most_come_as_near_as_all_of_them(self) -> None:
        for seed in range(12):
            rng = Random(200 + seed)
            goal = goal_for(*random_head(rng), random_shelf(rng, 70))
            with patch("engine.bowl.solve.PAIRS_MOST", 70 * 70):
                every = nearest(goal, 2)
            with patch("engine.bowl.solve.PAIRS_MOST", 200), self.subTest(seed=seed):
                self.assertLessEqual(nearest(goal, 2), every + max(AS_NEAR, every / 100))

    def test_a_tube_or_a_shade_more_never_makes_the_nearest_worse(self) -> None:
        for seed in range(12):
            rng = Random(100 + seed)
            head, shelf = random_head(rng), random_shelf(rng, 30)
            found = [
                nearest(goal_for(*head, shelf[:count]), largest)
                for count, largest in ((10, 2), (20, 2), (20, 3), (30, 3), (30, 4))
            ]
            with self.subTest(seed=seed):
                for less, more in pairwise(found):
                    self.assertLessEqual(more, less + AS_NEAR, found)

    def test_a_shelf_of_192_tries_no_more_than_can_be_waited_for(self) -> None:
        shelf, clear = random_shelf(Random(5), 192), demo_shelf()["clear"]
        hidden = Bowl(grams=dict(zip((*shelf[20::45], clear), (2.0, 0.6, 1.1, 3.0, 70.0), strict=True)))
        aim = predict(Canvas(level=9), hidden).lab
        found = match(Canvas(level=9), [*shelf, clear], aim, scale=Scale(), max_shades=4)
        self.assertLess(found.sets_tried, 20_000)
        self.assertLess(found.nearest_delta_e00, AS_NEAR)
        self.assertLess(found.recipes[0].delta_e00, 1)


class Growing(TestCase):
    def test_with_one_more_is_every_set_that_holds_a_smaller_one(self) -> None:
        pairs = every_set(6, 2)
        grown = with_one_more(pairs, np.array([3, 0]), 6)
        held = [set(pairs[row].tolist()) for row in (3, 0)]
        wanted = {tuple(each) for each in every_set(6, 3).tolist() if any(one < set(each) for one in held)}
        self.assertEqual({tuple(each) for each in grown.sets.tolist()}, wanted)
        self.assertEqual(len(grown.sets), len(wanted))
        for members, origin, column in zip(grown.sets, grown.origin, grown.column, strict=True):
            self.assertEqual(np.delete(members, column).tolist(), pairs[origin].tolist())

    def test_with_one_other_differs_in_one(self) -> None:
        triples = every_set(7, 3)
        grown = with_one_other(triples, np.array([4]), 7)
        self.assertEqual(len(grown.sets), 3 * 4)
        for members, column in zip(grown.sets, grown.column, strict=True):
            self.assertEqual(members.tolist(), sorted(members.tolist()))
            self.assertEqual(len(set(members.tolist()) & set(triples[4].tolist())), 2)
            self.assertNotIn(members[column], triples[4])
