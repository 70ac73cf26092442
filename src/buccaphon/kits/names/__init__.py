"""The host's names: read, matched to the mouths of a chart or to the parts of a pose, each with its reason, and kept."""
