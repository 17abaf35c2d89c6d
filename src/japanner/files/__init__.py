"""Reading and writing: OpenRaster and PNG, with limits at the door and nothing lost on the way out."""
