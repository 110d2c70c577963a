"""How well a shade is known: families, strand tests with their doubt, and which strand to make next."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from engine.bowl.doses import Worked
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.spread import Doubt, spread
from engine.dye.characterise import StrandTest, characterise
from engine.dye.families import anything, families, family
from engine.dye.known import NODES, NODES_NM, Known, ShadeDoubt, doubt_from
from engine.dye.shade import CLEAR, Shade
from engine.dye.shelf import demo_shelf
from engine.errors import OutOfRange, Unknown
from engine.hair.canvas import Canvas
from engine.hair.source import Source
from engine.learning.learn import Record, _strength_sd, learn
from tests.salons.strands import found_out, secret, strands

SHELF = demo_shelf()
NO_OTHER_DOUBT = Doubt(level=0, porosity=0, grams=0, minutes=0)


def wander(shade: Shade, share: float = 0.2) -> float:
    """What is not known of a shade makes of a forecast."""
    bowl = Bowl(grams={shade: 60 * share, SHELF[CLEAR]: 60 * (1 - share)})
    return spread(Canvas(level=10), bowl, doubt=NO_OTHER_DOUBT).within_90


class Families(TestCase):
    def test_a_family_is_its_demo_shade_with_strength_bands_and_a_rest_in_doubt(self) -> None:
        for name in families():
            prior = family(name)
            sd = np.sqrt(np.diag(prior.covariance))
            with self.subTest(family=name):
                self.assertGreater(np.linalg.eigvalsh(prior.covariance).min(), 0)
                self.assertTrue((sd > 0.35).all())
                if name in SHELF:
                    shade = SHELF[name]
                    peak = NODES_NM[prior.mean.argmax()]
                    own = NODES_NM[np.interp(NODES_NM, np.arange(380, 785, 5), shade.spectrum).argmax()]
                    self.assertEqual(peak, own)
        self.assertGreater(np.diag(anything().covariance).min(), np.diag(family("red").covariance).min())
        with self.assertRaises(Unknown):
            family("puce")


class Doubts(TestCase):
    def test_the_largest_directions_are_kept(self) -> None:
        covariance = family("magenta").covariance
        kept = doubt_from(covariance, Known.STRANDS, 6)
        factors = np.array(kept.factors)
        self.assertEqual(factors.shape[-1], NODES)
        self.assertGreater(np.trace(factors.T @ factors), 0.9 * np.trace(covariance))

    def test_what_is_odd_is_refused(self) -> None:
        for factors in (((1.0,),), ((0.0,) * NODES,) * 9, ((99.0,) * NODES,)):
            with self.assertRaises(OutOfRange):
                ShadeDoubt(source=Known.NAMED, count=1, factors=factors)

    def test_a_shade_that_is_known_better_wanders_less(self) -> None:
        magenta = SHELF["magenta"]
        loose = replace(magenta, doubt=doubt_from(family("magenta").covariance, Known.NAMED, 0))
        tight = replace(magenta, doubt=doubt_from(family("magenta").covariance / 25, Known.STRANDS, 6))
        self.assertLess(wander(tight), 0.6 * wander(loose))
        self.assertLess(_strength_sd(tight), _strength_sd(loose) + 1e-9)

    def test_one_result_tells_of_its_strength_and_not_of_the_course_of_its_bands(self) -> None:
        loose = replace(SHELF["magenta"], doubt=doubt_from(family("magenta").covariance, Known.STRANDS, 2))
        bowl = Bowl(grams={loose: 12.0, SHELF[CLEAR]: 48.0})
        worked = Worked(canvas=Canvas(level=10), coats=((bowl, Process()),))
        record = Record(worked=worked, actual_lab=predict(worked.canvas, bowl).lab, read_by=Source.READER)
        knowledge = learn([record]).knowledge
        taught = Bowl(grams={knowledge.taught(shade): grams for shade, grams in bowl.grams.items()})
        after = spread(Canvas(level=10), taught, process=Process(taught=knowledge), doubt=NO_OTHER_DOUBT).within_90
        self.assertTrue(0.5 * wander(loose) < after < wander(loose), (after, wander(loose)))


class Strands(TestCase):
    def test_four_strands_by_an_instrument_forecast_what_was_not_tested(self) -> None:
        """On six secret shades; on thirty in tools/bench_learning.py."""
        misses, inside = [], []
        for seed in range(6):
            found, off, share, _ = found_out(seed, photos=False)
            self.assertTrue(found.settled)
            self.assertEqual(found.shade.doubt.source if found.shade.doubt else None, Known.INSTRUMENT)
            misses.append(off)
            inside.append(share)
        self.assertLess(float(np.quantile(np.concatenate(misses), 0.9)), 1.0)
        self.assertGreater(float(np.mean(inside)), 0.85)

    def test_six_strands_off_photos_do_though_photos_lie(self) -> None:
        found = [found_out(seed, photos=True) for seed in range(6)]
        self.assertLess(float(np.quantile(np.concatenate([each[1] for each in found]), 0.9)), 2.0)
        self.assertTrue(all(each[0].settled for each in found))

    def test_without_a_family_the_likeliest_is_taken(self) -> None:
        luck = np.random.default_rng(4)
        of = secret(luck)
        given, taken = strands(of, luck, photos=False), []
        for start in (family(of.family), None):
            taken.append(characterise("new", given, start=start).shade)
        grams = [Bowl(grams={shade: 10, SHELF[CLEAR]: 50}) for shade in taken]
        one, other = (spread(Canvas(level=10), each).lab for each in grams)
        np.testing.assert_allclose(one, other, atol=1.5)

    def test_more_strands_leave_less_doubt_and_the_next_is_one_that_was_not_made(self) -> None:
        luck = np.random.default_rng(2)
        of = secret(luck)
        given = strands(of, luck, photos=False)
        few, all_of = (characterise("new", given[:count], start=family(of.family)) for count in (2, 4))
        self.assertLess(all_of.next_strand.doubt, few.next_strand.doubt)
        for found in (few, all_of):
            self.assertLess(found.next_strand.doubt_after, found.next_strand.doubt)
        made = {(test.canvas.level, test.share) for test in given[:2]}
        self.assertNotIn((few.next_strand.level, few.next_strand.share), made)

    def test_a_reading_that_is_less_sure_counts_less(self) -> None:
        luck = np.random.default_rng(6)
        of = secret(luck)
        given = strands(of, luck, photos=False)
        wrong = replace(given[1], lab=given[1].lab + np.array([9.0, 0, 0]))
        off = []
        for doubt in (0.7, 15.0):
            tests: list[StrandTest] = [given[0], replace(wrong, doubt=doubt), *given[2:]]
            off.append(float(characterise("new", tests, start=family(of.family)).misses[1]))
        self.assertLess(off[0], off[1])
