"""Words for what was learned."""

from typing import Final

HARDLY: Final = 0.015  # of a factor: less is not worth a word


def strength_words(factor: float) -> str:
    """How much stronger than its line says a tube works."""
    return (
        "as strong" if abs(factor - 1) < HARDLY else f"{abs(factor - 1):.0%} {'stronger' if factor > 1 else 'weaker'}"
    )
