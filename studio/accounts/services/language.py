"""The language in which a person reads."""

from typing import Final

from django.conf import settings

from studio.accounts.models import Person
from studio.ui.refusal import Refusal

SPOKEN: Final = frozenset(code for code, _name in settings.LANGUAGES)


def read_in(person: Person, *, language: str) -> None:
    """A language of this app from the next page on, in every studio; empty for each studio's own.

    Raises Refusal language_unknown.
    """
    if language and language not in SPOKEN:
        raise Refusal("language_unknown", "language")
    for place in person.everywhere():
        place.language = language
        place.save(update_fields=["language"])
