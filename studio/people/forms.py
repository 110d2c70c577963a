"""What is typed by those who come: a name to sign in by, and a password that is looked at."""

from typing import Any, Final
from zoneinfo import available_timezones

from django import forms
from django.conf import settings
from django.contrib.auth.forms import UsernameField
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from engine.language import later, say
from studio.accounts.house import SCHOOLS
from studio.accounts.models import Person, Studio

NAME: Final = {"autocomplete": "name", "maxlength": 80}


class PasswordForm(forms.Form):
    """A new password. whose: who will have it, as far as that is known, so that no name is taken for a password."""

    password = forms.CharField(
        label=later("Password"),
        max_length=128,
        strip=False,
        widget=forms.PasswordInput({"autocomplete": "new-password"}),
    )

    def __init__(self, *args: Any, whose: Person | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._whose = whose

    def clean(self) -> dict[str, Any]:
        """Common, short and known words are refused."""
        given = super().clean() or self.cleaned_data
        first, _, last = str(given.get("name", "")).partition(" ")
        whose = self._whose or Person(username=given.get("username", ""), first_name=first, last_name=last)
        try:
            validate_password(str(given.get("password", "")), whose)
        except ValidationError as error:
            if "password" in given:
                self.add_error("password", error)
        return given


class JoinForm(PasswordForm):
    """Somebody new."""

    name = forms.CharField(label=later("Your name"), max_length=80, widget=forms.TextInput(NAME))
    username = UsernameField(
        label=later("Name to sign in by"), max_length=150, help_text=later("letters, digits and . _ - @ +")
    )

    field_order: tuple[str, ...] = ("name", "username", "password")

    def clean_username(self) -> str:
        """As the people's own table takes it."""
        given = str(self.cleaned_data["username"])
        for validate in Person._meta.get_field("username").validators:
            validate(given)
        return given


class StudioForm(JoinForm):
    """A new studio, and who owns it."""

    studio = forms.CharField(label=later("Name of the studio"), max_length=Studio._meta.get_field("name").max_length)
    town = forms.CharField(label=later("Town"), max_length=80, required=False)
    time_zone = forms.CharField(label=later("Days and hours by"), max_length=64, initial="UTC")
    currency = forms.CharField(label=later("Prices in"), max_length=4, required=False, help_text=later("as € or CHF"))
    unit = forms.ChoiceField(label=later("Weights are in"), choices=Studio.UnitChoice.choices)
    language = forms.ChoiceField(label=later("Language"), choices=settings.LANGUAGES)

    field_order = (
        "studio",
        "town",
        "time_zone",
        "currency",
        "unit",
        "language",
        "name",
        "username",
        "password",
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, field in forms.fields_for_model(Studio, fields=tuple(SCHOOLS), labels=SCHOOLS).items():
            field.required, field.help_text = False, ""  # what is not chosen is as usual
            field.empty_value = field.initial
            self.fields[name] = field
        self.fields["school"].choices = Studio().schools  # type: ignore[attr-defined]  # a ladder of its own comes later

    @property
    def asked(self) -> list[forms.BoundField]:
        """What every studio is asked."""
        return [field for field in self if field.name not in SCHOOLS]

    @property
    def schools(self) -> list[forms.BoundField]:
        """What the trade leaves to each, with what is usual."""
        return [self[name] for name in SCHOOLS]

    @property
    def is_amiss(self) -> bool:
        """Whether something is wrong with a school."""
        return any(field.errors for field in self.schools)

    @property
    def house(self) -> dict[str, object]:
        """The schools as they were chosen."""
        return {name: self.cleaned_data[name] for name in SCHOOLS}

    @property
    def begun(self) -> dict[str, Any]:
        """The rest of what was typed."""
        return {name: given for name, given in self.cleaned_data.items() if name not in SCHOOLS}

    def clean_time_zone(self) -> str:
        """One that this machine knows."""
        given = str(self.cleaned_data["time_zone"])
        if given not in available_timezones():
            raise ValidationError(say("Type a place such as Europe/Lisbon, or UTC."))
        return given
