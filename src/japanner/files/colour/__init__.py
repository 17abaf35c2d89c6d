"""Colour profiles of pictures, papers and screens."""
