"""Necks made from numbers."""
