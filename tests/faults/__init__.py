"""Faults that need a server and a database of their own; tests/faults/run sets them up."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
django.setup()
