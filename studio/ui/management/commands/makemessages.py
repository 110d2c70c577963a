"""Collects the texts that are to be translated, also those that are marked in the engine's way."""

from django.core.management.commands import makemessages


class Command(makemessages.Command):
    """As Django's, for `engine.language` too: say, later and counted."""

    xgettext_options = [
        *makemessages.Command.xgettext_options,
        "--keyword=say",
        "--keyword=later",
        "--keyword=Later",
        "--keyword=counted:1,2",
    ]
