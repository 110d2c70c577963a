"""What the engine may know: itself, the standard library, numpy and its compiler; nothing that is not on the list."""

import ast
import sys
import unittest
from pathlib import Path

from engine.bowl.loops import machine

ENGINE = Path(__file__).resolve().parents[2] / "engine"
ALLOWED = sys.stdlib_module_names | {"engine", "numpy", "numba"}
# Only what finds things in pictures may ask libraries for pictures.
PICTURES = {
    ENGINE / "colorimetry" / "sheet.py": {"scipy"},
    ENGINE / "portrait" / "matte.py": {"cv2"},
    ENGINE / "portrait" / "zones.py": {"cv2"},
}
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
                self.assertLessEqual(imported(path), ALLOWED - SHUT | PICTURES.get(path, set()))

    def test_compiled_code_is_kept_by_all_that_it_was_compiled_from(self) -> None:
        """Else an edited law would go on as it was compiled before."""
        read = {module.__name__ for module in machine.READ}
        for path in (ENGINE / "bowl" / "loops").glob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("engine."):
                    within = {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
                    with self.subTest(module=path.name, reads=node.module):
                        self.assertTrue(within & read or "engine.bowl.loops" in node.module)
