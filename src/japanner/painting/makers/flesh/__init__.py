"""Skin: zones of a figure, blood, pores, wet light."""
