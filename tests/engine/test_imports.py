"""What the engine may know: itself, the standard library, and numpy. Nothing else, by a list of what is allowed."""

import ast
import sys
import unittest
from pathlib import Path

ENGINE = Path(__file__).resolve().parents[2] / "engine"
ALLOWED = sys.stdlib_module_names | {"engine", "numpy"}
# Of the standard library, what reaches out of a computation: the engine reads its own tables and nothing else.
SHUT = {"socket", "urllib", "http", "subprocess", "multiprocessing", "threading", "asyncio", "sqlite3", "random"}


def imported(path: Path) -> set[str]:
    """The top names that a module imports, wherever in it."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name.partition(".")[0] for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            found.add("engine" if node.level else (node.module or "").partition(".")[0])
    return found


class Imports(unittest.TestCase):
    def test_the_engine_knows_only_what_is_allowed(self) -> None:
        modules = list(ENGINE.rglob("*.py"))
        self.assertGreater(len(modules), 60)
        for path in modules:
            with self.subTest(module=str(path.relative_to(ENGINE))):
                self.assertLessEqual(imported(path), ALLOWED - SHUT)
