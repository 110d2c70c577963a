"""Where the zones of a head lie, as the consult and Read have noted it."""

from collections.abc import Sequence

from engine.service.amounts import Density, Length
from engine.service.parting import Place, parted
from engine.service.stretch import LENGTH_CM, Head, Stretch
from studio.visits.models import Consult, Visit, Zone


def consult_of(visit: Visit) -> Consult:
    """The visit's consult, or an empty one that stands for it nowhere else."""
    return getattr(visit, "consult", None) or Consult()


def head_of(consult: Consult) -> Head:
    """The head of hair as it was measured, else as it was described."""
    length_cm = float(consult.length_cm or LENGTH_CM[Length(consult.length)])
    return Head(length_cm=length_cm, density=Density(consult.density))


def places_of(zones: Sequence[Zone]) -> list[Place]:
    """The zones as the engine takes them: their part, their strands, and what was measured."""
    return [
        Place(
            name=zone.name,
            part=zone.part,
            pattern=zone.pattern,
            from_cm=_number(zone.from_cm),
            to_cm=_number(zone.to_cm),
            area_share=_number(zone.area_share),
            strand_share=_number(zone.strand_share),
        )
        for zone in zones
    ]


def stretches_of(zones: Sequence[Zone], consult: Consult) -> tuple[Stretch, ...]:
    """Where each zone lies on the head, measured or as its part usually does."""
    return parted(places_of(zones), length_cm=head_of(consult).length_cm, regrowth_cm=_number(consult.regrowth_cm))


def _number(value: object) -> float | None:
    return None if value is None else float(str(value))
