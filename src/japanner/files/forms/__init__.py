"""Forms from files, and to them."""
