"""From the painting to what is seen of it."""
