"""Hair: the comb field, strands, their light and their patterns."""
