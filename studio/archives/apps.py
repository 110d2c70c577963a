"""A whole studio as one file, out and in."""

from django.apps import AppConfig


class ArchivesConfig(AppConfig):
    """Archives, made and taken in by the worker."""

    name = "studio.archives"

    def ready(self) -> None:
        """Listen for who is forgotten."""
        from studio.archives.services import forget  # noqa: F401 - its models are there only now
