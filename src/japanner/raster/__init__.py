"""Pixels: sparse tiles, the blend table, and the kernels that every path uses."""

from japanner._lazy import kernels_when_used

kernels_when_used(__name__, __file__)
