"""Coats of fur: kinds, hairs, their light."""
