"""What came out in the studio, as cases to practise on: hair, bowl and colours, without name, day or hand."""

import secrets
from typing import Any, Final

import numpy as np
from django.db.models import Exists, OuterRef, Q

from engine.language import say
from engine.practice.cases import Case, what_came_out
from engine.practice.drill import ToChoose
from studio.accounts.models import Person
from studio.cards.models import Formula, ZoneResult
from studio.cards.selectors import kept_formulas
from studio.visits.engine_adapter import bare_lab, canvas_of

LATEST: Final = 200  # formulas that a case is taken from


def has_cases(person: Person) -> bool:
    """Whether anything that was kept here has been judged. One query."""
    return Formula.objects.visible_to(person).filter(_judged()).exists()


def drawn_case(person: Person) -> dict[str, Any] | None:
    """One of the studio's latest judged formulas, drawn by chance, as it is kept with its drill; None without any."""
    rows = Formula.objects.visible_to(person).filter(_judged()).order_by("-saved_at").values_list("pk", flat=True)
    latest = list(rows[:LATEST])
    found = kept_formulas(person, Q(pk=secrets.choice(latest))) if latest else []
    kept, result = (found[0], found[0].result) if found else (None, None)
    if kept is None or result is None:
        return None
    return {
        "level": float(kept.formula.level),
        "grams": [[pour.shade_name, float(pour.grams)] for pour in kept.pours],
        "before": bare_lab(canvas_of(kept.formula)).tolist(),
        "forecast": list(result.forecast_lab),
        "result": list(result.lab),
    }


def asked_of_case(case: dict[str, Any], number: int, difficulty: int) -> ToChoose:
    """The drill of a kept case."""
    bowl = ", ".join(shown_grams(name, grams) for name, grams in case["grams"])
    labs = {f"{name}_lab": np.array(case[name]) for name in ("before", "forecast", "result")}
    return what_came_out(
        Case(level=case["level"], bowl=bowl, **labs), np.random.default_rng([number, difficulty]), difficulty
    )


def shown_grams(name: str, grams: float) -> str:
    """A pour in words."""
    return say("{grams:weight} {name}", grams=grams, name=name)


def _judged() -> Q:
    """Formulas of the one coat that their zone got, which was judged: what was seen is what that bowl gave."""
    over_it = Formula.objects.filter(visit=OuterRef("visit"), zone_name=OuterRef("zone_name"), coat_number__gt=1)
    seen = ZoneResult.objects.filter(zone__visit=OuterRef("visit"), zone__name=OuterRef("zone_name"))
    return Q(coat_number=1, to_level=None, beside=[]) & Q(Exists(seen)) & ~Q(Exists(over_it))
