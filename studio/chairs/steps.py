"""The steps of a visit in their order, each done, now or to come, with the address that leads to it."""

from dataclasses import dataclass
from typing import Final
from urllib.parse import urlencode

from django.urls import reverse

from engine.language import later, say
from studio.chairs.progress import progress_of
from studio.visits.models import Visit

# The step, its word, its page, what has to have happened at the visit for it to be done, and what it takes along.
_STEPS: Final = (
    ("consult", later("Consult"), "visits:consult", "consulted", ""),
    ("read", later("Read"), "visits:read", "read", "zone"),
    ("aim", later("Aim"), "bench:bench", "aimed", "coat"),
    ("route", later("Route"), "route:route", "routed", "zone"),
    ("plan", later("Plan"), "route:plan", "planned", "zone"),
    ("bench", later("Bench"), "bench:bench", "poured", "coat"),
    ("pour", later("Pour"), "pour:pour", "mixed", "coat"),
    ("clock", later("Clock"), "clocks:clock", "rinsed", "coat"),
    ("result", later("Result"), "result:result", "judged", "zone"),
    ("care", later("Care"), "result:care", "on_card", "zone"),
)


@dataclass(frozen=True, kw_only=True)
class Step:
    """One step; follows_coat: its address follows the coat in hand."""

    words: str
    href: str
    is_done: bool
    is_here: bool
    follows_coat: bool


class Steps(tuple[Step, ...]):
    """The steps of one visit."""

    @property
    def told(self) -> str:
        """Where one is among them, as "Bench, 6 of 10"; outside of them, how many there are."""
        for place, step in enumerate(self, start=1):
            if step.is_here:
                return say("{words}, {place} of {steps}", words=step.words, place=place, steps=len(self))
        return say("{steps} steps", steps=len(self))


def steps_of(visit: Visit, here: str, *, zone_id: int | None, coat_id: int | None) -> Steps:
    """The steps of a visit. One query."""
    seen = progress_of(visit.pk)
    return Steps(
        Step(
            words=words,
            href=_address(name, page, visit.pk, zone_id, coat_id if takes == "coat" else None, takes),
            is_done=seen[done],
            is_here=name == here,
            follows_coat=takes == "coat",
        )
        for name, words, page, done, takes in _STEPS
    )


def _address(name: str, page: str, visit_id: int, zone_id: int | None, coat_id: int | None, takes: str) -> str:
    asked: dict[str, object] = {"mode": "aim"} if name == "aim" else {}
    if zone_id and takes:
        asked |= {"zone": zone_id} | ({"coat_id": coat_id} if coat_id else {})
    return reverse(page, args=[visit_id]) + (f"?{urlencode(asked)}" if asked else "")
