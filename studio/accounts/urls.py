"""Signing in and out, and what is a person's own. The package's views stand at our addresses, by its own names."""

from allauth.account import views as account
from allauth.mfa.base import views as second
from allauth.mfa.recovery_codes import views as codes
from allauth.mfa.totp import views as totp
from django.contrib.auth.views import LogoutView
from django.urls import path, register_converter
from django.urls.converters import StringConverter

from studio.accounts.views import ChangePassword, SignIn, pulse, second_factor
from studio.accounts.you_views import act, you
from studio.ui.tablet import away, manifest, worker


class Letters(StringConverter):
    """A number to base 36."""

    regex = "[0-9A-Za-z]+"


register_converter(Letters, "letters")
urlpatterns = [
    path("sign-in/", SignIn.as_view(), name="sign-in"),
    path("sign-in/", SignIn.as_view(), name="account_login"),
    path("sign-in/code/", second_factor, name="mfa_authenticate"),
    path("password/", ChangePassword.as_view(), name="password"),
    path("pulse/", pulse, name="pulse"),
    path("tablet.js", worker, name="tablet-worker"),
    path("rainshade.webmanifest", manifest, name="app"),
    path("away/", away, name="away"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("sign-out/", LogoutView.as_view(), name="account_logout"),
    path("you/", you, name="you"),
    path("you/act/", act, name="you-act"),
    path("you/again/", account.reauthenticate, name="account_reauthenticate"),
    path("you/again/code/", second.reauthenticate, name="mfa_reauthenticate"),
    path("you/mail/", account.email, name="account_email"),
    path("you/mail/sent/", account.email_verification_sent, name="account_email_verification_sent"),
    path("you/second/", second.index, name="mfa_index"),
    path("you/second/on/", totp.activate_totp, name="mfa_activate_totp"),
    path("you/second/off/", totp.deactivate_totp, name="mfa_deactivate_totp"),
    path("you/second/codes/", codes.view_recovery_codes, name="mfa_view_recovery_codes"),
    path("you/second/codes/new/", codes.generate_recovery_codes, name="mfa_generate_recovery_codes"),
    path("mail/<str:key>/", account.confirm_email, name="account_confirm_email"),
    path("forgotten/", account.password_reset, name="account_reset_password"),
    path("forgotten/sent/", account.password_reset_done, name="account_reset_password_done"),
    path("forgotten/done/", account.password_reset_from_key_done, name="account_reset_password_from_key_done"),
    path(
        "forgotten/<letters:uidb36>-<str:key>/", account.password_reset_from_key, name="account_reset_password_from_key"
    ),
]
