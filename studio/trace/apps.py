"""The app of what was changed, and by whom."""

from django.apps import AppConfig


class TraceConfig(AppConfig):
    """Traces of changes, kept by triggers of the database."""

    name = "studio.trace"
