"""The frame of every change on the bench: one row lock, one version, one step to undo."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.db import transaction

from studio.accounts.models import Person
from studio.bench.models import BenchStep, Bowl, Worktop
from studio.bench.state import rows_of, state_of
from studio.ui.refusal import Stale

Words = str | Callable[[Bowl], str]


def locked_bowl(person: Person, *, zone_id: int, version: int, attempt: Words) -> Bowl:
    """The zone's bowl, its worktop locked until the transaction ends. attempt: what is tried, told if refused.

    Raises Stale, naming what happened since, when the worktop is no longer at `version`; Bowl.DoesNotExist for
    another studio's zone, or one that was removed.
    """
    # A change made while this waited for the lock shows in the version, so that one query is enough.
    bowls = Bowl.objects.visible_to(person).select_related("line", "worktop").select_for_update(of=("self", "worktop"))
    bowl = bowls.get(servings__zone=zone_id, servings__zone__removed=False)
    worktop = bowl.worktop
    if worktop.version != version:
        last = worktop.steps.filter(number=worktop.cursor).first()
        raise Stale(since=last.words if last else "it was opened anew", attempt=_said(attempt, bowl))
    return bowl


def served_by(bowl: Bowl) -> list[int]:
    """The rows of the zones that a bowl is for, as they stand. One query."""
    return list(bowl.servings.filter(zone__removed=False).order_by("pk").values_list("zone", flat=True))


def remember(person: Person, worktop: Worktop, words: str) -> None:
    """Save the worktop at its next version, with a step that can be undone; steps that were undone are forgotten."""
    if worktop.newest_step > worktop.cursor:
        worktop.steps.filter(number__gt=worktop.cursor).delete()
    worktop.cursor += 1
    worktop.newest_step = worktop.cursor
    worktop.version += 1
    worktop.save()
    worktop.standing = rows_of(person, worktop.visit_id)
    BenchStep.objects.create(
        worktop=worktop,
        number=worktop.cursor,
        words=words[:120],
        state=state_of(worktop.standing),
        made_by=person,
    )


@contextmanager
def changing(person: Person, *, zone_id: int, version: int, words: Words) -> Iterator[Bowl]:
    """Change a zone's bowl inside one transaction and remember the step under `words`; see `locked_bowl`."""
    with transaction.atomic():
        bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt=words)
        yield bowl
        remember(person, bowl.worktop, _said(words, bowl))


def _said(words: Words, bowl: Bowl) -> str:
    return words if isinstance(words, str) else words(bowl)
