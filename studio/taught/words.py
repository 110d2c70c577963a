"""Words for what was learned."""

from typing import Final

from engine.language import say

HARDLY: Final = 0.015  # of a factor: less is not worth a word


def strength_words(factor: float) -> str:
    """How much stronger than its line says a tube works."""
    return (
        say("as strong")
        if abs(factor - 1) < HARDLY
        else say("{more:.0%} stronger", more=factor - 1)
        if factor > 1
        else say("{less:.0%} weaker", less=1 - factor)
    )
