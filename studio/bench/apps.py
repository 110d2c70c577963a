"""The Bench, a page over the head."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """A page without tables of its own; the head's tables hold its name."""

    name = "studio.bench"
    label = "bench_page"
