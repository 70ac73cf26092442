"""The keys that paint the mouths of the chart, in their order."""

PAINT_KEYS = "1234567890qweuiop"
