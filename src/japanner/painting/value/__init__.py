"""Value scales and mixing grids of parts."""
