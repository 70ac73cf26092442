"""Small pieces that panels and overlays are set from; they know nothing of projects."""
