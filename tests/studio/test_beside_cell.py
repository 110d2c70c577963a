"""Coats that nothing was mixed for, as a cell of the logbook."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from studio.formats.beside_cell import beside_cell, coats_beside

NUMBERS = st.floats(0.5, 40).map(lambda number: round(number, 1))
COATS = st.fixed_dictionaries(
    {"coat": st.integers(1, 20), "purpose": st.sampled_from(("remove", "equalise", "seal"))},
    optional={
        "product": st.from_regex(r"[A-Za-z][A-Za-z ,.'()-]{0,40}[a-z)]", fullmatch=True),
        "grams": NUMBERS,
        "vol": NUMBERS,
        "minutes": NUMBERS,
    },
)


class BesideCell(TestCase):
    @given(coats=st.lists(COATS, max_size=8))
    def test_what_is_written_is_read_back(self, coats: list[dict[str, object]]) -> None:
        self.assertEqual(coats_beside(beside_cell(coats)), coats)

    def test_a_person_can_read_it(self) -> None:
        coats = [{"coat": 1, "purpose": "remove", "product": "Soapstone", "grams": 20, "minutes": 15.0}]
        self.assertEqual(beside_cell(coats), "1 remove: Soapstone (20 g, 15 min)")

    def test_a_product_with_brackets_or_a_semicolon_comes_back_whole(self) -> None:
        coats = [{"coat": 1, "purpose": "seal", "product": "Quay seal (pH 4)"}, {"coat": 2, "purpose": "seal"}]
        self.assertEqual(coats_beside(beside_cell(coats)), coats)
        (split,) = coats_beside(beside_cell([{"coat": 1, "purpose": "seal", "product": "Quay; seal"}]))
        self.assertEqual(split["product"], "Quay, seal")

    def test_what_is_no_coat_is_told(self) -> None:
        for cell, said in (
            ("twice remove", "a coat is expected"),
            ("1 colour: Orchil", "a coat is expected"),
            ("99 seal", "1 to 20"),
            ("1 seal (many g)", "a number of g"),
            ("1 seal (3 cups)", "a number of g"),
            ("1 seal (0 g)", "more than 0"),
            (f"1 seal: {'x' * 70}", "longer than"),
            ("; ".join(["1 seal"] * 9), "8 at most"),
        ):
            with self.subTest(cell=cell), self.assertRaisesRegex(ValueError, said):
                coats_beside(cell)
