"""Tests. How fast the machine is must not decide what they find."""

from hypothesis import settings

settings.register_profile("rainshade", deadline=None)
settings.load_profile("rainshade")
