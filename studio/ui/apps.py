"""The pages' application."""

from django.apps import AppConfig


class UiConfig(AppConfig):
    """Names the catalogue that the engine's words, and all others, are looked up in."""

    name = "studio.ui"

    def ready(self) -> None:
        """Once, before the first request."""
        from engine.language import speak
        from studio.ui.speaking import CAPITALS, commas, plural, tongue, translated

        speak(translated, plural, tongue, commas(), CAPITALS)
