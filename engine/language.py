"""Words in the reader's language. The engine says all in English; who runs it may put that into another language.

A text stands once, in English, and is its own key: `say` gives it in the language of now, `later` marks one that is
written down before anybody reads it. By itself the engine knows no other language, so that its command line and what it
keeps are English wherever they run; the application names its catalogue with `speak`.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache, wraps
from html import escape
from string import Formatter
from typing import Any, Final, ParamSpec, Self, TypeVar, final

from engine.weights import SPEC, Measure, measure_of, measuring, weight_of

Asked = ParamSpec("Asked")
Made = TypeVar("Made")


def _as_written(text: str) -> str:
    return text


def _as_counted(one: str, many: str, count: float) -> str:
    return one if count == 1 else many


def _english() -> str:
    return "en"


@dataclass
class _Catalogue:
    translated: Callable[[str], str] = _as_written
    plural: Callable[[str, str, float], str] = _as_counted
    tongue: Callable[[], str] = _english
    commas: frozenset[str] = frozenset()
    capitals: frozenset[str] = frozenset()


_catalogue: Final = _Catalogue()


def speak(
    translated: Callable[[str], str],
    plural: Callable[[str, str, float], str],
    tongue: Callable[[], str],
    commas: frozenset[str],
    capitals: frozenset[str],
) -> None:
    """Name the catalogue that texts are looked up in from now on.

    translated: gives a text in the language of now; plural: of its two forms, singular and plural, the one for a count;
    tongue: names the language of now; commas: the languages that write a comma before a number's
    decimals; capitals: those that write nouns with a capital.
    """
    _catalogue.translated, _catalogue.plural = translated, plural
    _catalogue.tongue, _catalogue.commas, _catalogue.capitals = tongue, commas, capitals


_WEIGHED: Final = f"{SPEC}}}"  # how a place for grams ends


class _Weighing(Formatter):
    """Fills a text in as str.format does, and grams by `weight` in the unit of now."""

    def format_field(self, value: Any, format_spec: str) -> str:
        return weight_of(value, format_spec) if format_spec.endswith(SPEC) else str(format(value, format_spec))


class _Local(_Weighing):
    """Fills a text in, with the decimals of the language of now."""

    def format_field(self, value: Any, format_spec: str) -> str:
        told = super().format_field(value, format_spec)
        return decimals(told) if isinstance(value, int | float | Decimal) and not isinstance(value, bool) else told


_weighing: Final = _Weighing()
_local: Final = _Local()


def decimals(number: str) -> str:
    """A number that is written with a point, in the way of the language of now."""
    return number.replace(".", ",") if _has_comma() else number


def _has_comma() -> bool:
    return _catalogue.tongue() in _catalogue.commas


def say(text: str, /, **parts: object) -> str:
    """A text in the language of now, its places filled in as str.format does. Raises KeyError for a part not given.

    A place `{grams:weight}` is filled in with grams as the house measures them.
    """
    found = _catalogue.translated(str.__str__(text)) if text else ""
    return _filled(found, parts)


def counted(one: str, many: str, count: float, /, **parts: object) -> str:
    """`say` of what has a singular and a plural; `count` may be among the places."""
    return _filled(_catalogue.plural(one, many, count), {"count": count, **parts})


def _filled(text: str, parts: dict[str, object]) -> str:
    if not parts:
        return text
    has_numbers = any(isinstance(part, int | float | Decimal) for part in parts.values())
    is_plain = _WEIGHED not in text and not (has_numbers and _has_comma())
    return text.format(**parts) if is_plain else _local.vformat(text, (), parts)


@final
class Later(str):
    """A text that is put into a language when it is shown, and stays English where it is compared, kept or sent.

    It is its English text, filled in, in every way but three: `str`, `format` and a template's output give the language
    of now. text, parts: what it is said from, so that it can be kept and be said again.
    """

    text: str
    parts: Mapping[str, object]

    def __new__(cls, text: str, /, **parts: object) -> Self:
        """The text with its places filled in as str.format does. Raises KeyError for a part not given."""
        english = {name: _english_of(part) for name, part in parts.items()}
        with measuring(Measure.GRAM):
            made = super().__new__(cls, _weighing.vformat(text, (), english) if parts else text)
        made.text, made.parts = text, parts
        return made

    def __str__(self) -> str:
        return say(self.text, **self.parts)

    def __format__(self, spec: str) -> str:
        return format(str(self), spec)

    def __html__(self) -> str:
        """As Django's templates ask for what stands in a page."""
        return escape(str(self))


def _english_of(part: object) -> object:
    return str.__str__(part) if isinstance(part, Later) else part


def later(text: str, /, **parts: object) -> str:
    """A text that is said later: see `Later`."""
    return Later(text, **parts)


def begun(text: str) -> str:
    """A text as a sentence begins with it, in the language of now."""
    told = str(text)
    return told[:1].upper() + told[1:]


def amid(text: str) -> str:
    """A text that begins with a capital, within a sentence: it keeps it where nouns are written so."""
    told = str(text)
    return told if _catalogue.tongue() in _catalogue.capitals else told[:1].lower() + told[1:]


def joins_nouns() -> bool:
    """Whether the language of now writes one noun and the next as one word."""
    return _catalogue.tongue() in _catalogue.capitals


def listed(texts: Iterable[str], between: str = ", ") -> str:
    """Texts one after the other, each in the language of now: str.join would take those of `later` as they are kept."""
    return between.join(str(text) for text in texts)


def kept_by_language(maxsize: int) -> Callable[[Callable[Asked, Made]], Callable[Asked, Made]]:
    """functools.lru_cache for what holds words: what was made in one language, or one unit, is for who reads that."""

    def keeping(make: Callable[Asked, Made]) -> Callable[Asked, Made]:
        @lru_cache(maxsize=maxsize)
        def made_in(_tongue: str, _measure: Measure, *args: Any, **named: Any) -> Made:
            return make(*args, **named)

        @wraps(make)
        def given(*args: Asked.args, **named: Asked.kwargs) -> Made:
            return made_in(_catalogue.tongue(), measure_of(), *args, **named)  # type: ignore[arg-type]

        given.cache_clear = made_in.cache_clear  # type: ignore[attr-defined]
        return given

    return keeping
