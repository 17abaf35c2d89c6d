"""From pen samples to paint: path, dabs, tips, and one file per family of stroke kinds."""
