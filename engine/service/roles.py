"""Who may do what in a studio.

Roles and what each is trusted with are common practice, no published source: whoever answers for the place hires and
sets its rules, a licence signs for safety, an apprentice works under one, and a desk sees no health facts.
"""

from collections.abc import Mapping
from enum import StrEnum
from typing import Final


class Role(StrEnum):
    """What a person is in a studio."""

    OWNER = "owner"
    COLOURIST = "colourist"
    APPRENTICE = "apprentice"
    DESK = "desk"


class Act(StrEnum):
    """What not everybody may do."""

    HIRE = "hire"  # invite people, set what they are, part from them
    WORK = "work"  # consult, read, mix, pour, time, judge: all that is done at a chair
    SIGN = "sign"  # that a safety gate is passed
    HAND_OUT = "hand_out"  # all that is kept about a client, and to forget it


MAY: Final[Mapping[Role, frozenset[Act]]] = {
    Role.OWNER: frozenset({Act.HIRE, Act.WORK, Act.HAND_OUT}),
    Role.COLOURIST: frozenset({Act.WORK, Act.HAND_OUT}),
    Role.APPRENTICE: frozenset({Act.WORK}),
    Role.DESK: frozenset(),
}
LICENSABLE: Final = frozenset({Role.OWNER, Role.COLOURIST})


def may(role: Role, act: Act, *, licensed: bool = False) -> bool:
    """Whether a person may do something. licensed: holds a licence; without one nobody signs, whatever their role."""
    if act is Act.SIGN:
        return licensed and role in LICENSABLE
    return act in MAY[role]
