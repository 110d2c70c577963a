"""Words for what was learned."""

from typing import Final

from engine.language import say

HARDLY: Final = 0.015  # of a factor: less is not worth a word


def is_as_strong(factor: float) -> bool:
    """Whether a tube works as strong as its line says, as far as that is worth a word."""
    return abs(factor - 1) < HARDLY


def strength_words(factor: float) -> str:
    """How much stronger than its line says a tube works."""
    if is_as_strong(factor):
        return say("as strong")
    return say("{more:.0%} stronger", more=factor - 1) if factor > 1 else say("{less:.0%} weaker", less=1 - factor)
