"""Where the zones of a head lie unless that is measured: how they part its scalp, its length and its strands.

What each part usually has of the scalp, and how strands are woven, is common practice, no published source; the shares
are the founders'. Zones never hold the same hair twice: what one takes the others leave.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from engine.arrays import within
from engine.errors import BadInput, Unknown
from engine.language import later
from engine.service.stretch import LENGTH_LIMITS_CM, Stretch

REGROWTH_CM: Final = 3.0  # two to three months of it, where nobody has measured
LENGTHWISE: Final = ("roots", "whole", "mids", "ends")
# Of the scalp, of zones that are a part of it and run the whole length there.
AREAS: Final[Mapping[str, float]] = {"frame": 0.1, "crown": 0.2, "nape": 0.15, "panel": 0.1, "left": 0.5, "right": 0.5}
HALVES: Final = frozenset({"left", "right"})  # of what other parts of the scalp leave
# Heads are most often parted like this.
SETS: Final[Mapping[str, tuple[str, ...]]] = {
    "whole": ("whole",),
    "two": ("roots", "ends"),
    "three": ("roots", "mids", "ends"),
    "halves": ("left", "right"),
}
LENGTHS: Final = later("lengths")  # what the ends are called where no mids are told from them
PARTS: Final = (*LENGTHWISE, *AREAS)
# Of the strands of their hair.
STRANDS: Final[Mapping[str, float]] = {
    "all": 1.0,
    "fine_weave": 0.3,
    "weave": 0.4,
    "chunky_weave": 0.5,
    "slices": 0.5,
    "alternate_a": 0.5,
    "alternate_b": 0.5,
    "herringbone": 0.5,
    "veil": 0.2,
}
LEAST_CM: Final = 0.5  # a zone is never thinner than this, however short the hair


def with_part(parts: Sequence[str], part: str) -> tuple[str, ...]:
    """The parts of a head when one more is treated on its own; a whole head is parted along its length for it.

    Two halves leave nothing to stretches of the length, nor these to them: one takes the others' place. Raises Unknown.
    """
    _known(part)
    if part in LENGTHWISE and set(parts) >= HALVES:
        parts = [*(each for each in parts if each not in HALVES), "whole"]
    elif part in HALVES and {*parts, part} >= HALVES:
        parts = [each for each in parts if each not in LENGTHWISE]
    if part in LENGTHWISE and part != "whole" and "whole" in parts:
        along = SETS["three" if part == "mids" else "two"]
        return in_order((*along, *(each for each in parts if each not in LENGTHWISE)))
    kept = [each for each in parts if part != "whole" or each not in LENGTHWISE]
    return in_order((*kept, part))


def parted_as(name: str, parts: Sequence[str]) -> tuple[str, ...]:
    """The parts of a head when it is parted along its length, or in halves, by one of `SETS`; parts of the scalp that
    stand on their own stay so.

    Raises Unknown.
    """
    if name not in SETS:
        raise Unknown("parting", name, SETS)
    return in_order((*SETS[name], *(each for each in parts if each not in LENGTHWISE and each not in HALVES)))


def in_order(parts: Sequence[str]) -> tuple[str, ...]:
    """Parts from root to end, then the parts of the scalp; each once. Raises Unknown."""
    for part in parts:
        _known(part)
    return tuple(part for part in PARTS if part in parts)


def came_from(part: str, parts: Sequence[str]) -> str | None:
    """The part of a head parted like this that all hair of a further part was in until now; None if there is none."""
    if part in parts:
        return part
    if "whole" in parts:
        return "whole"
    return "ends" if part == "mids" and "ends" in parts else None


def touches(part: str, other: str) -> bool:
    """Whether what is done to one part of a head is done to another: a half runs through all but the other half."""
    halves = HALVES & {part, other}
    return part == other or "whole" in (part, other) or len(halves) == 1


def called(part: str, parts: Sequence[str]) -> str | None:
    """What a part of a head that is parted like this is called; None for its own name."""
    return LENGTHS if part == "ends" and "roots" in parts and "mids" not in parts else None


def _known(part: str) -> None:
    if part not in PARTS:
        raise Unknown("part", part, PARTS)


@dataclass(frozen=True, kw_only=True)
class Place:
    """A zone as it was described. part: of the head. pattern: which strands. The rest: where it was measured.

    Raises Unknown, OutOfRange, BadInput.
    """

    name: str
    part: str = "whole"
    pattern: str = "all"
    from_cm: float | None = None
    to_cm: float | None = None
    area_share: float | None = None
    strand_share: float | None = None

    def __post_init__(self) -> None:
        _known(self.part)
        if self.pattern not in STRANDS:
            raise Unknown("pattern", self.pattern, STRANDS)
        if (self.from_cm is None) is not (self.to_cm is None):
            raise BadInput("to_cm", "from_cm and to_cm go together")

    @property
    def is_lengthwise(self) -> bool:
        """Whether it is a stretch of the length, all over the head."""
        return self.part in LENGTHWISE

    @property
    def is_all(self) -> bool:
        """Whether it has all strands that others leave."""
        return self.pattern == "all"


def parted(places: Sequence[Place], *, length_cm: float, regrowth_cm: float | None = None) -> tuple[Stretch, ...]:
    """The hair of each place, in their order, on hair of a length with so much regrowth.

    Roots have the regrowth; the other stretches of the length share the rest of it evenly, in their order. Parts of the
    scalp run all of the length, and stretches of the length have what they leave of the scalp. Strands that are woven
    out are left by what has all strands of the same part, or of the whole length. Raises OutOfRange.
    """
    within("length_cm", length_cm, *LENGTH_LIMITS_CM, "cm")
    usual_cm = (
        REGROWTH_CM if regrowth_cm is None else within("regrowth_cm", regrowth_cm, 0.0, LENGTH_LIMITS_CM[1], "cm")
    )
    ends = _along(places, length_cm, min(max(usual_cm, LEAST_CM), length_cm))
    taken = min(sum(_area(place) for place in places if not place.is_lengthwise and place.is_all), 1.0)
    smaller = sum(_area(each) for each in places if each.part in AREAS and each.part not in HALVES and each.is_all)
    found = []
    for place, (from_cm, to_cm) in zip(places, ends, strict=True):
        area = _area(place)
        if place.is_lengthwise and place.area_share is None:
            area = max(1.0 - taken, 0.0)
        elif place.part in HALVES and place.area_share is None:
            area *= max(1.0 - smaller, 0.0)
        strands = _strands(place)
        if place.is_all and place.strand_share is None:
            strands = max(1.0 - sum(_strands(each) for each in places if _is_out_of(each, place)), 0.0)
        found.append(
            Stretch(name=place.name, from_cm=from_cm, to_cm=to_cm, area_share=min(area, 1.0), strand_share=strands)
        )
    return tuple(found)


def _along(places: Sequence[Place], length_cm: float, regrowth_cm: float) -> list[tuple[float, float]]:
    """From where to where each place lies along the hair."""
    shared = [place for place in places if place.is_lengthwise and place.is_all and place.from_cm is None]
    rest = [place for place in shared if place.part != "roots"]
    has_roots = any(place.part == "roots" for place in places if place.is_all)
    start_cm = min(regrowth_cm, length_cm - LEAST_CM * len(rest)) if has_roots and rest else 0.0
    each_cm = (length_cm - start_cm) / max(len(rest), 1)
    found = []
    for place in places:
        if place.from_cm is not None and place.to_cm is not None:
            found.append((min(place.from_cm, length_cm - LEAST_CM), min(place.to_cm, length_cm)))
        elif place.part == "roots":
            found.append((0.0, start_cm if rest and place.is_all else regrowth_cm))
        elif place.is_lengthwise and place.is_all:
            at = next(index for index, each in enumerate(rest) if each is place)
            found.append((start_cm + at * each_cm, start_cm + (at + 1) * each_cm))
        else:
            found.append((0.0, length_cm))
    return found


def _area(place: Place) -> float:
    if place.area_share is not None:
        return place.area_share
    return AREAS.get(place.part, 1.0)


def _strands(place: Place) -> float:
    return STRANDS[place.pattern] if place.strand_share is None else place.strand_share


def _is_out_of(woven: Place, place: Place) -> bool:
    """Whether strands were woven out of the hair of a place."""
    return not woven.is_all and (woven.part == place.part or (woven.is_lengthwise and place.is_lengthwise))
