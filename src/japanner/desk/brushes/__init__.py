"""Brushes, pens and all their settings."""
