"""A forecast laid on a photo: against photos of the same head with the dye on, rendered wave by wave.

The judge of colours is CIEDE2000 (CIE 142-2001) over sRGB (IEC 61966-2-1), both by colour-science.
"""

import unittest
import warnings
from typing import ClassVar

import numpy as np

from engine.bowl.mix import Bowl
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput
from engine.hair.canvas import Canvas
from engine.portrait.matte import NoHair, Stroke, hair_in
from engine.portrait.recolour import Pixels, lit, portrait, recoloured, strays
from engine.portrait.zones import shares_of, unpainted
from engine.service.parting import Place, parted
from tests.engine.made_portrait import CORNER, absorption_of, lab_of_hair, photographed, scene

with warnings.catch_warnings():
    warnings.simplefilter("ignore")  # of what it would like to have installed beside it
    import colour

SHELF = demo_shelf()
OVER_HAIR = (
    Stroke(points=((0.33, 0.55), (0.36, 0.2), (0.5, 0.14), (0.64, 0.2), (0.67, 0.55))),
    Stroke(points=((0.33, 0.5), (0.33, 0.8))),
    Stroke(points=((0.67, 0.5), (0.67, 0.8))),
)
OVER_OTHER = (Stroke(points=((0.5, 0.32), (0.5, 0.6))), Stroke(points=((0.1, 0.4), (0.1, 0.7))))
# Hair as it was and as it is after, each inside what a screen shows: dyed, darker, lighter, and out of colour.
CHANGES = {
    "pink": (Canvas(level=9.5), Canvas(level=9.5), {"magenta": 2, "clear": 58}),
    "lilac": (Canvas(level=10.5), Canvas(level=10.5), {"violet": 1, "clear": 80}),
    "copper": (Canvas(level=6), Canvas(level=6), {"copper": 20}),
    "black": (Canvas(level=7), Canvas(level=7), {"black": 20}),
    "two levels deeper": (Canvas(level=5), Canvas(level=3), None),
    "lifted": (Canvas(level=4), Canvas(level=9), None),
    "lifted and dyed": (Canvas(level=6), Canvas(level=10), {"magenta": 3, "clear": 58}),
}


def bowl(grams: dict[str, float] | None) -> Bowl | None:
    return Bowl(grams={SHELF[name]: float(each) for name, each in grams.items()}) if grams else None


def off(seen: Pixels, truth: Pixels) -> np.ndarray:
    """Delta E00 (pixels,) of encoded sRGB bytes (pixels, 3)."""
    one, other = (colour.XYZ_to_Lab(colour.sRGB_to_XYZ(each / 255)) for each in (seen, truth))
    return np.asarray(colour.delta_E(one, other, method="CIE 2000"))


def all_hair(made_hair: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    return made_hair.astype(np.float32), np.ones((1, int(made_hair.sum())), dtype=np.float32)


class Recoloured(unittest.TestCase):
    def changed(self, name: str, tint: tuple[float, ...] = (1.0, 1.0, 1.0), *, by_paper: bool = True) -> np.ndarray:
        """How far each pixel of hair lies from the photo of the head as it truly is afterwards."""
        was, becomes, grams = CHANGES[name]
        before, after = absorption_of(was), absorption_of(becomes, bowl(grams))
        made = scene(tint=tint)
        photo, truth = photographed(made, before), photographed(made, after)
        rows, columns = (slice(int(each * CORNER.start) + 3, int(each * CORNER.stop) - 3) for each in made.hair.shape)
        paper = photo[rows, columns].reshape(-1, 3) if by_paper else None
        seen = recoloured(portrait(photo, *all_hair(made.hair), paper), [lab_of_hair(before)], [lab_of_hair(after)])
        return off(seen[made.hair], truth[made.hair])

    def test_hair_comes_within_three_of_what_it_truly_looks_like(self) -> None:
        for name in CHANGES:
            for by_paper in (True, False):
                with self.subTest(change=name, paper=by_paper):
                    self.assertLess(float(self.changed(name, by_paper=by_paper).mean()), 3.0)

    def test_in_warm_light_too_which_stays_warm(self) -> None:
        for by_paper in (True, False):
            with self.subTest(paper=by_paper):
                self.assertLess(float(self.changed("pink", (1.0, 0.86, 0.66), by_paper=by_paper).mean()), 3.0)

    def test_what_is_no_hair_stays_byte_by_byte(self) -> None:
        """From three pixels beyond the hair on, as it was found from strokes."""
        made = scene()
        photo = photographed(made, absorption_of(Canvas(level=8)))
        cover = hair_in(photo, OVER_HAIR, OVER_OTHER)
        shares = np.ones((1, int((cover > 0).sum())), dtype=np.float32)
        seen = recoloured(portrait(photo, cover, shares), [np.array([65, 6, 38])], [np.array([30, 40, -30])])
        sure = cover > 0.5
        near = np.zeros_like(sure)
        for down in range(-3, 4):
            for right in range(-3, 4):
                near |= np.roll(sure, (down, right), axis=(0, 1))
        np.testing.assert_array_equal(seen[~near], photo[~near])
        self.assertGreater((seen[sure] != photo[sure]).any(axis=-1).mean(), 0.99)

    def test_light_and_strands_of_the_photo_stay(self) -> None:
        made = scene()
        photo = photographed(made, absorption_of(Canvas(level=9)))
        seen = recoloured(portrait(photo, *all_hair(made.hair)), [np.array([73, 2, 30])], [np.array([45, 40, 10])])
        was, now = (each[made.hair].astype(float).mean(axis=-1) for each in (photo, seen))
        self.assertGreater(float(np.corrcoef(was, now)[0, 1]), 0.95)

    def test_how_much_light_falls_is_told(self) -> None:
        made = scene()
        photo = photographed(made, absorption_of(Canvas(level=9)))
        self.assertAlmostEqual(lit(portrait(photo, *all_hair(made.hair)), [np.array([73.0, 2, 30])])[0], 0.9, delta=0.1)
        self.assertLess(float(strays(portrait(photo, *all_hair(made.hair)), [np.array([73.0, 2, 30])])[0]), 6)
        self.assertGreater(float(strays(portrait(photo, *all_hair(made.hair)), [np.array([40.0, 50, 0])])[0]), 20)
        with self.assertRaises(BadInput):
            recoloured(portrait(photo, *all_hair(made.hair)), [], [])


class Found(unittest.TestCase):
    photo: ClassVar[Pixels] = photographed(scene(), absorption_of(Canvas(level=8)))

    def refused(self, code: str, photo: Pixels, hair: tuple[Stroke, ...], other: tuple[Stroke, ...] = ()) -> None:
        with self.assertRaises(NoHair) as told:
            hair_in(photo, hair, other)
        self.assertEqual(told.exception.code, code)

    def test_hair_is_found_from_a_few_strokes(self) -> None:
        found, truth = hair_in(self.photo, OVER_HAIR, OVER_OTHER) > 0.5, scene().hair
        self.assertGreater((found & truth).sum() / (found | truth).sum(), 0.95)

    def test_it_is_found_the_same_each_time(self) -> None:
        np.testing.assert_array_equal(hair_in(self.photo, OVER_HAIR, ()), hair_in(self.photo, OVER_HAIR, ()))

    def test_a_stroke_over_what_is_none_takes_it_away(self) -> None:
        left = (Stroke(points=tuple((0.33 + 0.02 * at, y) for at in (-1, 0, 1) for y in (0.5, 0.8))),)
        without = hair_in(self.photo, OVER_HAIR[:1], left)
        self.assertLess(without[150, 99], 0.5)

    def test_what_can_not_be_told_is_refused_by_name(self) -> None:
        grey = np.repeat(self.photo.mean(axis=-1, keepdims=True), 3, axis=-1).astype(np.uint8)
        self.refused("black_and_white", grey, OVER_HAIR)
        self.refused("strokes_outside", self.photo, (Stroke(points=((0.5, 1.2),)),))
        self.refused("strokes_outside", self.photo, (Stroke(points=()),))
        self.refused("strokes_none", self.photo, ())
        self.refused("no_hair", self.photo, OVER_HAIR, OVER_HAIR)
        self.refused("no_hair", self.photo, (Stroke(points=((0.07, 0.08), (0.071, 0.08))),))
        self.refused("strokes_too_many", self.photo, OVER_HAIR * 30)

    def test_two_heads_are_told_from_two_sides_of_one(self) -> None:
        two = photographed(scene(heads=2), absorption_of(Canvas(level=8)))
        strokes = tuple(Stroke(points=((x - 0.11, 0.3), (x, 0.13), (x + 0.11, 0.3))) for x in (0.22, 0.78))
        self.refused("two_heads", two, strokes)
        self.assertGreater(hair_in(two, strokes[:1], ()).sum(), 1000)


class Zoned(unittest.TestCase):
    def shares(self, *places: Place, **how: object) -> dict[str, np.ndarray]:
        """Each zone as a picture (rows, columns), nothing where there is no hair."""
        made = scene()
        photo = photographed(made, absorption_of(Canvas(level=8)))
        cover = made.hair.astype(np.float32)
        lies = parted(places, length_cm=40)
        found = shares_of(photo, cover, places, lies, blends=[0.0] * len(places), strokes={}, **how)  # type: ignore[arg-type]
        pictures = np.zeros((len(places), *cover.shape))
        pictures[:, made.hair] = found
        return {place.name: picture for place, picture in zip(places, pictures, strict=True)}

    def test_stretches_run_from_the_crown_to_the_tips(self) -> None:
        found = self.shares(Place(name="roots", part="roots"), Place(name="ends", part="ends"))
        self.assertGreater(found["roots"][scene().hair.any(axis=1).argmax() + 4, 150], 0.9)
        self.assertGreater(found["ends"][195, 100], 0.9)

    def test_her_left_is_on_the_right_unless_she_turns_her_back(self) -> None:
        left, right = Place(name="left", part="left"), Place(name="right", part="right")
        self.assertGreater(self.shares(left, right)["left"][120, 200], 0.9)
        self.assertGreater(self.shares(left, right, from_behind=True)["right"][120, 200], 0.9)

    def test_what_is_painted_is_of_its_zone(self) -> None:
        made = scene()
        places = [Place(name="whole"), Place(name="panel", part="panel")]
        self.assertEqual(unpainted(places, {}), (1,))
        strokes = {1: (Stroke(points=((0.33, 0.4), (0.33, 0.8))),)}
        self.assertEqual(unpainted(places, strokes), ())
        photo, cover = photographed(made, absorption_of(Canvas(level=8))), made.hair.astype(np.float32)
        found = np.zeros((2, *cover.shape))
        found[:, made.hair] = shares_of(
            photo, cover, places, parted(places, length_cm=40), blends=[0.0, 0.0], strokes=strokes
        )
        self.assertGreater(found[1][150, 99], 0.95)
        self.assertLess(found[1][150, 205], 0.05)
        np.testing.assert_allclose(found.sum(axis=0)[made.hair], 1.0, atol=1e-5)
