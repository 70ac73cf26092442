"""Drawings as pixels: read from folders, layered files and sheets, each on one common canvas. Drawing needs Qt's pictures."""
