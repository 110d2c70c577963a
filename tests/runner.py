"""Django's test runner, telling how many tests passed and failed."""

from pathlib import Path
from typing import Any
from unittest import TestResult

from django.conf import settings
from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    """Writes 'passed failed' to the file that ./test names, which adds its checks to them."""

    def suite_result(self, suite: Any, result: TestResult, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        if settings.TEST_COUNTS:
            passed = max(result.testsRun - failed - len(result.skipped), 0)
            Path(settings.TEST_COUNTS).write_text(f"{passed} {failed}\n", encoding="utf-8")
        return super().suite_result(suite, result, **kwargs)
