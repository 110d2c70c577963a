"""Passwords that would be guessed, by the package that reckons how soon."""

from typing import Final

from django.core.exceptions import ValidationError
from zxcvbn import zxcvbn

from engine.language import say

LEAST: Final = 3  # of 0..4: not found by 10^8 guesses
READ_MOST: Final = 72  # letters: what is longer is judged by its beginning, or a long one would keep the server busy


class Strength:
    """Refuses what a guesser would try soon, the person's own names among it."""

    def validate(self, password: str, user: object = None) -> None:
        """Raises ValidationError."""
        own = [str(getattr(user, name, "") or "") for name in ("username", "first_name", "last_name", "email")]
        read = password[:READ_MOST]
        if not read or zxcvbn(read, user_inputs=[each for each in own if each])["score"] < LEAST:
            raise ValidationError(say("This would be guessed soon: take a few words that belong to nobody."), "weak")

    def get_help_text(self) -> str:
        """What is asked."""
        return say("Your password is not one that would be guessed soon.")
