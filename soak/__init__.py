"""Long trials that are too long for every day: kills, mutated inputs, everything pressed in every state, long walks."""
