"""The one frame of a visit's pages: read what a request brings, act once, show the page or why it was refused."""

import datetime
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, Protocol, TypedDict

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django_htmx.http import HttpResponseClientRedirect, replace_url, trigger_client_event

from studio.accounts.hands import signing_hand
from studio.accounts.models import Person
from studio.accounts.services.once import made_once
from studio.ui.http import signed_in, wants_fragment
from studio.ui.numbers import typed_number, version_in, whole_number, within
from studio.ui.refusal import Refusal, Stale
from studio.visits.models import Zone
from studio.visits.selectors import Hand, OpenZone, open_zone

WAITED_MOST_S: Final = 12 * 3600  # a tap that waited longer is told as of now


@dataclass(frozen=True, kw_only=True)
class Sent:
    """What a request brings to a page of a visit: who asks, the zone in hand, the form, and the version it shows.

    hand_that_signs: who asks, or the licensed hand that was asked for on the spot.
    """

    person: Person
    opened: OpenZone
    form: QueryDict
    version: int
    hand_that_signs: Person

    @property
    def tapped_at(self) -> datetime.datetime:
        """When the button was pressed: a change that had to wait for its connection counts from its tap."""
        try:
            waited_s = within(typed_number(self.text("waited_s"), "waited_s"), "waited_s", 0, WAITED_MOST_S)
        except Refusal:
            return timezone.now()
        return timezone.now() - datetime.timedelta(seconds=float(waited_s))

    @property
    def is_late(self) -> bool:
        """Whether it was done at a tablet that could not tell of it then: others may have planned otherwise since."""
        return "late" in self.form

    @property
    def visit_id(self) -> int:
        """The visit's row."""
        return self.opened.visit.pk

    @property
    def zone_id(self) -> int:
        """The row of the zone in hand."""
        return self.opened.zone.pk

    @property
    def hand(self) -> "InHand":
        """What a change of the worktop is made to: the coat in hand, at the version that was seen."""
        return InHand(zone_id=self.zone_id, coat_id=self.opened.coat_id, version=self.version)

    def zone_named(self, name: str) -> int:
        """The row of a zone of this visit that a field names. Raises Refusal for any other."""
        return open_zone(self.person, self.visit_id, whole_number(self.text(name), "zone")).zone.pk

    def text(self, name: str) -> str:
        """A field as it was sent, nothing for one that was not."""
        return self.form.get(name, "")


class InHand(TypedDict):
    """Zone, coat and version, as every service of the worktop takes them."""

    zone_id: int
    coat_id: int | None
    version: int


class Show(Protocol):
    """How a page is shown. refusal: why the change was not made. made: what a change that was made has answered."""

    def __call__(
        self, request: HttpRequest, opened: OpenZone, refusal: Refusal | None = None, *, made: object = None
    ) -> HttpResponse:
        """The page, whole or as a part."""


Change = Callable[[Sent], object]


def act_on(
    request: HttpRequest,
    visit_id: int,
    change: Change,
    *,
    show: Show,
    page: str = "",
    goes: bool = False,
    keep: tuple[str, ...] = (),
    same_zones: bool = False,
) -> HttpResponse:
    """Change something of a visit, once for each token that the page sends, in one transaction.

    With script the page is shown anew; without, a redirect leads back to it. A refused change shows the page with the
    reason: 409 when another hand was first, else 422. change: may answer a zone, which is in hand from then on.
    page: the name of the address to lead back to, which takes the visit's id; without one the answer is always shown.
    goes: that address is another page, and the way leads there with script too. keep: fields that go along.
    same_zones: the change leaves zones and readings as they were, so that nobody reads them twice.
    """
    opened, gone = zone_in_hand(request, visit_id)
    person = signed_in(request)
    version = version_in(request.POST, "seen", "version")  # with script `seen` is what is on the screen
    try:
        if gone:
            raise gone
        sent = Sent(
            person=person,
            opened=opened,
            form=request.POST,
            version=version,
            hand_that_signs=signing_hand(request, person),
        )
        made = made_once(person, sent.text("token"), lambda: change(sent))
    except Refusal as refusal:
        answer = _telling(show(request, opened, refusal), opened)
        return _refused(answer, first=refusal is gone or isinstance(refusal, Stale))
    if isinstance(made, Zone):
        opened = open_zone(sent.person, visit_id, made.pk)
    elif isinstance(made, Hand):
        opened = open_zone(sent.person, visit_id, made.zone_id, made.coat_id)
    elif not same_zones:
        opened, _ = zone_in_hand(request, visit_id)
    fields = _named(opened) | {name: given for name in keep if _is_plain(given := sent.text(name))}
    address = reverse(page, args=[visit_id], query=fields) if page else ""
    if goes:
        return HttpResponseClientRedirect(address) if wants_fragment(request) else redirect(address)
    if page and not wants_fragment(request):
        return redirect(address)
    answer = _telling(show(request, opened, made=made), opened)
    return replace_url(answer, address) if isinstance(made, Zone | Hand) and address else answer


def show_page(request: HttpRequest, visit_id: int, show: Show) -> HttpResponse:
    """A page of a visit with the zone in hand; for one that is gone the first zone, with the reason."""
    opened, gone = zone_in_hand(request, visit_id)
    answer = _telling(show(request, opened, gone), opened)
    return _refused(answer, first=True) if gone else answer


def zone_in_hand(request: HttpRequest, visit_id: int) -> tuple[OpenZone, Refusal | None]:
    """The zone that the request names, or the first with a refusal if that one is gone."""
    try:
        zone_id, coat_id = (_row_in(request, name) for name in ("zone", "coat_id"))
        return open_zone(signed_in(request), visit_id, zone_id, coat_id), None
    except Refusal as gone:
        return open_zone(signed_in(request), visit_id), gone


def _row_in(request: HttpRequest, name: str) -> int | None:
    """The row that a request names, if any. Raises Refusal."""
    named = request.POST.get(name) or request.GET.get(name) or ""
    return whole_number(named, name) if named else None


def _named(opened: OpenZone) -> dict[str, str]:
    """Zone and coat in hand as an address names them."""
    coat = {"coat_id": str(opened.coat_id)} if opened.coat_id is not None else {}
    return {"zone": str(opened.zone.pk), **coat}


def _telling(answer: HttpResponse, opened: OpenZone) -> HttpResponse:
    """The answer with the zone and coat in hand told to what stands around the page, whose links name them."""
    return trigger_client_event(answer, "zone", {"pk": opened.zone.pk, "coat": opened.coat_id or ""})


def _refused(answer: HttpResponse, *, first: bool) -> HttpResponse:
    """The answer with the status of a refusal, unless it leads elsewhere. first: another hand was."""
    if answer.status_code < 300:
        answer.status_code = 409 if first else 422
    return answer


def _is_plain(text: str) -> bool:
    return text.isascii() and text.replace(".", "", 1).isalnum()
