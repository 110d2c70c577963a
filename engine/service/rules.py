"""The book of gates: what must be known or recorded before a coat goes on, each rule with what makes it worse.

Every rule is common practice of the trade with no published source. They defer to the pack, to local rules and to
licensed practice.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from engine.bowl.cautions import Severity
from engine.language import later
from engine.service.known import ADULT_FROM_YEARS, Known, Scalp
from engine.service.work import ANYWHERE_MOST_VOL, Work, WorkKind

NEVER_TESTED_H: Final = 1e6  # hours short of a test that was never made
RELIFT_LEAST_DAYS: Final = 14
LIFTS_MANY: Final = 3
POROUS_FROM: Final = 1.4
SCALPS: Final = tuple(Scalp)  # from sound to broken

Holds = Callable[[Work, Known], bool]
Given = Callable[[Work, Known], Mapping[str, float]]


def _nothing(work: Work, known: Known) -> Mapping[str, float]:
    return {}


@dataclass(frozen=True, kw_only=True)
class Rule:
    """One gate of the book.

    final: no signature opens it. given: the facts that a signature is given for, as numbers of which more is worse.
    """

    code: str
    severity: Severity
    sentence: str
    holds: Holds
    final: bool = False
    given: Given = _nothing


def needs_test(work: Work) -> bool:
    """Whether a sensitivity test is asked for: by peroxide, or by the line's own pack."""
    return (work.has_peroxide or work.asks_test) and work.kind is not WorkKind.HOME


def _untested(work: Work, known: Known) -> bool:
    return needs_test(work) and not _is_barred(known) and bool(_test_gap(work, known))


def _is_barred(known: Known) -> bool:
    """Whether peroxide is out of the question, so that a test is not asked for."""
    return known.reacted or known.black_henna_tattoo


def _test_gap(work: Work, known: Known) -> Mapping[str, float]:
    """How far the best clear test of this line is from one that counts; empty when one counts."""
    clear = [test.hours_ago for test in known.tests if test.clear and test.line == work.line and test.hours_ago >= 0]
    most_h = 24.0 * work.test_lasts_days
    least_h = known.house.test_least_h
    if any(least_h <= hours <= most_h for hours in clear):
        return {}
    short = min((max(least_h - hours, 0) for hours in clear), default=NEVER_TESTED_H)
    over = min((max(hours - most_h, 0) for hours in clear), default=0.0)
    return {"hours_short": short, "hours_over": over}


def _reacting_test(work: Work, known: Known) -> bool:
    tested = any(not test.clear and (work.has_peroxide or test.line == work.line) for test in known.tests)
    return tested and needs_test(work)


def _matches(work: Work, known: Known) -> bool:
    """Whether a word of what the client reacts to is a word of what the pack declares, or the other way round."""
    told = [f" {' '.join(words.lower().split())} " for words in known.sensitivities if words.strip()]
    declared = [f" {' '.join(words.lower().split())} " for words in work.declares if words.strip()]
    return any(one in other or other in one for one in told for other in declared)


def _has_lines_beside(work: Work) -> bool:
    return bool(work.lines_beside - {work.line}) and work.kind is not WorkKind.HOME


def _is_minor(known: Known) -> bool:
    return known.age_years is not None and known.age_years < ADULT_FROM_YEARS and not known.guardian_consents


def _too_young(work: Work, known: Known) -> bool:
    return work.has_peroxide and known.age_years is not None and known.age_years < known.house.colour_from_years


def _health(work: Work, known: Known) -> bool:
    return known.pregnant or known.ill or known.doctors_note


def _chemistry_untested(work: Work, known: Known) -> bool:
    test = known.strand_test(work.mix, work.place)
    return work.has_peroxide and known.has_unknown_chemistry(work.place) and (test is None or not test.passed)


def _strand_failed(work: Work, known: Known) -> bool:
    test = known.strand_test(work.mix, work.place)
    return test is not None and not test.passed


def _wants_strand_test(work: Work, known: Known) -> bool:
    tested = known.strand_test(work.mix, work.place) is not None
    return (work.kind.colours or work.lifts) and not tested and work.kind is not WorkKind.MASK


def lift_total(work: Work, known: Known) -> float:
    """Levels that this place is lifted by today, this coat with it."""
    return known.lifted_today + work.lift_levels


def _is_soon(work: Work, known: Known) -> bool:
    lifts = known.lifts_before(work.place)
    return bool(lifts) and lifts[0].days_ago < RELIFT_LEAST_DAYS


def _lift_is_much(work: Work, known: Known) -> bool:
    if not work.lifts:
        return False
    over = lift_total(work, known) > known.most_levels(work.place) + 1e-9
    return over or _is_soon(work, known) or work.place.overlaps_light


def _has_failed(work: Work, known: Known) -> bool:
    return work.lifts and (known.curl_loosened or known.stretch_failed)


def _is_worn(work: Work, known: Known) -> bool:
    return work.place.porosity >= POROUS_FROM or len(known.lifts_before(work.place)) >= LIFTS_MANY


def _lift_given(work: Work, known: Known) -> Mapping[str, float]:
    lifts = known.lifts_before(work.place)
    return {
        "levels": lift_total(work, known),
        "lifts": len(lifts),
        "days_short": max(RELIFT_LEAST_DAYS - lifts[0].days_ago, 0) if lifts else 0,
        "porosity": work.place.porosity,
        "failed": float(_has_failed(work, known)),
        "vol": work.vol,
    }


def _touches(work: Work) -> bool:
    return work.place.touches_scalp and work.kind is not WorkKind.HOME


def _is_over_lightener(work: Work, known: Known) -> bool:
    return work.kind.colours and WorkKind.LIGHTENER in work.place.beneath


def _is_over_colour(work: Work, known: Known) -> bool:
    return work.lifts and any(kind.colours for kind in work.place.beneath)


STOP, CAUTION, NOTE = Severity.STOP, Severity.CAUTION, Severity.NOTE
RULES: Final = (
    Rule(
        code="under_age",
        severity=STOP,
        final=True,
        sentence=later("Too young for anything with peroxide, by the trade's rule or the house's own."),
        holds=_too_young,
    ),
    Rule(
        code="reacted_before",
        severity=STOP,
        final=True,
        sentence=later("An earlier reaction, or a black henna tattoo: nothing with peroxide. Refer to a doctor."),
        holds=lambda work, known: work.has_peroxide and _is_barred(known),
    ),
    Rule(
        code="test_reacted",
        severity=STOP,
        final=True,
        sentence=later("A sensitivity test showed a reaction: not this. Refer to a doctor."),
        holds=_reacting_test,
    ),
    Rule(
        code="allergy",
        severity=STOP,
        final=True,
        sentence=later("The pack declares something that the client reacts to."),
        holds=lambda work, known: work.kind.colours and _matches(work, known),
    ),
    Rule(
        code="stung_today",
        severity=STOP,
        final=True,
        sentence=later(
            "Something stung or burnt at this visit: nothing with peroxide today. If it lasts, refer to a doctor."
        ),
        holds=lambda work, known: work.has_peroxide and known.stung_today,
    ),
    Rule(
        code="scalp_broken",
        severity=STOP,
        final=True,
        sentence=later("The scalp is broken: postpone everything that touches it."),
        holds=lambda work, known: _touches(work) and known.scalp is Scalp.BROKEN,
    ),
    Rule(
        code="forty_on_scalp",
        severity=STOP,
        final=True,
        sentence=later("40 vol (12 %) on the scalp: never."),
        holds=lambda work, known: _touches(work) and work.vol >= ANYWHERE_MOST_VOL,
    ),
    Rule(
        code="too_strong",
        severity=STOP,
        final=True,
        sentence=later("More than 40 vol (12 %): not for salon use in many places."),
        holds=lambda work, known: work.vol > ANYWHERE_MOST_VOL,
    ),
    Rule(
        code="unknown_chemistry",
        severity=STOP,
        final=True,
        sentence=(
            later(
                "Henna, metallic salts or a box dye is on this hair: with peroxide it can heat up, smoke or break. A "
                "strand test of this very mix on this hair, passed, opens it."
            )
        ),
        holds=_chemistry_untested,
    ),
    Rule(
        code="strand_failed",
        severity=STOP,
        final=True,
        sentence=later("A strand of this hair failed with this mix."),
        holds=_strand_failed,
    ),
    Rule(
        code="going",
        severity=STOP,
        final=True,
        sentence=later("Stretch or curl went at a check today: no more lift on this visit."),
        holds=lambda work, known: work.lifts and known.going_today,
    ),
    Rule(
        code="colour_over_lightener",
        severity=STOP,
        final=True,
        sentence=later("Lightener is still on this hair: rinse it first."),
        holds=_is_over_lightener,
    ),
    Rule(
        code="past_pack_time",
        severity=STOP,
        final=True,
        sentence=later("Past the longest time that the pack allows: rinse."),
        holds=lambda work, known: (
            work.minutes is not None and work.pack_most_min is not None and work.minutes > work.pack_most_min
        ),
    ),
    Rule(
        code="near_eyes",
        severity=STOP,
        final=True,
        sentence=later("Eyes, brows and lashes: never."),
        holds=lambda work, known: work.place.is_near_eyes,
    ),
    Rule(
        code="mixed_kept",
        severity=STOP,
        final=True,
        sentence=later("What has touched developer is never closed in a bottle, kept or taken home: it can burst."),
        holds=lambda work, known: work.kind is WorkKind.HOME and work.has_peroxide,
    ),
    Rule(
        code="sensitivity_test",
        severity=STOP,
        sentence=later(
            "No clear sensitivity test of this line, at least 48 hours old, or as old as the house asks, and no "
            "older than the pack says."
        ),
        holds=_untested,
        given=_test_gap,
    ),
    Rule(
        code="scalp_not_sound",
        severity=STOP,
        sentence=later("The scalp is sore or sunburnt: postpone what touches it."),
        holds=lambda work, known: _touches(work) and known.scalp in (Scalp.SORE, Scalp.SUNBURNT),
        given=lambda work, known: {"scalp": SCALPS.index(known.scalp), "vol": work.vol},
    ),
    Rule(
        code="too_strong_for_scalp",
        severity=STOP,
        sentence=later("More than 20 vol (6 %), or than the house allows, on the scalp."),
        holds=lambda work, known: _touches(work) and known.house.scalp_most_vol < work.vol < ANYWHERE_MOST_VOL,
        given=lambda work, known: {"vol": work.vol},
    ),
    Rule(
        code="lift_too_much",
        severity=STOP,
        sentence=later(
            "This hair has been through too much for this lift: less today, with rest between, or another aim."
        ),
        holds=lambda work, known: _has_failed(work, known) or (_lift_is_much(work, known) and _is_worn(work, known)),
        given=_lift_given,
    ),
    Rule(
        code="heat_on_fragile",
        severity=STOP,
        sentence=later("Heat with lightener on fragile hair."),
        holds=lambda work, known: work.lifts and work.heat and known.is_fragile,
        given=_lift_given,
    ),
    Rule(
        code="minor_stopped",
        severity=STOP,
        sentence=later("A minor, and no guardian's consent is on record."),
        holds=lambda work, known: work.kind.colours | work.lifts and _is_minor(known) and known.house.minors_stop,
        given=lambda work, known: {"years_short": ADULT_FROM_YEARS - (known.age_years or 0)},
    ),
    Rule(
        code="health_stopped",
        severity=STOP,
        sentence=later("Pregnancy, illness, medicines or a doctor's open note: the house's rules stop here."),
        holds=lambda work, known: _health(work, known) and known.house.health_stops and work.kind is not WorkKind.HOME,
        given=lambda work, known: {"reasons": known.pregnant + known.ill + known.doctors_note, "vol": work.vol},
    ),
    Rule(
        code="lines_stopped",
        severity=STOP,
        sentence=later("A second line on one head: the house keeps lines apart."),
        holds=lambda work, known: _has_lines_beside(work) and known.house.lines_apart,
        given=lambda work, known: {"lines": len(work.lines_beside - {work.line})},
    ),
    Rule(
        code="minor",
        severity=CAUTION,
        sentence=later("A minor: ask for a guardian's consent, and look what local rules say."),
        holds=lambda work, known: work.kind.colours | work.lifts and _is_minor(known) and not known.house.minors_stop,
    ),
    Rule(
        code="health",
        severity=CAUTION,
        sentence=later("Pregnancy, illness, medicines or a doctor's open note: as the pack and the doctor say."),
        holds=lambda work, known: (
            _health(work, known) and not known.house.health_stops and work.kind is not WorkKind.HOME
        ),
    ),
    Rule(
        code="sensitive",
        severity=CAUTION,
        sentence=later("The client is sensitive: read what the pack declares before it is opened."),
        holds=lambda work, known: work.kind.colours and bool(known.sensitivities) and not _matches(work, known),
    ),
    Rule(
        code="scalp_tingles",
        severity=CAUTION,
        sentence=later("A scalp that tingles: oil it, test a strand, and go gentler."),
        holds=lambda work, known: _touches(work) and known.scalp is Scalp.TINGLING,
    ),
    Rule(
        code="strand_test",
        severity=CAUTION,
        sentence=later("Strand test before lifting, filling, correcting, or a mix that is new to this head."),
        holds=_wants_strand_test,
    ),
    Rule(
        code="lift_much",
        severity=CAUTION,
        sentence=(
            later(
                "More levels than a visit's cap for this hair, light hair overlapped, or a lift within 2 weeks of "
                "the last. Curl and strength set the limit, not the wish."
            )
        ),
        holds=lambda work, known: (
            _lift_is_much(work, known) and not _has_failed(work, known) and not _is_worn(work, known)
        ),
    ),
    Rule(
        code="relaxed",
        severity=CAUTION,
        sentence=later(
            "Relaxed or permed hair: lift gently, check the stretch, and let the pack decide whether at all."
        ),
        holds=lambda work, known: work.lifts and known.has_been_straightened(work.place),
    ),
    Rule(
        code="warm_lightener",
        severity=CAUTION,
        sentence=later(
            "Heat, foil or cover with lightener runs fast: check every 5 minutes; heat only as the pack says."
        ),
        holds=lambda work, known: work.lifts and (work.covered or work.heat) and not (work.heat and known.is_fragile),
    ),
    Rule(
        code="lightener_over_colour",
        severity=CAUTION,
        sentence=later("Lightener over colour that is still on: strand test, and watch where they join."),
        holds=_is_over_colour,
    ),
    Rule(
        code="stung_before",
        severity=CAUTION,
        sentence=later("Something stung at this visit: keep what follows off that skin, rinse at the first sign."),
        holds=lambda work, known: known.stung_today and _touches(work) and not work.has_peroxide,
    ),
    Rule(
        code="metal_bowl",
        severity=CAUTION,
        sentence=later("Peroxide and metal don't go together: mix in plastic, glass or ceramic."),
        holds=lambda work, known: work.has_metal_bowl and work.has_peroxide,
    ),
    Rule(
        code="lines_mixed",
        severity=CAUTION,
        sentence=later("Two lines on one head: keep them apart, they were not made for one another."),
        holds=lambda work, known: _has_lines_beside(work) and not known.house.lines_apart,
    ),
    Rule(
        code="other_developer",
        severity=CAUTION,
        sentence=later("Another line's developer: it was not made for this colour."),
        holds=lambda work, known: work.other_developer and work.has_peroxide,
    ),
    Rule(
        code="powder",
        severity=CAUTION,
        sentence=later("Powder lightener in the air: mask and fresh air while it is mixed."),
        holds=lambda work, known: work.kind is WorkKind.LIGHTENER and work.unguarded,
    ),
    Rule(
        code="bath",
        severity=CAUTION,
        sentence=later("A bath of dye: keep it from eyes and ears, and dose it by the hair that it is for."),
        holds=lambda work, known: work.kind is WorkKind.BATH,
    ),
    Rule(
        code="bleeding",
        severity=NOTE,
        sentence=later("Direct dye stains bedding, pools and pale clothes; blue and green are the hardest to remove."),
        holds=lambda work, known: work.kind in (WorkKind.DIRECT, WorkKind.MASK, WorkKind.BATH),
    ),
    Rule(
        code="after",
        severity=NOTE,
        sentence=later("Chlorine, copper, irons and extensions afterwards: wait as the pack says."),
        holds=lambda work, known: work.has_peroxide and work.kind is not WorkKind.HOME,
    ),
    Rule(
        code="processing_look",
        severity=NOTE,
        sentence=later("It can look alarming or much darker while it works: tell the client before it starts."),
        holds=lambda work, known: work.has_peroxide and work.kind is not WorkKind.HOME,
    ),
)
