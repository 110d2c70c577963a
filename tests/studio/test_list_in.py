"""A list of tubes as it is typed or pasted."""

from decimal import Decimal
from unittest import TestCase

from studio.shelf.list_in import ROWS_MOST, read_letters, read_list

LETTERS = {"1": "ash", "3": "gold", "4": "copper", "44": "copper", "6": "violet"}


class Lists(TestCase):
    def read(self, text: str, *, is_oxidative: bool = False, **more: object):
        return read_list(text, letters=LETTERS, is_oxidative=is_oxidative, **more)

    def wrong(self, text: str, **more: object) -> list[str]:
        return [each.words for each in self.read(text, **more).wrong]

    def test_a_name_alone_is_a_tube_and_its_words_are_its_tones(self) -> None:
        found = self.read("Harbour pink\n\nSmoke rose gold\nSea Lark\nRope Clear\nTar conditioner")
        self.assertEqual(found.wrong, ())
        self.assertEqual(
            [(tube.name, tube.tones, tube.thins) for tube in found.tubes],
            [
                ("Harbour pink", ("pink",), None),
                ("Smoke rose gold", ("gold", "rose", "smoke"), None),
                ("Sea Lark", (), None),
                ("Rope Clear", (), Decimal(1)),
                ("Tar conditioner", (), Decimal("1.4")),
            ],
        )

    def test_cells_stand_between_tabs_semicolons_or_commas_and_numbers_as_people_write_them(self) -> None:
        for text in (
            "Sea Pink\tP1\t\tpink, gold\t100 ml\t€ 5,20",
            "Sea Pink;P1;;pink gold;100;5,20",
            'Sea Pink,P1,,"pink, gold",100g,5.20',
            "Sea Pink | P1 | | pink/gold | 100 g | 5.20",
        ):
            with self.subTest(text=text):
                (tube,) = self.read(text).tubes
                self.assertEqual((tube.code, tube.tones), ("P1", ("pink", "gold")))
                self.assertEqual((tube.size_g, tube.price), (Decimal(100), Decimal("5.20")))

    def test_a_row_of_headings_puts_the_columns_in_any_order(self) -> None:
        (tube,) = self.read("price;name;tone\n4;Orla;violet").tubes
        self.assertEqual((tube.name, tube.tones, tube.price), ("Orla", ("violet",), Decimal(4)))
        self.assertIn("no column is called", self.wrong("name;weight\nOrla;3")[0])

    def test_a_code_spells_level_and_tones_by_the_studios_own_letters(self) -> None:
        found = self.read("Dune\t7.43\nSpire\t6-1\nFen\t5/44\nOdd\t9.99", is_oxidative=True)
        self.assertEqual(
            [(tube.level, tube.tones) for tube in found.tubes],
            [
                (Decimal(7), ("copper", "gold")),
                (Decimal(6), ("ash",)),
                (Decimal(5), ("copper",)),
                (Decimal(9), ()),
            ],
        )
        (direct,) = self.read("Dune\t7.43").tubes  # a direct dye has no level, whatever its code looks like
        self.assertIsNone(direct.level)
        (said,) = self.read("Dune\t7.43\t8\t6", is_oxidative=True).tubes  # what is said comes before what is spelt
        self.assertEqual((said.level, said.tones), (Decimal(8), ("violet",)))

    def test_each_wrong_row_is_told_with_its_number_and_the_others_are_read(self) -> None:
        text = (
            "A\tX1\n\tX2\nA\tX3\nB\tx1\nC\t\t\tloud\nD\t\t\t\theavy\nE\t\t\t\t60\t-3\n" + "F" * 41 + "\nG\t" + "1" * 21
        )
        found = self.read(text)
        self.assertEqual([tube.name for tube in found.tubes], ["A"])
        self.assertEqual([each.row for each in found.wrong], [2, 3, 4, 5, 6, 7, 8, 9])
        for each, said in zip(
            found.wrong,
            ("missing", "there already", "there already", "no tone", "no number", "goes from 0", "longer", "longer"),
            strict=True,
        ):
            self.assertIn(said, each.words)
        self.assertIn("goes from 1 to 11", self.wrong("A\t\t14", is_oxidative=True)[0])
        self.assertIn("7 entries", self.wrong("A\tb\t\t\t\t\t9")[0])
        self.assertIn("there already", self.wrong("sea pink", names=["Sea Pink"])[0])

    def test_a_list_that_is_too_long_is_refused_whole(self) -> None:
        found = self.read("\n".join(f"Tube {number}" for number in range(5000)))
        self.assertEqual((len(found.tubes), len(found.wrong), found.wrong[0].row), (0, 1, 0))
        self.assertIn(str(ROWS_MOST), found.wrong[0].words)
        self.assertEqual(len(self.read("\n".join(f"Tube {number}" for number in range(ROWS_MOST))).tubes), ROWS_MOST)

    def test_nothing_that_is_pasted_breaks_the_reading(self) -> None:
        for text in ("", "\n\n", "\0", '"', '"open\nAnd on', "\t\t\t", "a\r\nb\rc", "\ufeffname\nX", "∞\t\t\t\t∞\tNaN"):
            self.read(text)

    def test_the_table_of_letters_is_read_or_told(self) -> None:
        self.assertEqual(read_letters("1 ash, 3=gold; 44: copper"), {"1": "ash", "3": "gold", "44": "copper"})
        self.assertEqual(read_letters(""), {})
        for wrong in ("1", "1 loud", "ash"):
            with self.assertRaises(ValueError):
                read_letters(wrong)
