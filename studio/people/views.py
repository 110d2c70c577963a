"""Who works here, and how they come and go."""

from allauth.account.utils import perform_login
from allauth.mfa.models import Authenticator
from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login, logout, update_session_auth_hash
from django.contrib.auth.decorators import login_not_required
from django.db.models import Exists, OuterRef
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import get_language
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST, require_safe

from engine.language import say
from studio.accounts.devices import remember
from studio.accounts.models import Person
from studio.people.forms import JoinForm, PasswordForm, StudioForm
from studio.people.models import HOLDS_FOR, Invitation
from studio.people.services.hire import (
    Invited,
    begin_studio,
    invitation_of,
    invite,
    join,
    join_as,
    renew_password,
    withdraw,
)
from studio.people.services.part import part, second_factor_off, set_role, take_back
from studio.ui.http import page_and_change, signed_in
from studio.ui.numbers import whole_number
from studio.ui.refusal import Refusal
from studio.ui.views import refused
from studio.ui.words import refusal_words

LINK = "invited"  # in the session: the link that was made just now, shown once
BACKEND = "studio.accounts.backends.StudioBackend"


@require_safe
@never_cache
def people(request: HttpRequest) -> HttpResponse:
    """Everybody who works here, who has left, and which links are open."""
    return _show(request)


def _show(request: HttpRequest, refusal: Refusal | None = None) -> HttpResponse:
    person, now = signed_in(request), timezone.now()
    everybody = (
        Person.objects.filter(studio=person.studio_id)
        .select_related("same_as")
        .annotate(has_second=Exists(Authenticator.objects.filter(user=OuterRef("pk"))))
    )
    links = Invitation.objects.visible_to(person).select_related("person", "made_by")
    told = {
        "people": everybody.order_by("-is_active", "first_name", "username"),
        "roles": Person.RoleChoice.choices,
        "open": links.filter(used_at=None, withdrawn_at=None, made_at__gt=now - HOLDS_FOR),
        "link": request.session.pop(LINK, None),
        "error_words": refusal_words(refusal) if refusal else "",
    }
    return render(request, "people/people.html", told, status=422 if refusal else 200)


@require_POST
def act(request: HttpRequest) -> HttpResponse:
    """Invite, withdraw, set a role, part, take back, or let a password be made anew."""
    person, form, now = signed_in(request), request.POST, timezone.now()
    way, licensed = form.get("way", ""), "licensed" in form
    try:
        of = whole_number(form.get("of", "0"), "of")
        if way == "invite":
            _tell_once(request, invite(person, role=form.get("role", ""), licensed=licensed, now=now))
        elif way == "password":
            _tell_once(request, renew_password(person, of=of, now=now))
        elif way == "withdraw":
            withdraw(person, invitation_id=of, now=now)
        elif way == "set":
            set_role(person, of=of, role=form.get("role", ""), licensed=licensed)
        elif way == "part":
            messages.success(request, say("{part} has left and is signed out everywhere.", part=part(person, of=of)))
        elif way == "second":
            found = second_factor_off(person, of=of)
            messages.success(request, say("{found} signs in by the password alone now.", found=found))
        elif way == "back":
            take_back(person, of=of)
        else:
            raise Refusal("way_unknown")
    except Refusal as refusal:
        return _show(request, refusal)
    return redirect("people:people")


def _tell_once(request: HttpRequest, invited: Invited) -> None:
    address = request.build_absolute_uri(reverse("people:join", args=[invited.key]))
    request.session[LINK] = {"address": address, "whom": str(invited.invitation.person or "")}


@page_and_change
@login_not_required
@never_cache
def come(request: HttpRequest, key: str) -> HttpResponse:
    """By a link: a name and a password, or a new password, and signed in."""
    try:
        found = invitation_of(key, timezone.now())
    except Refusal as refusal:
        return refused(request, refusal, status=410)
    if request.method == "POST" and "as_me" in request.POST and isinstance(request.user, Person):
        return _let_in(request, join_as(request.user, key, now=timezone.now()))
    kind = PasswordForm if found.person else JoinForm
    form = kind(request.POST or None, whose=found.person)
    if request.method == "POST" and form.is_valid():
        given = {"username": "", "name": ""} | form.cleaned_data
        try:
            person = join(key, now=timezone.now(), **given)
        except Refusal as refusal:
            if refusal.field not in form.fields:
                return refused(request, refusal, status=410)
            form.add_error(refusal.field, refusal_words(refusal))
        else:
            return _sign_in(request, person) if found.person else _let_in(request, person)
    told = {
        "key": key,
        "form": form,
        "found": found,
        "title": say("Come to {studio}", studio=found.studio) if not found.person else say("A new password"),
    }
    return render(request, "people/come.html", told, status=422 if form.errors else 200)


@page_and_change
@login_not_required
def begin(request: HttpRequest) -> HttpResponse:
    """A new studio and its owner, where this server lets strangers begin one."""
    if not settings.NEW_STUDIOS:
        raise Http404
    form = StudioForm(request.POST or None, initial={"language": get_language()})
    if request.method == "POST" and form.is_valid():
        try:
            return _let_in(request, begin_studio(**form.begun, house=form.house))
        except Refusal as refusal:
            form.add_error(refusal.field, refusal_words(refusal))
    return render(
        request, "people/come.html", {"form": form, "title": say("A new studio")}, status=422 if form.errors else 200
    )


def _sign_in(request: HttpRequest, person: Person) -> HttpResponse:
    """By a new password, as at the door: who has a second factor is asked for it."""
    if request.user != person:
        logout(request)  # whoever was signed in at this machine
        answer: HttpResponse = perform_login(request, person, redirect_url=reverse("chairs:chairs"))
        return answer
    return _let_in(request, person)


def _let_in(request: HttpRequest, person: Person) -> HttpResponse:
    """Signed in as who has come; whoever was signed in at this machine before is not any more."""
    if request.user.is_authenticated and request.user == person:
        update_session_auth_hash(request, person)
    else:
        login(request, person, backend=BACKEND)
    answer = redirect("shelf:shelf" if _is_bare(person) else "chairs:chairs")
    remember(request, answer, person.who)  # this machine knows them now, as after any sign-in
    return answer


def _is_bare(person: Person) -> bool:
    """Whether the studio has nothing yet: what comes first is its shelf."""
    return not person.studio.lines.exists()
