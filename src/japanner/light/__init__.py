"""How light falls: on the relief of paint, and on forms."""
