"""A whole studio as one file, out and in."""

from django.apps import AppConfig


class ArchivesConfig(AppConfig):
    """Archives, made and taken in by the worker."""

    name = "studio.archives"
