"""In which language a request is answered, and in which unit it tells weights."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import translation
from django.utils.cache import patch_vary_headers
from django.utils.formats import get_format

from engine.weights import Measure, measuring, typing
from studio.accounts.models import Person

CAPITALS: Final = frozenset({"de"})  # languages that write nouns with a capital
WRITTEN_IN: Final = settings.LANGUAGE_CODE
MEASURED_IN: Final = "measured_in"
Answer = Callable[[HttpRequest], HttpResponse]

_of_request: Final[ContextVar[str]] = ContextVar("language of the request", default="")


def translated(text: str) -> str:
    """A text in the language of now."""
    return text if tongue() == WRITTEN_IN else str(translation.gettext(text))


def plural(one: str, many: str, count: float) -> str:
    """The form for a count; a part of one is several."""
    return str(translation.ngettext(one, many, int(count) if count == int(count) else 2))


def tongue() -> str:
    """The language of now, as Django names it. A request's is at hand: it is asked for a hundred times a page."""
    return _of_request.get() or translation.get_language() or WRITTEN_IN


def commas() -> frozenset[str]:
    """The languages that write a comma before decimals."""
    return frozenset(
        code for code, _name in settings.LANGUAGES if get_format("DECIMAL_SEPARATOR", code, use_l10n=True) == ","
    )


@contextmanager
def speaking(language: str) -> Iterator[None]:
    """All is said in a language, whatever else the request is answered in."""
    token = _of_request.set(language)
    try:
        with translation.override(language):
            yield
    finally:
        _of_request.reset(token)


def typed_in(request: HttpRequest) -> Measure | None:
    """In what a form's weights were typed: its page tells it, since the house may weigh in another unit by now."""
    told = request.POST.get(MEASURED_IN, "") if request.method == "POST" else ""
    return Measure(told) if told in set(Measure) else None


class OwnLanguage:
    """A person reads in their own language, else in their studio's; a stranger in what their browser asks for.

    Weights are in the studio's unit.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer in it."""
        known = isinstance(request.user, Person)
        language = request.user.reads if known else translation.get_language_from_request(request)  # type: ignore[union-attr]
        unit = Measure(request.user.studio.unit) if known else Measure.GRAM  # type: ignore[union-attr]
        with speaking(language), measuring(unit), typing(typed_in(request) if known else None):
            answer = self.get_response(request)
        answer["Content-Language"] = language
        if not known:
            patch_vary_headers(answer, ("Accept-Language",))
        return answer
