"""Forms of faces: what is read of them, made smooth, and worked on."""
