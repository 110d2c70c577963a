"""Where a file and a card say different things: what is asked, what stands, and what is told."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Final

from django.db import models

from engine.language import say

HERE: Final = "here"
FILE: Final = "file"
SAME: Final = "same"  # of two people of one name
OTHER: Final = "other"
WHO: Final = "who:"  # begins the keys of questions of who somebody is


@dataclass(frozen=True, kw_only=True)
class Difference:
    """Something of which a card and a file say different things. key: what it is asked and answered by.

    where, title: whose, and what of it. here, there: what either says.
    """

    key: str
    where: str
    title: str
    here: str
    there: str

    @property
    def of_whom(self) -> bool:
        """Whether the question is who somebody is."""
        return self.key.startswith(WHO)


@dataclass(kw_only=True)
class Told:
    """Differences as they are met. decided: whose word stands, by key. prefers_file: the file's, where nobody decided.

    asked: every difference, by key. undecided: whose word stands of somebody's identity while nobody has decided it.
    """

    prefers_file: bool = False
    decided: Mapping[str, str] = field(default_factory=dict)
    undecided: str = OTHER
    lines: list[str] = field(default_factory=list)
    asked: dict[str, Difference] = field(default_factory=dict)

    def tell(self, words: str) -> None:
        """Note something that the person should know, once."""
        if words not in self.lines:
            self.lines.append(words)

    def is_same(self, name: str, uid: str, about: str, about_here: str) -> bool:
        """Whether the client of a file, whom nobody here is known by, is the one of her name who is here."""
        key = f"{WHO}{uid}"
        here, there = about_here or say("nothing more"), about or say("nothing more")
        self.asked[key] = Difference(key=key, where=name, title=say("who she is"), here=here, there=there)
        return self.decided.get(key, self.undecided) == SAME

    def files_word_stands(self, key: str, *, where: str, title: str, here: str, there: str) -> bool:
        """Note that two words differ: whether the file's stands."""
        self.asked[key] = Difference(key=key, where=where, title=title, here=here, there=there)
        said = self.decided.get(key)
        files = self.prefers_file if said is None else said == FILE
        self.tell(
            say(
                "{where}: {title} is “{here}” here and “{there}” in the file; “{there2}” stands.",
                where=where,
                title=title,
                here=here,
                there=there,
                there2=there if files else here,
            )
        )
        return files

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
        key = f"{where}: {name}"
        if self.files_word_stands(key, where=where, title=_title(field_), here=here, there=there):
            setattr(row, name, theirs)


def _title(field_: Any) -> str:
    return say(str(field_.verbose_name))


def _shown(row: models.Model, name: str, value: Any) -> str:
    """A value as a person reads it."""
    field_: Any = row._meta.get_field(name)
    choices = dict(field_.flatchoices)
    if isinstance(value, bool):
        return say("yes") if value else say("no")
    return str(choices.get(value, value))[:80]
