"""The frame of every change on the bench: one row lock, one version, one step to undo."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.db import transaction

from studio.accounts.models import Person
from studio.head.models import BenchStep, Bowl, Pour, Worktop, WorktopRows
from studio.head.state import in_shelf_order, locked_rows, rows_of, state_of
from studio.ui.refusal import Stale

Words = str | Callable[[Bowl], str]


def locked_bowl(person: Person, *, zone_id: int, version: int, attempt: Words) -> Bowl:
    """The zone's bowl, its worktop locked until the transaction ends. attempt: what is tried, told if refused.

    Raises Stale, naming what happened since, when the worktop is no longer at `version`; Bowl.DoesNotExist for
    another studio's zone, or one that was removed.
    """
    # A change made while this waited for the lock shows in the version, so that one query is enough.
    bowls = Bowl.objects.visible_to(person).select_related("line", "worktop").select_for_update(of=("worktop",))
    bowl = bowls.get(servings__zone=zone_id, servings__zone__removed=False)
    _check_seen(bowl, version, attempt)
    return bowl


def _check_seen(bowl: Bowl, version: int, attempt: Words) -> None:
    """Raises Stale, naming what happened since, when the worktop is no longer at `version`."""
    worktop = bowl.worktop
    if worktop.version != version:
        last = worktop.steps.filter(number=worktop.cursor).first()
        raise Stale(since=last.words if last else "it was opened anew", attempt=_said(attempt, bowl))


def served_by(bowl: Bowl) -> list[int]:
    """The rows of the zones that a bowl is for, as they stand. One query."""
    return list(bowl.servings.filter(zone__removed=False).order_by("pk").values_list("zone", flat=True))


def remember(person: Person, worktop: Worktop, words: str, rows: WorktopRows | None = None) -> None:
    """Save the worktop at its next version, with a step that can be undone; steps that were undone are forgotten.

    rows: as the change leaves them, where it knows; else they are read.
    """
    if worktop.newest_step > worktop.cursor:
        worktop.steps.filter(number__gt=worktop.cursor).delete()
    worktop.cursor += 1
    worktop.newest_step = worktop.cursor
    worktop.version += 1
    worktop.save()
    worktop.standing = rows or rows_of(person, worktop.visit_id)
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
    with transaction.atomic(savepoint=False):
        bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt=words)
        yield bowl
        remember(person, bowl.worktop, _said(words, bowl))


@contextmanager
def changing_pours(
    person: Person, *, zone_id: int, version: int, words: Words
) -> Iterator[tuple[Bowl, dict[int, Pour]]]:
    """`changing` for what is poured and nothing else: the worktop is read once, as it is locked.

    Gives the bowl and its pours by shade, which the change leaves as they are then; one of nothing is taken out.
    """
    with transaction.atomic(savepoint=False):
        # Had another hand changed what serves the zones while this waited for the lock, the version would tell.
        rows = locked_rows(person, zone_id)
        bowl = next((serving.bowl for serving in rows.servings if serving.zone_id == zone_id), None)
        if bowl is None:
            raise Bowl.DoesNotExist
        _check_seen(bowl, version, words)
        pours = {pour.shade_id: pour for pour in rows.pours[bowl.pk]}
        yield bowl, pours
        rows.pours[bowl.pk] = in_shelf_order(bowl, (pour for pour in pours.values() if pour.grams > 0))
        remember(person, bowl.worktop, _said(words, bowl), rows)


def _said(words: Words, bowl: Bowl) -> str:
    return words if isinstance(words, str) else words(bowl)
