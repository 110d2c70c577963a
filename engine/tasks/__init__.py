"""The tasks of the command line, by name."""

from engine.tasks.catalogue import TASKS

__all__ = ["TASKS"]
