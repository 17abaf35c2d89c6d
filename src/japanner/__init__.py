"""Japanner: a bench for rendering characters and creatures, value first, from dark to light."""

from japanner import _kernel_cache

__version__ = "0.1.0"

# Before anything imports numba: compiled kernels live in the user's cache, not in the source tree.
_kernel_cache.use_user_cache()
