"""Work in progress: strokes, trials, moments to compare with."""
