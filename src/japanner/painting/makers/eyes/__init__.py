"""Eyes in their lids: ball, iris and wet light, lashes and brows."""
