"""The keys that paint the mouths of the chart as they come, in the order of the mouths."""

PAINT_KEYS = (*"1234567890QWEUIOP", *(f"Alt+{digit}" for digit in "1234567890"))
MOST_PAINTED = 40  # mouths of a chart that can have a key
