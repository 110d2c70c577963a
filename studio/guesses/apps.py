"""Guessing first: what somebody expects of a bowl, written down before its forecast is shown."""

from django.apps import AppConfig


class GuessesConfig(AppConfig):
    """Guesses at the bowl."""

    name = "studio.guesses"
