"""What other programs read of a studio."""

from django.apps import AppConfig


class ApiConfig(AppConfig):
    """Keys, and what is read by them."""

    name = "studio.api"
