"""What goes out to others and comes in from them: flat pictures, pages, films."""
