"""Documents made from the schemas that ship, by a generator that knows nothing of what the schemas are of."""

from typing import Any

from hypothesis import strategies as st
from hypothesis_jsonschema import from_schema

TEXT_NODES = (None, True, "x", "", [], {}, -1, 0, 1e9, -1e9, 10**400, [1], {"a": 1}, "\ud7ff", 0.5)


def made(schema: dict[str, Any]) -> st.SearchStrategy[Any]:
    """Documents that a schema takes. Raises what the generator raises for a schema that nothing fits."""
    return from_schema(_older(schema))


def _older(node: Any) -> Any:
    """A schema as draft 7 has it, which the generator knows: lists of fixed places are told in another way there."""
    if isinstance(node, list):
        return [_older(each) for each in node]
    if not isinstance(node, dict):
        return node
    told = {name: _older(each) for name, each in node.items() if name not in ("$schema", "$id", "prefixItems")}
    if isinstance(node.get("prefixItems"), list):
        places = [_older(each) for each in node["prefixItems"]]
        told |= {"items": places, "additionalItems": False, "maxItems": len(places)}
    return told


def spoilt(document: Any, data: st.DataObject) -> Any:
    """A copy in which one place holds something else, is gone, or has a member more that nobody knows."""
    places = list(_places(document))
    at = data.draw(st.sampled_from(places)) if places else ()
    way = data.draw(st.sampled_from(("other", "gone", "more")))
    other = data.draw(st.sampled_from(TEXT_NODES))
    return _changed(document, at, way, other)


def _places(node: Any, at: tuple[Any, ...] = ()) -> Any:
    """The way to every value in a document."""
    for name, each in node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ():
        yield (*at, name)
        yield from _places(each, (*at, name))


def _changed(node: Any, at: tuple[Any, ...], way: str, other: Any) -> Any:
    if len(at) > 1:
        parts = node.items() if isinstance(node, dict) else enumerate(node)
        told = {name: _changed(each, at[1:], way, other) if name == at[0] else each for name, each in parts}
    else:
        parts = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
        told = {name: other if at and name == at[0] and way == "other" else each for name, each in parts}
        if at and way == "gone":
            told.pop(at[0], None)
        if way == "more" and isinstance(node, dict):
            told["surprise"] = other
    return told if isinstance(node, dict) else list(told.values())
