"""Learning from what is kept on cards."""

from django.apps import AppConfig


class LearningConfig(AppConfig):
    """Turns results into records, learns from them, and shows what was learned."""

    name = "studio.learning"
