"""From pen samples to paint: path, dabs, tips, and one file per family of stroke kinds."""

from japanner._lazy import kernels_when_used

kernels_when_used(__name__, __file__)
