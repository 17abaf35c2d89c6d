"""What strokes do, a file a kind."""
