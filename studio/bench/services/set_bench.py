"""Set the whole bench at once, as a repeated formula does."""

from studio.accounts.models import Person
from studio.bench.models import Bowl
from studio.bench.services.changing import changing
from studio.bench.state import BenchState, restore


def set_bench(person: Person, *, zone_id: int, version: int, state: BenchState, words: str) -> Bowl:
    """Bring line, aim, grams wanted and bowl to a state in one step, one undo away.

    Raises Stale; Bowl.DoesNotExist.
    """
    with changing(person, zone_id=zone_id, version=version, words=words) as bowl:
        restore(bowl, state)
    return bowl
