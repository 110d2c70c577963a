"""What results have taught; who learns it stands above the cards, in `studio.learning`."""

from django.apps import AppConfig


class TaughtConfig(AppConfig):
    """Knowledge, version by version."""

    name = "studio.taught"
