"""Pixels: sparse tiles, the blend table, and the kernels that every path uses."""
