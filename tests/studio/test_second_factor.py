"""The second factor and mail: codes by RFC 6238, once each, and passwords made anew by a link."""

import re
import time
from io import StringIO

from allauth.account.models import EmailAddress
from allauth.mfa.models import Authenticator
from allauth.mfa.totp.internal.auth import format_hotp_value, hotp_value
from django.core import mail
from django.core.management import CommandError, call_command
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import SignedIn
from studio.people.services.hire import renew_password
from tests.studio.test_people import PASSWORD
from tests.studio.test_you import CHAIRS, YouCase

NEW = "harbour lamps in the rain"


def code(secret: str, steps: int = 0) -> str:
    """What an app would show now."""
    return format_hotp_value(hotp_value(secret, int(time.time()) // 30 + steps))


class SecondFactor(YouCase):
    def again(self) -> None:
        """The password once more, as is asked before anything of the door is changed."""
        self.assertEqual(self.client.post(reverse("account_reauthenticate"), {"password": PASSWORD}).status_code, 302)

    def turn_on(self) -> str:
        self.again()
        page = self.client.get(reverse("mfa_activate_totp"))
        secret = re.search(r'<code class="code">(\w+)</code>', page.content.decode())[1]
        self.assertContains(page, "<svg")
        made = self.client.post(reverse("mfa_activate_totp"), {"code": code(secret)})
        self.assertRedirects(made, reverse("mfa_view_recovery_codes"), fetch_redirect_response=False)
        return secret

    def codes(self) -> list[str]:
        return re.findall(
            r'<li class="code">([^<]+)</li>', self.client.get(reverse("mfa_view_recovery_codes")).content.decode()
        )

    def come(self, word: str = PASSWORD) -> Browser:
        browser = Browser()
        browser.post(reverse("sign-in"), {"username": self.person.username, "password": word})
        return browser

    def is_in(self, browser: Browser) -> bool:
        return browser.get(CHAIRS).status_code == 200

    def test_a_published_code(self) -> None:
        """RFC 6238, appendix B: SHA-1, the last six digits of 94287082 at 59 s."""
        self.assertEqual(format_hotp_value(hotp_value("GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ", 1)), "287082")

    def test_it_needs_the_password_once_more(self) -> None:
        self.assertRedirects(
            self.client.get(reverse("mfa_activate_totp")),
            reverse("account_reauthenticate", query={"next": reverse("mfa_activate_totp")}),
        )
        wrong = self.client.post(reverse("account_reauthenticate"), {"password": "a guess"})
        self.assertContains(wrong, "Incorrect password")

    def test_with_it_the_password_alone_lets_nobody_in(self) -> None:
        secret = self.turn_on()
        kept = Authenticator.objects.get(type="totp").data["secret"]
        self.assertNotIn(secret, kept)  # a stolen dump signs nobody in
        browser = self.come()
        self.assertFalse(self.is_in(browser))
        self.assertContains(browser.post(reverse("mfa_authenticate"), {"code": "000000"}), "Incorrect code")
        self.assertFalse(self.is_in(browser))
        browser.post(reverse("mfa_authenticate"), {"code": code(secret, 1)})
        self.assertTrue(self.is_in(browser))
        self.assertIn("machine", browser.cookies)
        late = self.come()
        self.assertContains(late.post(reverse("mfa_authenticate"), {"code": code(secret, 1)}), "Incorrect code")  # once
        self.assertRedirects(Browser().get(reverse("mfa_authenticate")), reverse("sign-in"))

    def test_guesses_at_codes_are_few(self) -> None:
        self.turn_on()
        browser = self.come()
        answers = [browser.post(reverse("mfa_authenticate"), {"code": f"{each:06}"}) for each in range(8)]
        self.assertIn("Too many failed", answers[-1].content.decode())
        self.assertFalse(self.is_in(browser))

    def test_a_lost_app_is_stood_in_for_by_codes_that_are_shown_once_and_count_once(self) -> None:
        self.turn_on()
        codes = self.codes()
        self.assertEqual(len(codes), 10)
        self.assertEqual(set(self.codes()), {"****"})
        browser = self.come()
        browser.post(reverse("mfa_authenticate"), {"code": codes[0]})
        self.assertTrue(self.is_in(browser))
        again = self.come()
        again.post(reverse("mfa_authenticate"), {"code": codes[0]})
        self.assertFalse(self.is_in(again))

    def test_an_owner_helps_who_has_lost_both_and_nobody_else_does(self) -> None:
        self.turn_on()
        other = self.colleague("owner", "second")
        apprentice = self.browser(self.colleague())
        lost = {"way": "second", "of": self.person.pk}
        self.assertEqual(apprentice.post(reverse("people:act"), lost).status_code, 403)
        self.assertTrue(Authenticator.objects.exists())
        hers = self.browser(other)
        self.assertContains(hers.get(reverse("people:people")), "Second factor lost", count=1)
        hers.post(reverse("people:act"), lost)
        self.assertTrue(self.is_in(self.come()))

    def test_an_only_owner_is_helped_by_who_runs_the_server(self) -> None:
        self.turn_on()
        call_command("second_factor_off", self.person.username, stdout=StringIO())
        self.assertTrue(self.is_in(self.come()))
        for name, told in ((self.person.username, "no second factor"), ("nobody", "Nobody signs in")):
            with self.assertRaisesRegex(CommandError, told):
                call_command("second_factor_off", name)

    def test_an_owners_link_for_a_new_password_does_not_stand_in_for_it(self) -> None:
        secret = self.turn_on()
        address = reverse("people:join", args=[renew_password(self.person, of=self.person.pk, now=timezone.now()).key])
        stranger = Browser()
        self.assertRedirects(stranger.post(address, {"password": NEW}), reverse("mfa_authenticate"))
        self.assertFalse(self.is_in(stranger))
        stranger.post(reverse("mfa_authenticate"), {"code": code(secret, 1)})
        self.assertTrue(self.is_in(stranger))

    def test_it_is_turned_off_again(self) -> None:
        self.turn_on()
        self.client.post(reverse("mfa_deactivate_totp"))
        self.assertFalse(Authenticator.objects.filter(type="totp").exists())
        self.assertTrue(self.is_in(self.come()))


class ByMail(YouCase):
    def confirm(self, address: str = "orla@quay.example") -> None:
        self.set_mail(address)
        self.assertEqual(mail.outbox[-1].to, [address])
        link = re.search(r"http://testserver(/mail/\S+)", mail.outbox[-1].body)[1]
        self.client.post(link)
        self.assertTrue(EmailAddress.objects.get(user=self.person).verified)

    def set_mail(self, address: str, word: str = PASSWORD):
        return self.client.post(reverse("account_email"), {"email": address, "password": word, "action_add": "1"})

    def test_an_unlocked_tablet_alone_sets_no_mail(self) -> None:
        self.assertContains(self.set_mail("thief@quay.example", "a guess"), "not your password")
        self.assertFalse(EmailAddress.objects.exists())

    def test_an_address_that_nobody_confirmed_gets_no_link(self) -> None:
        self.set_mail("typo@quay.example")
        mail.outbox.clear()
        self.forget("typo@quay.example")
        self.assertEqual(mail.outbox, [])

    def forget(self, address: str = "orla@quay.example") -> str:
        answer = Browser().post(reverse("account_reset_password"), {"email": address})
        self.assertRedirects(answer, reverse("account_reset_password_done"))
        found = re.search(r"http://testserver(/forgotten/\S+)", mail.outbox[-1].body) if mail.outbox else None
        return found[1] if found else ""

    def renew(self, browser: Browser, link: str, word: str = NEW):
        page = browser.get(link, follow=True)
        to = page.redirect_chain[-1][0] if page.redirect_chain else link
        return browser.post(to, {"password1": word, "password2": word})

    def test_an_address_is_confirmed_and_a_password_made_anew_by_it(self) -> None:
        self.confirm()
        link, stranger = self.forget(), Browser()
        self.assertContains(self.renew(stranger, link, "password123"), "too common")
        self.assertRedirects(self.renew(stranger, link), reverse("account_reset_password_from_key_done"))
        self.person.refresh_from_db()
        self.assertTrue(self.person.check_password(NEW))
        self.assertEqual(self.client.get(CHAIRS).status_code, 302)  # every session ends with the old one
        self.assertContains(Browser().get(link), "was used, or is too old")

    def test_nobody_learns_whose_address_it_is(self) -> None:
        self.forget("nobody@quay.example")
        self.assertEqual(mail.outbox, [])

    def test_who_has_left_gets_no_link(self) -> None:
        self.confirm()
        mail.outbox.clear()
        self.person.is_active = False
        self.person.save()
        self.forget()
        self.assertEqual(mail.outbox, [])

    def test_a_weak_password_is_refused_by_how_soon_it_is_guessed(self) -> None:
        self.confirm()
        for word in ("qwertyuiop12", f"{self.person.username}{self.person.username}", "aaaaaaaaaaaa"):
            self.assertContains(self.renew(Browser(), self.forget(), word), "guessed soon")

    def test_no_mail_of_another(self) -> None:
        other = self.colleague()
        EmailAddress.objects.create(user=other, email="maeve@quay.example", verified=True, primary=True)
        self.client.post(reverse("account_email"), {"email": "maeve@quay.example", "action_remove": "1"})
        self.assertTrue(EmailAddress.objects.filter(user=other).exists())

    def test_logs_tell_no_key_of_a_mail(self) -> None:
        self.confirm()
        link = self.forget()
        with self.assertLogs("rainshade.requests", "INFO") as logged:
            Browser().get(link)
        self.assertEqual(logged.records[0].told["path"], "/forgotten/…/")

    def test_sessions_are_kept_without_the_password(self) -> None:
        self.assertNotIn(PASSWORD, str([each.get_decoded() for each in SignedIn.objects.all()]))
