"""The document on the bench with its jobs, the hand, and what belongs to one run of the program."""
