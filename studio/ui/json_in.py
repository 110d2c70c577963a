"""JSON from elsewhere, read so that whatever is wrong with it is told."""

import itertools
import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Final

import jsonschema

from engine.language import say

WORDS_MOST: Final = 160


@dataclass(frozen=True, kw_only=True)
class Unfit:
    """What a schema finds wrong: where, as the keys and places that lead there, and in words."""

    path: tuple[str | int, ...]
    words: str


def loaded(text: str) -> Any:
    """The document. Raises ValueError in words, with `lineno` where a line is at fault."""
    try:
        document = json.loads(text, parse_constant=_no_number, object_pairs_hook=_once)
        json.dumps(document, ensure_ascii=False).encode()  # half a character has no place in a database
    except (ValueError, RecursionError) as wrong:
        said = getattr(wrong, "msg", "") or str(wrong)[:WORDS_MOST] or say("it can not be read")
        told = ValueError(say("This is no JSON that can be taken: {said}.", said=said))
        told.lineno = getattr(wrong, "lineno", 1)  # type: ignore[attr-defined]
        raise told from None
    if "\\u0000" in text:
        raise ValueError(say("This has characters that no text has."))
    return document


def unfit(document: Any, schema: Mapping[str, Any], most: int) -> Iterator[Unfit]:
    """What the schema finds, at most so many."""
    validator = jsonschema.Draft202012Validator(schema)
    for error in itertools.islice(validator.iter_errors(document), most):
        path = tuple(error.absolute_path)
        where = ".".join(str(part) for part in path) or say("the document")
        yield Unfit(path=path, words=f"{where}: {error.message[:WORDS_MOST]}")


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object whose keys are each there once: of two, no one can say which was meant."""
    found = dict(pairs)
    if len(found) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise ValueError(say("the key “{twice}” is there twice in one object", twice=twice[:40]))
    return found


def _no_number(name: str) -> float:
    raise ValueError(say("{name} is no number", name=name))
