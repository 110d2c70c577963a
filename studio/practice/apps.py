"""The practice room: drills that the engine makes and grades."""

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    """Drills, and who stands where."""

    name = "studio.practice"
