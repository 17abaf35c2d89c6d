"""The painting as a value, the operations that change it, and their history and journal."""
