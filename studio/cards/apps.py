"""The logbook: what is kept on cards, and what it says of the next time."""

from django.apps import AppConfig


class CardsConfig(AppConfig):
    """Listens for hair that is read, since a card may say what to change on it."""

    name = "studio.cards"

    def ready(self) -> None:
        """Connect what listens."""
        from studio.cards.services import next_time  # noqa: F401
