"""Results, tweaks and home care of a visit."""

import datetime
from typing import Final

from django.db.models import Case, When

from engine.bowl.fade import WASHES_MOST
from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.cards.models import HomeCare, Tweak, ZoneResult
from studio.visits.models import Consult, Visit

_HOME_CARE: Final = Prepared(
    lambda studio, visit, client: (
        HomeCare.objects.of_studio(studio)
        .filter(visit__client=client)
        .order_by(Case(When(visit=visit, then=0), default=1), "-visit__day")[:1]
    ),
    studio=int,
    visit=int,
    client=int,
)


def results_of(person: Person, visit_id: int) -> dict[int, ZoneResult]:
    """The results of a visit by zone id. One query."""
    return {row.zone_id: row for row in ZoneResult.objects.visible_to(person).filter(zone__visit=visit_id)}


def tweaks_of(person: Person, visit_id: int) -> dict[str, Tweak]:
    """What to change next time, by zone name. One query."""
    return {row.zone_name: row for row in Tweak.objects.visible_to(person).filter(visit=visit_id)}


def washes_since(person: Person, visit: Visit, day: datetime.date) -> float:
    """About how many washes there were from a visit to a day, by what the client says. One query."""
    weeks = max((day - visit.day).days, 0) / 7
    return min(weeks * float(home_care_of(person, visit).washes_a_week), float(WASHES_MOST))


def home_care_of(person: Person, visit: Visit) -> HomeCare:
    """What a client does and takes home after a visit; the last visit's habits stand in before they were asked.

    One query.
    """
    known = {"studio": person.studio_id, "visit": visit.pk, "client": visit.client_id}
    last = next(iter(_HOME_CARE(**known)), None)
    if last is None:
        consult = getattr(visit, "consult", None)
        return HomeCare(visit=visit, weekly_mask=consult is not None and consult.upkeep == Consult.Upkeep.WEEKLY)
    if last.visit_id == visit.pk:
        return last
    return HomeCare(
        visit=visit,
        washes_a_week=last.washes_a_week,
        hot_water=last.hot_water,
        pool=last.pool,
        sun=last.sun,
        weekly_mask=last.weekly_mask,
    )
