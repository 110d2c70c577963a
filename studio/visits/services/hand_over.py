"""Hand a head over to a colleague in mid-visit; what was done until then stays under who did it."""

from django.db import transaction

from studio.accounts.models import Person
from studio.ui.refusal import Refusal
from studio.visits.models import Visit


@transaction.atomic
def hand_over(person: Person, *, visit_id: int, to: int) -> Visit:
    """From now on the visit is at a colleague's chair. Clocks go on, and whoever works on sees them.

    Raises Refusal hand_gone: nobody of this studio who works at a chair; Visit.DoesNotExist.
    """
    visit = Visit.objects.visible_to(person).select_for_update(of=("self",)).get(pk=visit_id)
    colleague = Person.objects.filter(pk=to, studio=person.studio_id, is_active=True).first()
    if colleague is None or not colleague.works:
        raise Refusal("hand_gone", "to")
    visit.colourist = colleague
    visit.save(update_fields=["colourist"])
    return visit
