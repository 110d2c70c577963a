"""What is known of a client, of their skin and hair, and of the house's own rules, when a coat is judged."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

from engine.errors import OutOfRange
from engine.service.past import UNKNOWN_CHEMISTRY, Earlier, Past, lifts_of
from engine.service.work import LIFT_MOST_LEVELS, SCALP_MOST_VOL, Mix, Place

COLOUR_FROM_YEARS: Final = 16
ADULT_FROM_YEARS: Final = 18
TEST_LEAST_HOURS: Final = 48.0  # after which a sensitivity test counts: packs and HANDBOOK section 8
TEST_MOST_HOURS: Final = 168.0  # no house waits longer than a week
STRONG_HAIR_LEVELS: Final = 4.0  # most that one visit asks of strong virgin hair, in steps with checks; the founders'


class Scalp(StrEnum):
    """The skin of the head on the day."""

    SOUND = "sound"
    TINGLING = "tingling"
    SORE = "sore"
    SUNBURNT = "sunburnt"
    BROKEN = "broken"


@dataclass(frozen=True, kw_only=True)
class SensitivityTest:
    """A sensitivity test: whole hours before now, whether the skin stayed clear, and the line that was tested."""

    hours_ago: float
    clear: bool
    line: str = ""


@dataclass(frozen=True, kw_only=True)
class StrandTest:
    """A strand test of a mix on a part of the head, and whether the strand passed."""

    mix: Mix
    part: str
    passed: bool
    hours_ago: float = 0.0

    def is_of(self, mix: Mix, place: Place) -> bool:
        """Whether it says anything of this mix on this place: a test opens, or shuts, only what it tested."""
        same = self.part == place.part and self.mix.kind is mix.kind and self.mix.line == mix.line
        return same and (self.mix.covers(mix) if self.passed else mix.covers(self.mix))


@dataclass(frozen=True, kw_only=True)
class House:
    """The studio's own rules, where they may be stricter than the trade's.

    colour_from_years: no peroxide before that age. minors_stop, health_stops: whether a minor without a guardian's
    consent, or pregnancy, illness, medicines and a doctor's open note, stop the work or are a caution.
    lines_apart: whether a second line on one head stops it.
    strong_hair_levels: most levels a visit on strong virgin hair. test_least_h: hours after which a sensitivity test
    counts; scalp_most_vol: strength of developer on the scalp. Raises OutOfRange for one laxer than the trade's.
    """

    colour_from_years: int = COLOUR_FROM_YEARS
    minors_stop: bool = False
    health_stops: bool = False
    lines_apart: bool = False
    strong_hair_levels: float = STRONG_HAIR_LEVELS
    test_least_h: float = TEST_LEAST_HOURS
    scalp_most_vol: float = SCALP_MOST_VOL

    def __post_init__(self) -> None:
        if not TEST_LEAST_HOURS <= self.test_least_h <= TEST_MOST_HOURS:
            raise OutOfRange("test_least_h", self.test_least_h, TEST_LEAST_HOURS, TEST_MOST_HOURS, "h")
        if not 0 <= self.scalp_most_vol <= SCALP_MOST_VOL:
            raise OutOfRange("scalp_most_vol", self.scalp_most_vol, 0, SCALP_MOST_VOL, "vol")


@dataclass(frozen=True, kw_only=True)
class Known:
    """What is known. None, or the default, is "no" or "not asked yet".

    lifted_today: levels that this place has been lifted today. is_virgin: nothing was ever done to the hair, as the
    client says: an empty history alone says nothing. is_fragile: hair that gives way by texture or wear;
    is_curly: whose curl sets the limit. stung_today: something stung, itched or burnt at this visit. going_today:
    stretch or curl was seen going at a check of a lift on this place.
    """

    age_years: int | None = None
    guardian_consents: bool = False
    reacted: bool = False
    black_henna_tattoo: bool = False
    sensitivities: Sequence[str] = ()
    pregnant: bool = False
    ill: bool = False
    doctors_note: bool = False
    scalp: Scalp = Scalp.SOUND
    stung_today: bool = False
    going_today: bool = False
    past: Sequence[Past] = ()
    tests: Sequence[SensitivityTest] = ()
    strand_tests: Sequence[StrandTest] = ()
    lifted_today: float = 0.0
    is_virgin: bool = False
    is_fragile: bool = False
    is_curly: bool = False
    curl_loosened: bool = False
    stretch_failed: bool = False
    house: House = field(default_factory=House)

    def lifts_before(self, place: Place) -> list[Past]:
        """The lifts that a place has had at earlier visits, the newest first."""
        return [each for each in lifts_of(self.past, place.part) if each.days_ago > 0]

    def gives_way(self, place: Place) -> bool:
        """Whether at most two levels a visit are asked of the hair."""
        worked = any(each.work is not Earlier.DIRECT and each.touches(place.part) for each in self.past)
        return self.is_fragile or self.is_curly or worked or not (self.is_virgin and place.is_natural)

    def most_levels(self, place: Place) -> float:
        """The most levels that the house's school asks of the hair in one visit."""
        return LIFT_MOST_LEVELS if self.gives_way(place) else self.house.strong_hair_levels

    def has_unknown_chemistry(self, place: Place) -> bool:
        """Whether something is on this hair of which nobody knows how it meets peroxide."""
        return any(each.work in UNKNOWN_CHEMISTRY and each.touches(place.part) for each in self.past)

    def has_been_straightened(self, place: Place) -> bool:
        """Whether this hair was relaxed or permed."""
        return any(each.work in (Earlier.RELAXER, Earlier.PERM) and each.touches(place.part) for each in self.past)

    def strand_test(self, mix: Mix, place: Place) -> StrandTest | None:
        """The newest test that says something of this mix on this place."""
        found = [test for test in self.strand_tests if test.is_of(mix, place)]
        return min(found, key=lambda test: test.hours_ago, default=None)
