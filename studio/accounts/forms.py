"""A new password for somebody who knows the old one."""

from typing import Any

from django.contrib.auth.forms import PasswordChangeForm
from django.core.exceptions import ValidationError
from django.http import HttpRequest

from engine.language import say
from studio.accounts.backends import shows_password


class NewPassword(PasswordChangeForm):
    """The old password counts like one at the door: guesses at an unlocked tablet are as few."""

    def __init__(self, *args: Any, request: HttpRequest, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.request = request

    def clean_old_password(self) -> str:
        """Raises ValidationError for another password, and while the door is shut."""
        old = str(self.cleaned_data["old_password"])
        if not shows_password(self.request, self.user, old):
            raise ValidationError(say("That is not your password."))
        return old
