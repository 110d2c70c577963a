"""Mail by which a password may be made anew: who sets it knows the password now, and what it reaches was confirmed."""

from allauth.account.forms import AddEmailForm, ResetPasswordForm
from allauth.account.models import EmailAddress
from allauth.core import context
from django import forms
from django.core.exceptions import ValidationError

from engine.language import later, say
from studio.accounts.backends import shows_password
from studio.accounts.models import Person


class MailForm(AddEmailForm):  # type: ignore[misc]
    """An address, and the password: an unlocked tablet alone must not lead to a new password."""

    password = forms.CharField(
        label=later("Your password"),
        max_length=128,
        strip=False,
        widget=forms.PasswordInput({"autocomplete": "current-password"}),
    )

    def clean_password(self) -> str:
        """Raises ValidationError for another one; wrong ones are counted as at the door."""
        given = str(self.cleaned_data["password"])
        if not shows_password(context.request, self.user, given):
            raise ValidationError(say("That is not your password."))
        return given


class ForgottenForm(ResetPasswordForm):  # type: ignore[misc]
    """A link goes to addresses that were confirmed, and to no other."""

    users: list[Person]

    def clean_email(self) -> str:
        """Who has confirmed it; nobody is told whether there is anyone."""
        given = str(super().clean_email())
        confirmed = EmailAddress.objects.filter(email__iexact=given, verified=True).values_list("user", flat=True)
        self.users = [user for user in self.users if user.pk in set(confirmed)]
        return given
