"""What stands around the easel."""
