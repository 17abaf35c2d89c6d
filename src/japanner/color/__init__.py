"""Colour spaces, lightness and differences: pure functions on arrays, channels in the last axis."""
