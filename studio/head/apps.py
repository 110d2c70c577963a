"""The head's shared data: what is in which bowl for which zone, over one worktop a visit."""

from django.apps import AppConfig


class HeadConfig(AppConfig):
    """Its tables kept the name of the page that they began with."""

    name = "studio.head"
    label = "bench"
