"""The frame of every change on the bench: one row lock, one version, one step to undo."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import NamedTuple

from django.db import transaction

from engine.language import say
from studio.accounts.models import Person
from studio.head.models import BenchStep, Bowl, Coat, Portion, Worktop, WorktopRows
from studio.head.state import in_shelf_order, lock_worktop, locked_rows, rows_of, state_of
from studio.shelf.models import ShadeLine
from studio.ui.refusal import Refusal, Stale
from studio.visits.models import Zone

Words = str | Callable[[Bowl], str]


def locked_bowl(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int | None,
    attempt: Words,
    whole: bool = False,
) -> Bowl:
    """The bowl of a zone's coat, its worktop locked until the transaction ends.

    attempt: what is tried, told if refused. coat_id: the coat's row; unless one is named, the zone's last from a bowl.
    version: None for what was done to the hair or the bowl already, whatever others have planned since.
    Raises Stale, naming what happened since, when the worktop is no longer at `version`; Refusal coat_gone, coat_plain;
    Bowl.DoesNotExist for another studio's zone, or one that was removed.
    """
    locked = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=attempt, whole=whole)
    if locked.coat.bowl is None:
        raise Refusal("coat_plain")
    return locked.coat.bowl


@dataclass(frozen=True, kw_only=True)
class LockedCoat:
    """A coat in hand, its worktop, and all coats of its zone in their order."""

    worktop: Worktop
    coat: Coat
    standing: list[Coat]


def locked_coat(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int | None,
    attempt: Words,
    whole: bool = False,
) -> LockedCoat:
    """A zone's coat with its bowl, as `locked_bowl` gives that; one that nothing is mixed for only if it is named.

    whole: the zone or its visit is what changes, whichever coat is in hand; its last from a bowl is given.
    Raises Stale; Refusal coat_gone, coat_unsaid when a zone of several bowls is changed without saying which coat is
    meant; Bowl.DoesNotExist.
    """
    worktop = lock_worktop(person, zone_id)
    here = Coat.objects.filter(zone=zone_id, zone__removed=False, removed=False)
    standing = list(here.select_related("zone__visit", "bowl__line"))
    mixed = [coat for coat in standing if coat.bowl is not None]
    if not mixed:
        raise Bowl.DoesNotExist
    for coat in mixed:
        if coat.bowl is not None:
            coat.bowl.worktop = worktop
    if version is not None:
        _check_seen(worktop, mixed[-1].bowl, version, attempt)
    if coat_id is None and not whole and len(mixed) > 1:
        raise Refusal("coat_unsaid")
    is_any = coat_id is None or whole
    found = mixed[-1] if is_any else next((coat for coat in standing if coat.pk == coat_id), None)
    if found is None:
        raise Refusal("coat_gone")
    return LockedCoat(worktop=worktop, coat=found, standing=standing)


def _check_seen(worktop: Worktop, bowl: Bowl | None, version: int, attempt: Words) -> None:
    """Raises Stale, naming what happened since, when the worktop is no longer at `version`."""
    if worktop.version != version:
        last = worktop.steps.filter(number=worktop.cursor).first()
        tried = _said(attempt, bowl) if bowl is not None else str(attempt)
        raise Stale(since=last.words if last else say("it was opened anew"), attempt=tried)


def served_by(bowl: Bowl) -> list[int]:
    """The rows of the zones that a bowl is for, as they stand. One query."""
    coats = bowl.coats.filter(removed=False, zone__removed=False, zone__left_alone=False).order_by("pk")
    return list(dict.fromkeys(coats.values_list("zone", flat=True)))


def refuse_line(bowl_id: int | None, line: ShadeLine) -> None:
    """Raises Refusal line_not_for when a coat from a bowl is not mixed from a line. One query."""
    for coat in Coat.objects.filter(bowl=bowl_id, removed=False, zone__removed=False):
        if not coat.may_come_from(line):
            raise Refusal("line_not_for", "line", purpose=coat.get_purpose_display(), line=line)


def copy_coats(from_zone_id: int, zone: Zone, *, same_hair: bool = False) -> None:
    """Give a zone the coats of another, from the same bowls; what is on there is on here if that is its hair."""
    for coat in Coat.objects.filter(zone=from_zone_id, removed=False):
        coat.pk, coat.zone = None, zone
        if not same_hair:
            coat.begun, coat.worked_min, coat.damp = False, None, False
        coat._state.adding = True
        coat.save()


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
    BenchStep.objects.create(
        worktop=worktop,
        number=worktop.cursor,
        words=words[:120],
        state=state_of(rows or rows_of(person, worktop.visit_id)),
        made_by=person,
    )


@contextmanager
def changing(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int | None, words: Words
) -> Iterator[Bowl]:
    """Change a coat's bowl inside one transaction and remember the step under `words`; see `locked_bowl`."""
    with transaction.atomic(savepoint=False):
        bowl = locked_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=words)
        yield bowl
        remember(person, bowl.worktop, _said(words, bowl))


class OpenPours(NamedTuple):
    """A bowl whose pours are being changed, its pours by shade, and the worktop's rows as the change leaves them."""

    bowl: Bowl
    pours: dict[int, Portion]
    rows: WorktopRows


@contextmanager
def changing_pours(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, words: Words
) -> Iterator[OpenPours]:
    """`changing` for what is poured and nothing else: the worktop is read once, as it is locked.

    What the change leaves among the pours is what the bowl has then; one of nothing is taken out.
    """
    with transaction.atomic(savepoint=False):
        # Had another hand changed what serves the zones while this waited for the lock, the version would tell.
        rows = locked_rows(person, zone_id)
        bowls = {coat.pk: coat.bowl for coat in rows.coats if coat.zone_id == zone_id and coat.bowl is not None}
        if not bowls:
            raise Bowl.DoesNotExist
        last = list(bowls.values())[-1]
        _check_seen(last.worktop, last, version, words)
        if coat_id is None and len(bowls) > 1:
            raise Refusal("coat_unsaid")
        bowl = last if coat_id is None else bowls.get(coat_id)
        if bowl is None:
            raise Refusal("coat_gone")
        pours = {pour.shade_id: pour for pour in rows.pours[bowl.pk]}
        yield OpenPours(bowl, pours, rows)
        rows.pours[bowl.pk] = in_shelf_order(bowl, (pour for pour in pours.values() if pour.grams > 0))
        remember(person, bowl.worktop, _said(words, bowl), rows)


def _said(words: Words, bowl: Bowl) -> str:
    return words if isinstance(words, str) else words(bowl)
