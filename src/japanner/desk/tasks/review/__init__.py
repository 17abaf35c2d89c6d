"""Tasks that compare, judge and show."""
