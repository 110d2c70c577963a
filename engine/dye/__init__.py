"""Dyes: what a shade absorbs and how much of it the hair takes up."""
