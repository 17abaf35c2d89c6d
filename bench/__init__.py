"""Measurements of the promises in docs/design.md; all in one run, because machines are shared and noisy."""
