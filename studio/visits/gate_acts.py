"""What a hand may do at a gate: sign it for its coat, or record the strand test that it asks for."""

import datetime
from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Protocol

from studio.clients.services.history import record_strand_test
from studio.taught.services.ask import ask_to_learn
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal
from studio.visits.acting import Sent
from studio.visits.gates import Asked, GateCoat, check
from studio.visits.models import Zone
from studio.visits.services.consult import sign_gate


class Mixed(Protocol):
    """A mix that a strand was tested with: what is in it, how it is forecast to look on a zone, and how it does."""

    @property
    def line(self) -> str:
        """The name of its line, as a coat names it."""
        ...

    @property
    def grams(self) -> Mapping[str, float]:
        """Grams of each shade by name."""
        ...

    def lab_on(self, zone: Zone, minutes: Decimal) -> Sequence[float]:
        """L*a*b* (3,) after so many minutes; empty where nothing is known."""
        ...

    def worked_on(self, zone: Zone, minutes: Decimal) -> Mapping[str, object]:
        """Hair and bowl as numbers; empty where nothing is known."""
        ...

    def read_on(
        self, zone: Zone, minutes: Decimal, form: Mapping[str, str], *, now: datetime.datetime
    ) -> Sequence[float]:
        """L*a*b* (3,) of the strand after so many minutes, by the reader. Raises Refusal."""
        ...


def act_at_gate(sent: Sent, asked: Asked, coats: Sequence[GateCoat], mixed: Mixed | None = None) -> None:
    """Sign the gate that a form names, or record a strand test of its coat. mixed: what may have been tested.

    Raises Refusal gate_gone, and what the services raise.
    """
    coat = next((each for each in coats if each.key == sent.text("coat")), None)
    if coat is None:
        raise Refusal("gate_gone")
    if "strand" in sent.form:
        _record(sent, asked, coat, mixed if mixed and mixed.line == coat.line else None)
        return
    seen = next((each for each in check(asked, coat) if each.gate.code == sent.text("gate")), None)
    if seen is None:
        raise Refusal("gate_gone")
    sign_gate(sent.hand_that_signs, visit_id=sent.visit_id, seen=seen, reason=sent.text("reason"))


def _record(sent: Sent, asked: Asked, coat: GateCoat, mixed: Mixed | None) -> None:
    """One record for each place that the coat goes on: a test opens only what it tested."""
    if sent.text("passed") not in ("yes", "no"):
        raise Refusal("strand_outcome", "passed")
    minutes = typed_number(sent.text("strand_min"), "minutes", example="20")
    reads = "by_reader" in sent.form
    if reads and mixed is None:
        raise Refusal("strand_no_look", "reader")
    for zone, work in zip(coat.zones, coat.works, strict=True):
        record_strand_test(
            sent.person,
            client_id=asked.visit.client_id,
            line_name=coat.line,
            part=zone.part,
            products=sorted(work.products),
            vol=work.vol,
            minutes=minutes,
            grams=mixed.grams if mixed else None,
            forecast_lab=mixed.lab_on(zone, minutes) if mixed else (),
            seen_lab=mixed.read_on(zone, minutes, sent.form, now=asked.now) if mixed and reads else (),
            worked=mixed.worked_on(zone, minutes) if mixed else None,
            colour_seen=sent.text("colour_seen"),
            stretch_held="stretch_held" in sent.form,
            passed=sent.text("passed") == "yes",
            now=asked.now,
        )
    ask_to_learn(sent.person.studio_id)
