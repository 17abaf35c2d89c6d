"""The painting with its history, and how none of it is lost."""
