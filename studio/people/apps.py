"""The app of the people who work in a studio."""

from django.apps import AppConfig


class PeopleConfig(AppConfig):
    """Invitations, roles, and leaving."""

    name = "studio.people"
