"""Everything a painter can ask for, as one table."""
