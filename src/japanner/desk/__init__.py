"""Everything that knows Qt: the window, its panels, and the pen."""
