"""Who may do what: common practice, no published source."""

import unittest

from engine.service.roles import LICENSABLE, MAY, Act, Role, may


class Roles(unittest.TestCase):
    def test_every_role_is_told_of(self) -> None:
        self.assertEqual(set(MAY), set(Role))

    def test_a_licence_signs_and_a_role_alone_does_not(self) -> None:
        for role in Role:
            self.assertFalse(may(role, Act.SIGN), role)
            self.assertEqual(may(role, Act.SIGN, licensed=True), role in (Role.OWNER, Role.COLOURIST))
        self.assertEqual(LICENSABLE, {Role.OWNER, Role.COLOURIST})

    def test_only_an_owner_hires_and_only_the_desk_does_not_work(self) -> None:
        self.assertEqual([role for role in Role if may(role, Act.HIRE)], [Role.OWNER])
        self.assertEqual([role for role in Role if not may(role, Act.WORK)], [Role.DESK])

    def test_an_apprentice_hands_out_nothing(self) -> None:
        self.assertFalse(may(Role.APPRENTICE, Act.HAND_OUT))
        self.assertTrue(may(Role.COLOURIST, Act.HAND_OUT))
