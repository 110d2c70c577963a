"""The knowledge that a studio's forecasts are made with."""

from functools import lru_cache

from engine.errors import EngineError
from engine.knowledge.knowledge import Knowledge
from engine.knowledge.stored import opened
from studio.taught.models import KnowledgeVersion


def version_in_force(studio_id: int) -> KnowledgeVersion | None:
    """The version that a studio forecasts with, without what it holds; None for the engine's own physics. One query."""
    found = KnowledgeVersion.objects.filter(studio=studio_id, in_force=True)
    return found.defer("held", "shown").first()


@lru_cache(maxsize=64)
def knowledge_of(version_id: int) -> Knowledge | None:
    """What a version holds; None for one that was sealed by another engine. One query, the first time."""
    held = KnowledgeVersion.objects.values_list("held", flat=True).get(pk=version_id)
    try:
        return opened(held)
    except EngineError:
        return None
