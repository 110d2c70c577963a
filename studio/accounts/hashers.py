"""How passwords are kept."""

from django.contrib.auth.hashers import Argon2PasswordHasher


class SmallArgon2(Argon2PasswordHasher):
    """Argon2id as OWASP's password storage page asks at the least: 19 MiB, two passes, one lane.

    Django's own 100 MiB over eight lanes let a few sign-ins at once take half a gigabyte of a small machine.
    """

    memory_cost = 19_456
    time_cost = 2
    parallelism = 1
