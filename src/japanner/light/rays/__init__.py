"""What is seen of forms, and what light gets to them: by rays against triangles."""

from japanner._lazy import kernels_when_used

kernels_when_used(__name__, __file__)
