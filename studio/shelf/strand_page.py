"""A tube's strands: which to make, what was read, and what they tell together."""

from dataclasses import dataclass
from typing import Final

from engine.dye.characterise import NextStrand, prior_of, strands_to_make
from engine.language import say
from studio.accounts.models import Person
from studio.shelf.models import Shade, StrandReading
from studio.shelf.page import Known, known_of
from studio.shelf.selectors import stocked_line
from studio.shelf.services.told import told_by
from studio.ui.locks import Lock, lock_of_colour

STRAND_G: Final = 10.0  # of a bowl for one strand


@dataclass(frozen=True, kw_only=True)
class StrandPlanned:
    """A strand to make: the level of its clean hair, grams of the shade and of clear, and the share as parts."""

    level: float
    share: float
    shade_g: float
    clear_g: float

    @property
    def parts(self) -> str:
        """As colourists say it."""
        return say("undiluted") if self.share == 1 else say("1 to {told:g}", told=round(1 / self.share - 1, 1))


@dataclass(frozen=True, kw_only=True)
class StrandRow:
    """A strand that was read, its colour, how far it lies off what all strands tell (None while that is open), and
    whether it contradicts the others.
    """

    reading: StrandReading
    lock: Lock
    parts: str
    miss: float | None
    is_odd: bool


@dataclass(frozen=True, kw_only=True)
class StrandPage:
    """The page as its template takes it.

    doubt_now, doubt_then: delta E00 by which forecasts of the shade usually lie off, now and with the planned strands.
    """

    shade: Shade
    known: Known
    planned: tuple[StrandPlanned, ...]
    rows: tuple[StrandRow, ...]
    family: str
    doubt_now: float
    doubt_then: float
    grams: float = STRAND_G

    @property
    def is_contradicted(self) -> bool:
        """Whether one of its strands lies too far off what all of them tell."""
        return any(row.is_odd for row in self.rows)


def strand_page(person: Person, shade_id: int) -> StrandPage:
    """Gather it: a plan of four strands for a tube of which none was read, else the next one that would tell most.

    Raises Shade.DoesNotExist.
    """
    shade = Shade.objects.visible_to(person).select_related("line").get(pk=shade_id)
    found = stocked_line(shade.line).plain[shade.pk]
    readings = list(shade.strands.all())
    told = told_by(shade)
    steps: tuple[NextStrand, ...] = ()
    if not found.is_clear:
        steps = (told.next_strand,) if told else strands_to_make(prior_of(found))
    made = {(float(each.level), float(each.share)) for each in readings}
    misses = told.misses.tolist() if told else [None] * len(readings)
    odd = told.odd if told else (False,) * len(readings)
    return StrandPage(
        shade=shade,
        known=known_of(shade, found),
        planned=tuple(_planned(each) for each in steps if told or (each.level, each.share) not in made),
        rows=tuple(
            StrandRow(
                reading=each,
                lock=lock_of_colour((float(each.lightness), float(each.a), float(each.b))),
                parts=planned_share(float(each.share)).parts,
                miss=miss,
                is_odd=is_odd,
            )
            for each, miss, is_odd in zip(readings, misses, odd, strict=True)
        ),
        family=told.family if told else "",
        doubt_now=steps[0].doubt if steps else 0.0,
        doubt_then=steps[-1].doubt_after if steps else 0.0,
    )


def _planned(step: NextStrand) -> StrandPlanned:
    return planned_share(step.share, step.level)


def planned_share(share: float, level: float = 0.0) -> StrandPlanned:
    """A strand of a share 0-1 of a shade in clear, with its grams."""
    return StrandPlanned(
        level=level, share=share, shade_g=round(STRAND_G * share, 2), clear_g=round(STRAND_G * (1 - share), 2)
    )
