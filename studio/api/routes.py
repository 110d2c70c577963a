"""What programs ask for. Addresses stand under /api/1/; the 1 changes when what is there would break a program."""

import datetime
import uuid
from typing import Annotated, Any, Final

from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.urls import reverse
from django.utils.http import urlencode
from ninja import NinjaAPI, Query
from pydantic import AwareDatetime

from engine.errors import BadInput
from studio.api.answers import Key, PerMinute, answered, explain_problems, key_of, reader
from studio.api.documents import PAGE_MOST, clients_page, formulas_page, without_health
from studio.api.forecasts import explained, forecasts, jobs_in
from studio.api.models import ProgramKey
from studio.api.openapi import a_body, an_answer
from studio.clients.models import Client
from studio.formats.card_json import card_document
from studio.formats.job_json import line_setting
from studio.formats.logbook_csv import logbook_lines
from studio.shelf.selectors import colour_lines
from studio.shelf.shelf_file import shelf_document

May: Final = ProgramKey.May
EARLIEST: Final = datetime.datetime(1970, 1, 1, tzinfo=datetime.UTC)

After = Annotated[uuid.UUID | None, Query(description="the UUID that the page before ended with")]
Most = Annotated[int, Query(ge=1, le=PAGE_MOST, description="how many a page has")]
Since = Annotated[
    AwareDatetime | None,
    Query(ge=EARLIEST, description="what was kept here, or judged, since: a moment with its offset from UTC"),
]

api = NinjaAPI(
    title="Rainshade, for programs",
    version="1",
    description="Reads what a studio has, and reckons forecasts. Grams in g, moments with their offset from UTC, "
    "colours as CIE L*a*b* under D65, 2 degrees.",
    docs_url=None,
    openapi_url=None,
    urls_namespace="api",
    auth=Key(),
    throttle=PerMinute(),
)
explain_problems(api)


@api.get("/key", summary="What this key may", openapi_extra=an_answer("key"))
def key(request: HttpRequest) -> HttpResponseBase:
    """Of which studio the key is, what it reads, how often it may ask, and until when."""
    found = key_of(request)
    told = {"studio": str(found.studio), "name": found.name, "may": found.may, "per_minute": found.per_minute}
    return answered(request, told | {"ends_on": found.ends_on.isoformat() if found.ends_on else None})


@api.get("/clients", summary="Clients, page by page", openapi_extra=an_answer("clients"))
def clients(request: HttpRequest, after: After = None, most: Most = 50) -> HttpResponseBase:
    """Who the clients are, by their UUIDs; health facts and notes where the key may read them."""
    person, health = reader(request, May.CLIENTS), key_of(request).allows(May.HEALTH)
    page, last = clients_page(person, after=after, most=most, health=health)
    return answered(request, {"clients": page, "next": _next(request, "clients", last, most)})


@api.get("/clients/{uuid:uid}/card", summary="A client's card", openapi_extra=an_answer("card"))
def card(request: HttpRequest, uid: uuid.UUID) -> HttpResponseBase:
    """A card as it is kept as a file; without health facts, notes and tests where the key may not read them."""
    person = reader(request, May.CARDS)
    found = Client.objects.visible_to(person).get(uid=uid)
    whole = card_document(person, found.pk)
    return answered(request, whole if key_of(request).allows(May.HEALTH) else without_health(whole))


@api.get("/formulas", summary="Formulas since a moment", openapi_extra=an_answer("formulas"))
def formulas(request: HttpRequest, since: Since = None, after: After = None, most: Most = 50) -> HttpResponseBase:
    """Formulas that were kept here, or judged, since a moment, as they came; each beside whose it is.

    Take the answer's Date as the next `since`: some minutes are told twice, none falls out. A formula is known by its
    UUID. One that is told no more in a whole reading was forgotten, and is to be forgotten.
    """
    person = reader(request, May.CARDS)
    moment = since.astimezone(datetime.UTC) if since else None
    page, last = formulas_page(person, since=moment, after=after, most=most)
    asked = {"since": moment.isoformat()} if moment else {}
    return answered(request, {"formulas": page, "next": _next(request, "formulas", last, most, **asked)})


@api.get("/logbook.csv", summary="The logbook", openapi_extra=an_answer("logbook", kind="text/csv"))
def logbook(request: HttpRequest) -> HttpResponseBase:
    """All formulas as CSV, the newest first, line by line."""
    lines = logbook_lines(reader(request, May.CARDS))
    return StreamingHttpResponse(lines, content_type="text/csv; charset=utf-8")


@api.get("/shelf", summary="The shelf", openapi_extra=an_answer("shelf"))
def shelf(request: HttpRequest) -> HttpResponseBase:
    """Every line of colour with all that is known of its tubes, and a fingerprint of each."""
    return answered(request, shelf_document(reader(request, May.SHELF)))


@api.post("/forecasts", summary="Forecasts", openapi_extra=a_body("jobs") | an_answer("answers"))
def forecast(
    request: HttpRequest,
    line: Annotated[uuid.UUID | None, Query(description="of whose tubes jobs are that name no shades")] = None,
) -> HttpResponseBase:
    """Answers to a job of the engine, or to a list of them. One that is refused in a list is refused in its place."""
    person = reader(request, May.FORECASTS)
    jobs = jobs_in(request)
    shared = line_setting(person, colour_lines(person).get(uid=line)) if line else {}
    try:
        return answered(request, forecasts(jobs, shared))
    except BadInput as error:
        return explained(error)


def _next(request: HttpRequest, name: str, last: str, most: int, **asked: Any) -> str | None:
    """The address of the next page."""
    if not last:
        return None
    return request.build_absolute_uri(f"{reverse(f'api:{name}')}?{urlencode(asked | {'after': last, 'most': most})}")
