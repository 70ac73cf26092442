"""Painting with Qt, without a window: artwork read, characters and mouths drawn, pictures, films and sheets made."""
