"""Photographs of a visit: to aim by, of the result, and of what went wrong."""

from django.apps import AppConfig


class PhotosConfig(AppConfig):
    """Photographs, and what is tapped on them."""

    name = "studio.photos"
