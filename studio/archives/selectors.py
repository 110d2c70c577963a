"""What of archives a studio has, and whether it has anything yet."""

from studio.accounts.models import Person
from studio.archives.models import Transfer
from studio.archives.tables import CONTEXTS, HOUSE, PATHS, PEOPLE, rows_of, tracked

OF_EVERY_STUDIO = (HOUSE, PEOPLE, CONTEXTS, "account.EmailAddress", "practice.Drill")


def is_bare(studio_id: int) -> bool:
    """Whether a studio has nothing yet but its people and its rules. A query for each table, while all are empty."""
    tables = (label for label in PATHS if label not in OF_EVERY_STUDIO and not tracked(label))
    return not any(rows_of(label, studio_id).exists() for label in tables)


def transfers_of(person: Person) -> list[Transfer]:
    """The archives of a studio, the newest first. One query."""
    return list(Transfer.objects.visible_to(person).select_related("person__same_as")[:20])
