"""How light falls: on the relief of paint, and on forms."""

from japanner._lazy import kernels_when_used

kernels_when_used(__name__, __file__)
