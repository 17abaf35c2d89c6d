"""Measures of the picture."""
