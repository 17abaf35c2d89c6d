"""Small parts that panels and tasks are put together from."""
