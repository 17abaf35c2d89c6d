"""Forms, outlines and hair directions of parts."""
