"""Django's test runner, telling how many tests passed and failed."""

from pathlib import Path
from typing import Any
from unittest import TestResult, TestSuite

from django.conf import settings
from django.test import LiveServerTestCase
from django.test.runner import DiscoverRunner, ParallelTestSuite


def _comes(subsuite: TestSuite) -> tuple[bool, int]:
    """What takes long: what drives a browser, or says so of itself; then what has most tests."""
    long = any(isinstance(test, LiveServerTestCase) or getattr(test, "takes_long", False) for test in subsuite)
    return long, subsuite.countTestCases()


class CountingRunner(DiscoverRunner):
    """Writes 'passed failed' to the file that ./test names, which adds its checks to them."""

    def build_suite(self, *args: Any, **kwargs: Any) -> Any:
        """The suite, its longest classes first, so that no process ends alone with one of them."""
        suite = super().build_suite(*args, **kwargs)
        if isinstance(suite, ParallelTestSuite):
            suite.subsuites.sort(key=_comes, reverse=True)
        return suite

    def suite_result(self, suite: Any, result: TestResult, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        if settings.TEST_COUNTS:
            passed = max(result.testsRun - failed - len(result.skipped), 0)
            Path(settings.TEST_COUNTS).write_text(f"{passed} {failed}\n", encoding="utf-8")
        return super().suite_result(suite, result, **kwargs)
