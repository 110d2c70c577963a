"""The tools run, and what they write is what the repository holds."""

import contextlib
import importlib.util
import io
import re
import tempfile
import types
from pathlib import Path
from unittest.mock import patch

from django.test import SimpleTestCase, TestCase

from studio.demo.load import load_demo

TOOLS = Path(__file__).resolve().parents[2] / "tools"


def tool(name: str) -> types.ModuleType:
    """A tool as a module, not run."""
    spec = importlib.util.spec_from_file_location(name, TOOLS / f"{name}.py")
    if spec is None or spec.loader is None:
        raise ImportError(name)
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def said(run: object) -> str:
    """What a run prints."""
    told = io.StringIO()
    with contextlib.redirect_stdout(told):
        run()
    return told.getvalue()


class Tools(SimpleTestCase):
    def test_every_tool_says_how_it_is_run_and_loads(self) -> None:
        names = sorted(path.stem for path in TOOLS.glob("*.py"))
        self.assertGreater(len(names), 6)
        for name in names:
            with self.subTest(tool=name):
                self.assertIn(f"tools/{name}", tool(name).__doc__)

    def test_the_strands_that_are_shipped_are_the_ones_that_are_drawn(self) -> None:
        strands = tool("make_strands")
        kept = (strands.TEMPLATES / "_strands.html").read_text(encoding="utf-8")
        self.assertEqual(re.findall(r'\bd="[^"]*"', kept), re.findall(r'\bd="[^"]*"', strands.written()))

    def test_the_tables_that_are_shipped_are_the_published_ones(self) -> None:
        tables = tool("make_tables")
        with tempfile.TemporaryDirectory() as folder, patch.object(tables, "TABLES", Path(folder)):
            for name in ("observer", "lights"):
                (Path(folder) / name).mkdir()
            tables.make_colorimetry()
            for name in ("observer", "lights"):
                made = (Path(folder) / name / "table.csv").read_bytes()
                self.assertEqual(made, (TOOLS.parent / "engine" / "tables" / name / "table.csv").read_bytes())

    def test_the_models_plots_are_drawn(self) -> None:
        plots = tool("plot_model")
        with tempfile.TemporaryDirectory() as folder, patch.object(plots, "FOLDER", Path(folder)):
            for draw in (plots.ladder, plots.dilution, plots.fading):
                said(draw)
            drawn = {path.name for path in Path(folder).iterdir()}
        self.assertEqual(drawn, {"ladder.svg", "dilution.svg", "fade.svg"})

    def test_the_engines_budgets_are_measured(self) -> None:
        bench = tool("bench_engine")
        with (
            patch.object(bench, "SAMPLED_SETS", 1),
            patch.object(bench, "GROWTH", (24,)),
            patch.object(bench, "seconds", lambda work, times: (work(), 0.001)[1]),
        ):
            told = said(bench.main)
        self.assertRegex(told, r"predict, 4 zones +[\d.]+ ms +budget")
        self.assertRegex(told, r"match, up to 4 of 24, on grey hair +[\d.]+ ms +budget")
        self.assertIn("memory of it all", told)


class CardsTool(TestCase):
    def test_the_search_is_measured(self) -> None:
        load_demo("salt and rope")
        cards = tool("measure_cards")
        with patch.object(cards, "CARDS", 40):
            told = said(cards.main)
        self.assertIn("words that nobody has", told)
        self.assertRegex(told, r"the logbook as CSV: \d+ lines")


class ArchiveTool(TestCase):
    def test_an_archive_is_measured_out_and_in(self) -> None:
        load_demo("salt and rope")
        archive = tool("measure_archive")
        with patch.object(archive, "CARDS", 20), patch.object(archive, "PIECE", 10):
            told = said(archive.main)
        self.assertRegex(told, r"written: [\d.]+ s, [\d.]+ of 60; [\d.]+ MB, \d+ bytes a row")
        self.assertRegex(told, r"brought: [\d.]+ s, [\d.]+ of 90; \d+ rows")
