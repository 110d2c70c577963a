"""Repeat a formula of the card for today's hair."""

import datetime

from django.db import transaction

from studio.accounts.models import Person
from studio.bench.services.open_bowl import open_bowl
from studio.bench.services.set_bench import set_bench
from studio.bench.state import BenchState
from studio.cards.models import Formula
from studio.cards.services.save_formula import HAIR, TARGET
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit


@transaction.atomic
def repeat_formula(person: Person, *, formula_id: int, day: datetime.date) -> Visit:
    """Set a day's bench as the formula has it: same line, aim and grams, one undo away.

    Hair that was read that day stays; else the formula's hair is the start, to be looked at again.
    Raises Formula.DoesNotExist for another studio's formula.
    """
    formula = Formula.objects.visible_to(person).get(pk=formula_id)
    visit = start_visit(person, client_id=formula.client_id, day=day)
    opened = open_zone(person, visit.pk)
    if opened.reading is None:
        read_hair(person, zone_id=opened.zone.pk, after=0, hair={name: getattr(formula, name) for name in HAIR})
    bowl = open_bowl(person, zone_id=opened.zone.pk)
    target = [getattr(formula, name) for name in TARGET]
    state = BenchState(
        line=formula.line_id,
        wanted_g=str(formula.wanted_g),
        target=None if None in target else [str(part) for part in target],
        grams={str(poured.shade_id): str(poured.grams) for poured in formula.pours.all()},
    )
    words = f"the formula of {formula.saved_at:%d %b %Y}"
    set_bench(person, zone_id=opened.zone.pk, version=bowl.version, state=state, words=words)
    return visit
