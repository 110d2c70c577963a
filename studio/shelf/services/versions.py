"""What a tube is taken for, version by version."""

from collections.abc import Mapping
from typing import Final

from studio.accounts.models import Person
from studio.shelf.models import Shade, ShadeVersion
from studio.shelf.services.holding import line_changed
from studio.taught.services.ask import ask_to_learn

KNOWN: Final = ("known", "readings", "strength", "samples", "doubt_factors")


def know_as(person: Person, shade: Shade, fields: Mapping[str, object]) -> None:
    """Take a tube that is held for something else: what it was taken for is kept, and what results taught of it is
    learned anew."""
    before = ShadeVersion(shade=shade, number=shade.version, changed_by=person)
    for name in KNOWN:
        setattr(before, name, getattr(shade, name))
    before.save()
    for name, given in fields.items():
        setattr(shade, name, given)
    shade.version += 1
    shade.save(update_fields=[*fields, "version"])
    line_changed(shade.line_id)
    ask_to_learn(person.studio_id)
