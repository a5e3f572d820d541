"""Fretboards from numbers: where frets lie, how the face curves, what a slot needs and what it leaves."""
