"""TIFF pages, as pictures."""
