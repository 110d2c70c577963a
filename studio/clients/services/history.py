"""What a client's hair and skin have been through."""

import datetime
from collections.abc import Mapping, Sequence
from decimal import Decimal

from studio.accounts.models import Person
from studio.clients.models import Client, PastWork, SkinTest, StrandTest
from studio.shelf.models import ShadeLine
from studio.ui.numbers import within
from studio.ui.refusal import Refusal

NOTE_LONGEST = 120
OLDEST_YEARS = 30


def add_past(
    person: Person,
    *,
    client_id: int,
    work: str,
    part: str,
    done_on: datetime.date,
    today: datetime.date,
    note: str = "",
) -> PastWork:
    """Note earlier work. today: the visit's day, which it can't be after.

    Raises Refusal past_after_visit, past_too_old, past_unknown; Client.DoesNotExist for another studio's client.
    """
    client = Client.objects.visible_to(person).get(pk=client_id)
    if work not in PastWork.Kind.values or part not in PastWork.Part.values:
        raise Refusal("past_unknown", "work")
    if done_on > today:
        raise Refusal("past_after_visit", "done_on")
    if done_on.year < today.year - OLDEST_YEARS or (client.born_on and done_on < client.born_on):
        raise Refusal("past_too_old", "done_on")
    return PastWork.objects.create(
        client=client, work=work, part=part, done_on=done_on, note=note.strip()[:NOTE_LONGEST]
    )


def remove_past(person: Person, *, client_id: int, past_id: int) -> PastWork:
    """Take earlier work of a client off the list. Raises PastWork.DoesNotExist for anybody else's."""
    past = PastWork.objects.visible_to(person).select_related("client").get(pk=past_id, client=client_id)
    past.delete()
    return past


def record_skin_test(
    person: Person,
    *,
    client_id: int,
    line_id: int | None,
    tested_at: datetime.datetime,
    clear: bool,
    now: datetime.datetime,
) -> SkinTest:
    """Record a sensitivity test of a line, or of lightener and its developer (None). tested_at: from when it counts.

    now: the moment it can't be after.
    Raises Refusal test_in_future; Client.DoesNotExist, ShadeLine.DoesNotExist for another studio's.
    """
    client = Client.objects.visible_to(person).get(pk=client_id)
    line = None if line_id is None else ShadeLine.objects.visible_to(person).get(pk=line_id)
    if tested_at > now:
        raise Refusal("test_in_future", "tested_at")
    return SkinTest.objects.create(client=client, line=line, tested_at=tested_at, clear=clear, recorded_by=person)


def record_strand_test(
    person: Person,
    *,
    client_id: int,
    line_name: str,
    part: str,
    products: list[str],
    vol: float,
    minutes: Decimal,
    colour_seen: str,
    stretch_held: bool,
    passed: bool,
    now: datetime.datetime,
    grams: Mapping[str, float] | None = None,
    forecast_lab: Sequence[float] = (),
    seen_lab: Sequence[float] = (),
    worked: Mapping[str, object] | None = None,
) -> StrandTest:
    """Record a strand test of a mix on a part of the head: of a line by name, or of lightener (nothing).

    grams: of each shade of the mix by name. forecast_lab, seen_lab: what it was to look like and how it does, L*a*b*
    (3,), where that is known. worked: its hair and bowl as numbers, which let it teach.

    Raises Refusal out_of_range for the minutes, strand_gave when a strand that gave is said to have passed,
    Client.DoesNotExist, ShadeLine.DoesNotExist for another studio's.
    """
    client = Client.objects.visible_to(person).get(pk=client_id)
    line = ShadeLine.objects.visible_to(person).get(name=line_name) if line_name else None
    within(minutes, "minutes", 0.5, 240, " min")
    if passed and not stretch_held:
        raise Refusal("strand_gave", "passed")
    return StrandTest.objects.create(
        client=client,
        line=line,
        part=part,
        products=products,
        vol=round(Decimal(vol), 1),
        minutes=minutes,
        grams=dict(grams or {}),
        forecast_lab=[round(float(part), 3) for part in forecast_lab],
        seen_lab=[round(float(part), 3) for part in seen_lab],
        worked=dict(worked or {}),
        colour_seen=colour_seen.strip()[:NOTE_LONGEST],
        stretch_held=stretch_held,
        passed=passed,
        tested_at=now,
        recorded_by=person,
    )
