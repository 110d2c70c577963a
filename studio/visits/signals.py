"""What a visit tells to whatever stands over it; who listens may refuse, and all of it is one transaction."""

from dataclasses import dataclass
from typing import Final

from django.dispatch import Signal

from studio.visits.models import Zone

hair_first_read: Final = Signal()  # told: person, zone
zones_set: Final = Signal()  # told: person, change


@dataclass(frozen=True, kw_only=True)
class Carved:
    """A new zone and the one that it was made like; same_hair: whether all its hair was in that one until now."""

    zone: Zone
    like: Zone
    same_hair: bool


@dataclass(frozen=True, kw_only=True)
class ZonesSet:
    """The zones of a visit that were added or taken away in one change, with words for it."""

    visit_id: int
    made: tuple[Carved, ...]
    gone: tuple[Zone, ...]
    words: str
