"""The painting: frozen values only."""

from japanner.painting.model.landmarks import Landmarks
from japanner.painting.model.layer import MOST_AMOUNT, PLACES, ROLES, TARGETS, Layer, Made, Mask, Relief
from japanner.painting.model.light import Light
from japanner.painting.model.measure import MEASURES, MOST_MEASURES, Measure
from japanner.painting.model.painting import LARGEST_AREA_PX, Frisket, Painting, Pinned
from japanner.painting.model.part import DEFAULT_SCALE, MATERIALS, STEP_NAMES, Part

__all__ = [
    "DEFAULT_SCALE",
    "LARGEST_AREA_PX",
    "MATERIALS",
    "MEASURES",
    "MOST_AMOUNT",
    "MOST_MEASURES",
    "PLACES",
    "ROLES",
    "STEP_NAMES",
    "TARGETS",
    "Frisket",
    "Landmarks",
    "Layer",
    "Light",
    "Made",
    "Mask",
    "Measure",
    "Painting",
    "Part",
    "Pinned",
    "Relief",
]
