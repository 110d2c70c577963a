"""Take a file onto cards: all of it, or what is sound of it, in pieces that each stand when the next one breaks."""

import itertools
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from typing import Any, Final

from django.db import transaction
from django.utils import timezone

from engine.language import say
from studio.accounts.models import Person
from studio.formats.entry import FAULTS_MOST, Entry, Fault, Row, entry_of
from studio.formats.models import Intake, IntakePart
from studio.formats.reading_in import Upload
from studio.formats.services.identity import Tubes
from studio.formats.services.keep_formulas import keep_formulas
from studio.formats.services.merge_card import merge_card
from studio.formats.services.telling import HERE, OTHER, SAME, Difference, Told
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import StockedLine, stocked_line
from studio.ui.refusal import Refusal
from studio.visits.models import ZONES_MOST, Zone

PIECE: Final = 250  # formulas: about a second
TOLD_MOST: Final = 200
ASKED_MOST: Final = 4 * PIECE  # formulas of a file of which each difference is asked; of a longer one it is told


@transaction.atomic
def begin_intake(person: Person, *, upload: Upload, leave_bad_out: bool, prefers_file: bool = False) -> Intake:
    """Check a file whole, and take it onto the studio's cards; of a long one the first piece.

    With any fault nothing is taken, unless bad lines are to be left out and what the document holds beside formulas is
    sound: then an intake that is not stored tells the faults. prefers_file: where card and file differ, the file's word
    stands, except where safety hangs on it. A formula that is here already is not taken twice.
    """
    tubes = Tubes(_shelf(person), (upload.card or {}).get("shelf", ()))
    faulty = {fault.line for fault in upload.faults}
    found = [row if row.line in faulty else replace(row, formula=tubes.renamed(row.formula)) for row in upload.rows]
    entries = [entry_of(row) for row in found if row.line not in faulty]
    faults = _faults(person, entries, upload.faults)
    bad = {fault.line for fault in faults}
    told_faults = [asdict(fault) for fault in faults]
    rows = [dict(vars(row)) for row in found if row.line not in bad]
    is_nothing = not rows and upload.card is None
    if bad and (not leave_bad_out or is_nothing or 0 in bad or len(faults) >= FAULTS_MOST):
        return Intake(studio=person.studio, person=person, total=0, faults=told_faults)
    intake = Intake.objects.create(
        studio=person.studio,
        person=person,
        prefers_file=prefers_file,
        total=len(rows),
        faults=told_faults,
        card=upload.card,
    )
    for number, start in enumerate(range(0, len(rows), PIECE)):
        IntakePart.objects.create(intake=intake, number=number, rows=rows[start : start + PIECE])
    told = Told(lines=list(upload.told))
    tubes.tell(told)
    intake.told = told.lines
    if len(rows) <= ASKED_MOST:
        intake.asked = [asdict(each) for each in _differences(person, intake) if each.of_whom or not prefers_file]
    intake.save()
    return intake if intake.waits_for_answers else go_on(person, intake_id=intake.pk)


def _differences(person: Person, intake: Intake) -> list[Difference]:
    """What the file and the cards say differently, as taking it would meet it; nothing of it is taken."""
    told = Told(undecided=SAME)  # so that what differs is known if she is
    with transaction.atomic():
        for part in intake.parts.all():
            _take_rows(person, part.rows, told)
        if intake.card:
            merge_card(person, intake.card, told)
        transaction.set_rollback(True)
    return list(told.asked.values())


@transaction.atomic
def decide(person: Person, *, intake_id: int, said: Mapping[str, str]) -> Intake:
    """Answer what was asked of a file, and begin to take it. said: whose word stands, by the key of what was asked.

    What is not said stays as it is here. Raises Refusal who_is_it where it is not said who somebody is;
    Intake.DoesNotExist for another studio's.
    """
    intake = Intake.objects.visible_to(person).select_for_update().get(pk=intake_id)
    if not intake.waits_for_answers:
        return intake
    asked = [Difference(**each) for each in intake.asked]
    if any(said.get(each.key) not in (SAME, OTHER) for each in asked if each.of_whom):
        raise Refusal("who_is_it", "who")
    intake.decided = {each.key: said.get(each.key, HERE) for each in asked}
    intake.save(update_fields=["decided"])
    return go_on(person, intake_id=intake.pk)


def drop(person: Person, *, intake_id: int) -> None:
    """Let a file go of which nothing was taken yet. Raises Intake.DoesNotExist for another studio's."""
    intake = Intake.objects.visible_to(person).get(pk=intake_id)
    if intake.waits_for_answers:
        intake.delete()


@transaction.atomic
def go_on(person: Person, *, intake_id: int) -> Intake:
    """Take the next piece of a file; with the last one what its card holds beside formulas. A finished one stays as it
    is. Raises Intake.DoesNotExist for another studio's.
    """
    intake = Intake.objects.visible_to(person).select_for_update().get(pk=intake_id)
    if intake.is_finished or intake.waits_for_answers:
        return intake
    told = Told(prefers_file=intake.prefers_file, decided=intake.decided or {}, lines=list(intake.told))
    part = intake.parts.first()
    if part is not None:
        taken, already = _take_rows(person, part.rows, told)
        intake.done += len(part.rows)
        intake.taken += taken
        intake.already += already
        part.delete()
    if not intake.parts.exists():
        if intake.card:
            merge_card(person, intake.card, told)
        intake.card = None
        intake.finished_at = timezone.now()
    intake.told = told.lines[:TOLD_MOST]
    intake.save()
    return intake


def _take_rows(person: Person, rows: Sequence[Mapping[str, Any]], told: Told) -> tuple[int, int]:
    return keep_formulas(person, [entry_of(Row(**row)) for row in rows], _shelf(person), told)


def _shelf(person: Person) -> dict[str, StockedLine]:
    return {line.name: stocked_line(line) for line in ShadeLine.objects.visible_to(person)}


def _faults(person: Person, entries: Sequence[Entry], found: Sequence[Fault]) -> list[Fault]:
    """What was wrong with the file, and what this studio can't take of it, by line, at most so many."""
    shelf = _shelf(person)
    more = (fault for entry in entries if (fault := _unknown(entry, shelf) or _untimely(entry)))
    crowded = _crowded(person, entries)
    faults = [*itertools.islice(itertools.chain(found, more, crowded), FAULTS_MOST)]
    return sorted(faults, key=lambda fault: fault.line)


def _unknown(entry: Entry, shelf: dict[str, StockedLine]) -> Fault | None:
    """What this studio does not have."""
    wanted: list[tuple[str, str]] = [(entry.line, pour.shade) for pour in entry.pours]
    wanted += [(layer.line, layer.shade) for layer in entry.laid]
    for line, shade in wanted:
        if line not in shelf:
            return Fault(line=entry.line_number, words=say("this shelf has no line “{line}”", line=line[:40]))
        if all(each.name != shade for each in shelf[line].shades):
            return Fault(
                line=entry.line_number, words=say("{line} has no shade “{shade}”", line=line, shade=shade[:40])
            )
    return None


def _untimely(entry: Entry) -> Fault | None:
    """A moment that can't be."""
    moments = [entry.saved_at, *entry.moments.values()]
    if any(moment > timezone.now() for moment in moments):
        return Fault(line=entry.line_number, words=say("saved_at, or another moment, is still to come"))
    applied, rinsed = entry.moments.get("applied_at"), entry.moments.get("rinsed_at")
    if rinsed and (applied is None or rinsed < applied):
        return Fault(line=entry.line_number, words=say("it was rinsed before it was applied"))
    return None


def _crowded(person: Person, entries: Sequence[Entry]) -> list[Fault]:
    """Zones beyond what one head has, counting those that are here."""
    zones: dict[tuple[str, Any], set[str]] = defaultdict(set)
    here = Zone.objects.visible_to(person).filter(
        removed=False, visit__client__name__in={entry.client for entry in entries}
    )
    for client, day, name in here.values_list("visit__client__name", "visit__day", "name"):
        zones[client, day].add(name)
    faults = []
    for entry in entries:
        names = zones[entry.client, entry.day or timezone.localdate(entry.saved_at)]
        if entry.zone not in names and len(names) >= ZONES_MOST:
            faults.append(
                Fault(
                    line=entry.line_number,
                    words=say("a head has at most {zones_most} zones in one visit", zones_most=ZONES_MOST),
                )
            )
        names.add(entry.zone)
    return faults
