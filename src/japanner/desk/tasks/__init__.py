"""What the hand does on the easel when it does not paint."""
