"""Hair: the comb field, strands, their light and their patterns."""

from japanner._lazy import kernels_when_used

kernels_when_used(__name__, __file__)
