"""Whether a pot takes what a bowl is to hold."""

from decimal import Decimal

from engine.bowl.pot import POT_MOST_G, pots_for
from studio.ui.refusal import Refusal


def check_pot(total: Decimal) -> None:
    """Raises Refusal pot_full for more grams than the largest pot takes."""
    if total > POT_MOST_G:
        raise Refusal("pot_full", "grams", most=POT_MOST_G, total=total, pots=pots_for(float(total)))
