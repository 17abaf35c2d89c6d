"""Tasks of showing: printing, and pictures for others."""
