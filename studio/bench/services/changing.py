"""The frame of every change on the bench: one row lock, one version, one step to undo."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.db import transaction

from studio.accounts.models import Person
from studio.bench.models import BenchStep, Bowl
from studio.bench.state import state_of
from studio.ui.refusal import Stale

Words = str | Callable[[Bowl], str]


def locked_bowl(person: Person, *, zone_id: int, version: int, attempt: Words) -> Bowl:
    """The zone's bowl, locked until the transaction ends. attempt: what is tried, in words, to be told if refused.

    Raises Stale, naming what happened since, when the bowl is no longer at `version`; Bowl.DoesNotExist for
    another studio's zone.
    """
    bowls = Bowl.objects.visible_to(person).select_related("line")
    bowl = bowls.select_for_update(of=("self",)).get(zone_id=zone_id)
    if bowl.version != version:
        last = bowl.steps.filter(number=bowl.cursor).first()
        raise Stale(since=last.words if last else "it was opened anew", attempt=_said(attempt, bowl))
    return bowl


def remember(person: Person, bowl: Bowl, words: str) -> None:
    """Save the bowl at its next version, with a step that can be undone; steps that were undone are forgotten."""
    if bowl.newest_step > bowl.cursor:
        bowl.steps.filter(number__gt=bowl.cursor).delete()
    bowl.cursor += 1
    bowl.newest_step = bowl.cursor
    bowl.version += 1
    bowl.save()
    BenchStep.objects.create(bowl=bowl, number=bowl.cursor, words=words[:120], state=state_of(bowl), made_by=person)


@contextmanager
def changing(person: Person, *, zone_id: int, version: int, words: Words) -> Iterator[Bowl]:
    """Change a bowl inside one transaction and remember the step under `words`; see `locked_bowl` for errors."""
    with transaction.atomic():
        bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt=words)
        yield bowl
        remember(person, bowl, _said(words, bowl))


def _said(words: Words, bowl: Bowl) -> str:
    return words if isinstance(words, str) else words(bowl)
