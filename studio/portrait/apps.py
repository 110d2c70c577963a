"""The head as it is seen: drawn, and on a photo of it with the forecast laid on."""

from django.apps import AppConfig


class PortraitConfig(AppConfig):
    """Forecasts on a head."""

    name = "studio.portrait"
