"""Safety gates: what must be known or recorded before a risk is taken, each at the step where it arises.

Every rule is common practice of the trade with no published source. They defer to the pack, to local rules and to
licensed practice.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.bowl.cautions import Severity
from engine.service.past import UNKNOWN_CHEMISTRY, Past, Work

ADULT_FROM_YEARS: Final = 16
TEST_LEAST_HOURS: Final = 48.0
TEST_LASTS_DAYS: Final = 183  # a long gap; chosen by the founders
LIFT_MOST_LEVELS: Final = 2.0  # on fragile, curly or already lightened hair
RELIFT_LEAST_DAYS: Final = 14
LIFTS_MANY: Final = 3
POROUS_FROM: Final = 1.4
SCALP_MOST_VOL: Final = 20.0
ANYWHERE_MOST_VOL: Final = 40.0


class Stage(StrEnum):
    """The step of a visit at which a gate stands."""

    CONSULT = "consult"
    LIFT = "lift"
    MIX = "mix"
    PROCESS = "process"
    HANDOVER = "handover"


class Scalp(StrEnum):
    """The skin of the head on the day."""

    SOUND = "sound"
    SORE = "sore"
    BROKEN = "broken"
    SUNBURNT = "sunburnt"


@dataclass(frozen=True, kw_only=True)
class SensitivityTest:
    """A sensitivity test: hours before the work, whether the skin stayed clear, and the line that was tested."""

    hours_ago: float
    clear: bool
    line: str = ""


@dataclass(frozen=True, kw_only=True)
class Facts:
    """What is known of a client and of the work that is planned. None, or the default, is "no" or "not known".

    lift_levels: how far the zone is to be lifted today. fragile: hair that gives way: fine and worn, curly, relaxed.
    """

    age_years: int | None = None
    scalp: Scalp = Scalp.SOUND
    reacted: bool = False
    black_henna_tattoo: bool = False
    past: Sequence[Past] = ()
    tests: Sequence[SensitivityTest] = ()
    strand_tested: bool = False
    oxidative: bool = False
    direct: bool = False
    line: str = ""
    lift_levels: float = 0.0
    lifts_before: int = 0
    days_since_lift: int | None = None
    porosity: float = 1.0
    fragile: bool = False
    overlaps_light_hair: bool = False
    curl_loosened: bool = False
    stretch_failed: bool = False
    vol: float = 0.0
    on_scalp: bool = False
    heat: bool = False
    over_wet_colour: bool = False
    minutes: float | None = None
    pack_most_min: float | None = None
    metal_bowl: bool = False
    lines_mixed: bool = False
    other_developer: bool = False
    powder_unguarded: bool = False
    keeps_mixed_oxidative: bool = False
    near_eyes: bool = False

    @property
    def lifts(self) -> bool:
        """Whether anything is to be lightened."""
        return self.lift_levels > 0

    @property
    def test_in_force(self) -> bool:
        """Whether a clear sensitivity test of this line is old enough and not too old."""
        return any(
            test.clear
            and TEST_LEAST_HOURS <= test.hours_ago <= 24 * TEST_LASTS_DAYS
            and (not self.line or not test.line or test.line == self.line)
            for test in self.tests
        )

    @property
    def unknown_chemistry(self) -> bool:
        """Whether something is on the hair of which nobody knows how it meets peroxide."""
        return any(each.work in UNKNOWN_CHEMISTRY for each in self.past)

    @property
    def worn(self) -> bool:
        """Whether hair has been through as much as it bears."""
        return self.porosity >= POROUS_FROM or self.lifts_before >= LIFTS_MANY


@dataclass(frozen=True, kw_only=True)
class Rule:
    """One gate of the book. final: no signature opens it."""

    code: str
    severity: Severity
    stage: Stage
    sentence: str
    holds: Callable[[Facts], bool]
    final: bool = False


@dataclass(frozen=True, kw_only=True)
class Gate:
    """A gate that stands in the way now; `code` never changes, `sentence` is for reading."""

    code: str
    severity: Severity
    stage: Stage
    sentence: str
    final: bool

    @property
    def stops(self) -> bool:
        """Whether the work may not go on as things stand."""
        return self.severity is Severity.STOP


def gates(facts: Facts) -> tuple[Gate, ...]:
    """Every gate that the facts raise, stops first, then in the order of work."""
    order = (Severity.STOP, Severity.CAUTION, Severity.NOTE)
    raised = [rule for rule in RULES if rule.holds(facts)]
    return tuple(
        Gate(code=rule.code, severity=rule.severity, stage=rule.stage, sentence=rule.sentence, final=rule.final)
        for rule in sorted(raised, key=lambda rule: order.index(rule.severity))
    )


def _untested(facts: Facts) -> bool:
    return facts.oxidative and not facts.test_in_force and not (facts.reacted or facts.black_henna_tattoo)


def _lift_is_much(facts: Facts) -> bool:
    many = facts.lift_levels > LIFT_MOST_LEVELS and (facts.fragile or facts.lifts_before > 0)
    soon = facts.lifts and facts.days_since_lift is not None and facts.days_since_lift < RELIFT_LEAST_DAYS
    return many or soon or (facts.lifts and facts.overlaps_light_hair)


def _failed(facts: Facts) -> bool:
    return facts.lifts and (facts.curl_loosened or facts.stretch_failed)


STOP, CAUTION, NOTE = Severity.STOP, Severity.CAUTION, Severity.NOTE
RULES: Final = (
    Rule(
        code="under_age",
        severity=STOP,
        stage=Stage.CONSULT,
        final=True,
        sentence="Under 16: no oxidative colour. Your own rules may ask for more.",
        holds=lambda facts: facts.oxidative and facts.age_years is not None and facts.age_years < ADULT_FROM_YEARS,
    ),
    Rule(
        code="reacted_before",
        severity=STOP,
        stage=Stage.CONSULT,
        final=True,
        sentence="An earlier reaction, or a black henna tattoo: no oxidative colour. Refer to a doctor.",
        holds=lambda facts: facts.oxidative and (facts.reacted or facts.black_henna_tattoo),
    ),
    Rule(
        code="test_reacted",
        severity=STOP,
        stage=Stage.CONSULT,
        final=True,
        sentence="The sensitivity test showed a reaction: no oxidative colour. Refer to a doctor.",
        holds=lambda facts: facts.oxidative and any(not test.clear for test in facts.tests),
    ),
    Rule(
        code="sensitivity_test",
        severity=STOP,
        stage=Stage.CONSULT,
        sentence=(
            "No clear sensitivity test of this line from at least 48 hours before the visit, and not too long ago. "
            "Record one, or postpone the oxidative colour."
        ),
        holds=_untested,
    ),
    Rule(
        code="scalp_not_sound",
        severity=STOP,
        stage=Stage.CONSULT,
        final=True,
        sentence="The scalp is sore, broken or sunburnt: postpone.",
        holds=lambda facts: facts.scalp is not Scalp.SOUND,
    ),
    Rule(
        code="unknown_chemistry",
        severity=STOP,
        stage=Stage.CONSULT,
        sentence=(
            "Henna, metallic salts or a box dye has been on this hair: what it holds can heat up, smoke or break "
            "with peroxide. Strand test first."
        ),
        holds=lambda facts: facts.unknown_chemistry and not facts.strand_tested and (facts.lifts or facts.oxidative),
    ),
    Rule(
        code="strand_test",
        severity=CAUTION,
        stage=Stage.CONSULT,
        sentence="Strand test before lifting, filling, correcting, or any mix that is new to this head.",
        holds=lambda facts: not facts.strand_tested,
    ),
    Rule(
        code="too_strong_for_scalp",
        severity=STOP,
        stage=Stage.LIFT,
        sentence="More than 20 vol (6 %) on the scalp.",
        holds=lambda facts: facts.on_scalp and SCALP_MOST_VOL < facts.vol <= ANYWHERE_MOST_VOL,
    ),
    Rule(
        code="too_strong",
        severity=STOP,
        stage=Stage.LIFT,
        final=True,
        sentence="More than 40 vol (12 %): not for salon use in many places.",
        holds=lambda facts: facts.vol > ANYWHERE_MOST_VOL,
    ),
    Rule(
        code="lift_too_much",
        severity=STOP,
        stage=Stage.LIFT,
        sentence="This hair has been through too much for this lift: less today, with rest between, or another aim.",
        holds=lambda facts: _failed(facts) or (_lift_is_much(facts) and facts.worn),
    ),
    Rule(
        code="lift_much",
        severity=CAUTION,
        stage=Stage.LIFT,
        sentence=(
            "More than 2 levels on fragile or lightened hair, light hair overlapped, or a lift within 2 weeks of "
            "the last: curl and strength set the limit, not the wish."
        ),
        holds=lambda facts: _lift_is_much(facts) and not _failed(facts) and not facts.worn,
    ),
    Rule(
        code="relaxed",
        severity=CAUTION,
        stage=Stage.LIFT,
        sentence="Relaxed or permed hair: lift gently, check the stretch, and let the pack decide whether at all.",
        holds=lambda facts: facts.lifts and any(each.work in (Work.RELAXER, Work.PERM) for each in facts.past),
    ),
    Rule(
        code="heat_on_lightener",
        severity=CAUTION,
        stage=Stage.LIFT,
        sentence="Heat with lightener runs fast: check every 5 minutes, and only if the pack allows it.",
        holds=lambda facts: facts.lifts and facts.heat,
    ),
    Rule(
        code="over_wet_colour",
        severity=CAUTION,
        stage=Stage.LIFT,
        sentence="Lightener over wet colour needs a strand test.",
        holds=lambda facts: facts.lifts and facts.over_wet_colour and not facts.strand_tested,
    ),
    Rule(
        code="past_pack_time",
        severity=STOP,
        stage=Stage.PROCESS,
        final=True,
        sentence="Past the pack's longest time: rinse.",
        holds=lambda facts: (
            facts.minutes is not None and facts.pack_most_min is not None and facts.minutes > facts.pack_most_min
        ),
    ),
    Rule(
        code="metal_bowl",
        severity=CAUTION,
        stage=Stage.MIX,
        sentence="Peroxide and metal don't go together: mix in plastic, glass or ceramic.",
        holds=lambda facts: facts.metal_bowl and (facts.lifts or facts.oxidative),
    ),
    Rule(
        code="lines_mixed",
        severity=CAUTION,
        stage=Stage.MIX,
        sentence="Shades of different lines, or another line's developer: they were not made for one another.",
        holds=lambda facts: facts.lines_mixed or facts.other_developer,
    ),
    Rule(
        code="powder",
        severity=CAUTION,
        stage=Stage.MIX,
        sentence="Powder lightener in the air: mask and fresh air while it is mixed.",
        holds=lambda facts: facts.lifts and facts.powder_unguarded,
    ),
    Rule(
        code="mixed_oxidative_kept",
        severity=STOP,
        stage=Stage.HANDOVER,
        final=True,
        sentence="Mixed oxidative product is never kept in a closed bottle: it can burst. Only direct dye goes home.",
        holds=lambda facts: facts.keeps_mixed_oxidative,
    ),
    Rule(
        code="near_eyes",
        severity=STOP,
        stage=Stage.MIX,
        final=True,
        sentence="Eyes, brows and lashes: never.",
        holds=lambda facts: facts.near_eyes,
    ),
    Rule(
        code="bleeding",
        severity=NOTE,
        stage=Stage.HANDOVER,
        sentence="Direct dye stains bedding, pools and pale clothes; blue and green are the hardest to remove.",
        holds=lambda facts: facts.direct,
    ),
)
