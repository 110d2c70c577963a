"""docs/facts.md tells every fact of the trade, with tests that are there."""

import re
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).resolve().parents[2]
FACTS = [f"F{number}" for number in range(1, 43)]
UNTESTED = {"F40"}  # a matter of hands


class FactsPage(TestCase):
    def setUp(self) -> None:
        lines = (ROOT / "docs" / "facts.md").read_text(encoding="utf-8").splitlines()
        rows = [
            [cell.strip() for cell in line.strip("|").split("|")] for line in lines if re.match(r"\| F\d+ \|", line)
        ]
        self.rows = {row[0]: row for row in rows}

    def test_every_fact_is_told_once_and_cited_facts_are_among_them(self) -> None:
        self.assertEqual(list(self.rows), FACTS)
        cited = set()
        for path in [*(ROOT / "engine").rglob("*.py"), *(ROOT / "tests").rglob("test_*.py")]:
            cited |= set(re.findall(r"(?<![A-Za-z0-9\[+])F\d{1,2}(?![\w-])", path.read_text(encoding="utf-8")))
        self.assertGreater(len(cited), 10)
        self.assertEqual(cited - set(FACTS), set())

    def test_the_tests_that_hold_it_exist_and_those_named_after_a_fact_are_told(self) -> None:
        there = {
            f"{path.name}::{name}"
            for path in (ROOT / "tests" / "engine").glob("test_*.py")
            for name in re.findall(r"def (test_\w+)", path.read_text(encoding="utf-8"))
        }
        for fact, row in self.rows.items():
            told = set(re.findall(r"`(test_\w+\.py::test_\w+)`", row[2]))
            with self.subTest(fact=fact):
                self.assertEqual(told - there, set())
                self.assertEqual(bool(told), fact not in UNTESTED)
                number = fact[1:]
                named = {each for each in there if re.search(rf"_f{number}_", each)}
                self.assertEqual(named - told, set(), "named after it, and not told")
