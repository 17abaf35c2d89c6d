"""The canvas to look at and to paint on."""
