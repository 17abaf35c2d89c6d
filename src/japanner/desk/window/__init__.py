"""The main window and what opens in it."""
