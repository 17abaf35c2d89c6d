"""Watch a painting grow: the way it came, along a track, with any two moments of it side by side."""
