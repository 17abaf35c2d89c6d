"""What is seen of forms, and what light gets to them: by rays against triangles."""
