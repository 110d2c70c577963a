"""Safety gates: one check of a coat against all that is known, and what a signature for a gate is worth.

Common practice of the trade with no published source; the pack, local rules and licensed practice come first.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Final

from engine.bowl.cautions import Severity
from engine.service.known import Known
from engine.service.rules import RULES
from engine.service.work import Work

ORDER: Final = (Severity.STOP, Severity.CAUTION, Severity.NOTE)
SLACK: Final = 1e-6  # a fact is worse only by more than a rounding


@dataclass(frozen=True, kw_only=True)
class Gate:
    """A gate that stands in the way of a coat now; `code` never changes, `sentence` is for reading.

    final: no signature opens it. given: the facts that a signature would be given for, of which more is worse.
    """

    code: str
    severity: Severity
    sentence: str
    final: bool
    given: Mapping[str, float]

    @property
    def stops(self) -> bool:
        """Whether the work may not go on as things stand."""
        return self.severity is Severity.STOP

    @property
    def may_be_signed(self) -> bool:
        """Whether a licensed hand may open it with a reason."""
        return self.stops and not self.final


def check(work: Work, known: Known) -> tuple[Gate, ...]:
    """Every gate that a coat raises, stops first, then in the order of the book."""
    raised = [rule for rule in RULES if rule.holds(work, known)]
    return tuple(
        Gate(
            code=rule.code,
            severity=rule.severity,
            sentence=rule.sentence,
            final=rule.final,
            given=dict(rule.given(work, known)),
        )
        for rule in sorted(raised, key=lambda rule: ORDER.index(rule.severity))
    )


def check_all(works: Iterable[Work], known: Iterable[Known]) -> tuple[Gate, ...]:
    """The gates of one coat on several places, each told once, with the worst of the facts of all."""
    found: dict[str, Gate] = {}
    for work, of_place in zip(works, known, strict=True):
        for gate in check(work, of_place):
            before = found.get(gate.code)
            found[gate.code] = gate if before is None else _worse(before, gate)
    return tuple(sorted(found.values(), key=lambda gate: ORDER.index(gate.severity)))


def still_covers(signed: Mapping[str, float], gate: Gate) -> bool:
    """Whether a signature that was given for facts covers a gate as it stands: it lapses when any gets worse."""
    return all(name in signed and now <= signed[name] + SLACK for name, now in gate.given.items())


def _worse(one: Gate, other: Gate) -> Gate:
    names = {**one.given, **other.given}
    given = {name: max(one.given.get(name, number), other.given.get(name, number)) for name, number in names.items()}
    return Gate(code=one.code, severity=one.severity, sentence=one.sentence, final=one.final, given=given)
