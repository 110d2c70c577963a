"""What a visit takes beside colour: developers, additives, masks, foils, gloves."""

from django.apps import AppConfig


class SuppliesConfig(AppConfig):
    """What stands beside the tubes, by weight or by count."""

    name = "studio.supplies"
