"""Where a file and a card say different things: what stands, and what is told."""

from dataclasses import dataclass, field
from typing import Any

from django.db import models

from engine.language import say


@dataclass(kw_only=True)
class Told:
    """Differences as they are met. prefers_file: the file's word stands."""

    prefers_file: bool = False
    lines: list[str] = field(default_factory=list)

    def tell(self, words: str) -> None:
        """Note something that the person should know, once."""
        if words not in self.lines:
            self.lines.append(words)

    def settle(self, row: models.Model, name: str, theirs: Any, *, where: str) -> None:
        """Set a field that only the file fills; where both fill it differently one stands, and both are told."""
        field_: Any = row._meta.get_field(name)
        ours, blank = getattr(row, name), field_.get_default()
        if theirs in (ours, blank) or (theirs == "" and blank is None):
            return
        if ours in (blank, "", None):
            setattr(row, name, theirs)
            return
        here, there = _shown(row, name, ours), _shown(row, name, theirs)
        if self.prefers_file:
            setattr(row, name, theirs)
        self.tell(
            say(
                "{where}: {title} is “{here}” here and “{there}” in the file; “{there2}” stands.",
                where=where,
                title=_title(field_),
                here=here,
                there=there,
                there2=there if self.prefers_file else here,
            )
        )


def _title(field_: Any) -> str:
    return say(str(field_.verbose_name))


def _shown(row: models.Model, name: str, value: Any) -> str:
    """A value as a person reads it."""
    field_: Any = row._meta.get_field(name)
    choices = dict(field_.flatchoices)
    if isinstance(value, bool):
        return say("yes") if value else say("no")
    return str(choices.get(value, value))[:80]
