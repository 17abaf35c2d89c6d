"""From reports of the pen to a path."""
