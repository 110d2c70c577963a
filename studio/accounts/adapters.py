"""How the package for accounts behaves here: nobody signs up by themselves, and secrets are kept encrypted."""

import base64
import hashlib
from typing import Any

from allauth.account.adapter import DefaultAccountAdapter
from allauth.mfa.adapter import DefaultMFAAdapter
from cryptography.fernet import Fernet
from django.conf import settings
from django.http import HttpRequest

from studio.accounts.backends import place_of


class AccountAdapter(DefaultAccountAdapter):  # type: ignore[misc]
    """People come by a link of their studio."""

    def is_open_for_signup(self, request: HttpRequest) -> bool:
        """Never: see `studio.people`."""
        return False

    def login(self, request: HttpRequest, user: Any) -> None:
        """Whoever has shown who they are goes on in the studio where they were last."""
        place = place_of(user)
        place.backend = settings.AUTHENTICATION_BACKENDS[-1]
        super().login(request, place)


class SecondFactorAdapter(DefaultMFAAdapter):  # type: ignore[misc]
    """What codes are made from is readable with the server's secret alone: a stolen dump signs nobody in."""

    def get_totp_issuer(self) -> str:
        """What an app that makes codes calls us."""
        return "Rainshade"

    def get_totp_label(self, user: Any) -> str:
        """What it calls the person."""
        return str(user.get_username())

    def encrypt(self, text: str) -> str:
        """As it is kept."""
        return _cipher().encrypt(text.encode()).decode()

    def decrypt(self, encrypted_text: str) -> str:
        """As it was. Raises InvalidToken where the server's secret is another now."""
        return _cipher().decrypt(encrypted_text.encode()).decode()


def _cipher() -> Fernet:
    digest = hashlib.sha256(b"second factor:" + settings.SECRET_KEY.encode()).digest()
    return Fernet(base64.urlsafe_b64encode(digest))
