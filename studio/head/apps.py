"""The head's shared data: what is in which bowl for which zone, over one worktop a visit."""

from django.apps import AppConfig


class HeadConfig(AppConfig):
    """Its tables kept the name of the page that they began with."""

    name = "studio.head"
    label = "bench"

    def ready(self) -> None:
        """Listen to what is read of hair, to its zones, and to the shelf."""
        from studio.head.services import follow_shelf, follow_visit  # noqa: F401
