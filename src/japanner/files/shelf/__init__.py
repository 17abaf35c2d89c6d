"""What painters keep on the shelf for other paintings."""
