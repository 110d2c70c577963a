"""Tubes that are read: strands in one photo, swatches, spectra."""

from django.apps import AppConfig


class ReadingsConfig(AppConfig):
    """Ways in which a tube is known better than by its name."""

    name = "studio.readings"
