"""Words for what was learned."""

from typing import Final

HARDLY: Final = 0.015  # of a factor: less is not worth a word


def strength_words(factor: float) -> str:
    """How much stronger than its line says a tube works."""
    if abs(factor - 1) < HARDLY:
        return "as strong as its line says"
    return f"{abs(factor - 1):.0%} {'stronger' if factor > 1 else 'weaker'} than its line says"
