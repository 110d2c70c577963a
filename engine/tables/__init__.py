"""Data tables, each with its provenance, and their one loader."""

from engine.tables.load import Table, load_table

__all__ = ["Table", "load_table"]
