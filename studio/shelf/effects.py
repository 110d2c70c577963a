"""What the house's choices do, as its page shows them."""

from collections.abc import Mapping
from dataclasses import dataclass

from engine.language import kept_by_language
from engine.service.schools import effects
from studio.accounts.models import Studio
from studio.ui.locks import Lock, lock_of_colour


@dataclass(frozen=True, kw_only=True)
class ChoiceShown:
    """One choice of a rule: its label, what it does, how that looks where it can be seen, and whether it is kept."""

    label: str
    words: str
    lock: Lock | None
    in_force: bool


def house_effects(studio: Studio) -> Mapping[str, tuple[ChoiceShown, ...]]:
    """By the name of the rule's field, what each of its choices does."""
    shown = {}
    for name, found in _drawn():
        labels = dict(Studio._meta.get_field(name).flatchoices)  # type: ignore[union-attr]
        now = getattr(studio, name)
        shown[name] = tuple(
            ChoiceShown(label=labels[value], words=words, lock=lock, in_force=value == now)
            for value, words, lock in found
        )
    return shown


@kept_by_language(maxsize=8)
def _drawn() -> tuple[tuple[str, tuple[tuple[str, str, Lock | None], ...]], ...]:
    return tuple(
        (
            name,
            tuple(
                (each.choice, each.words, None if each.lab is None else lock_of_colour(tuple(each.lab.tolist())))
                for each in found
            ),
        )
        for name, found in effects().items()
    )
