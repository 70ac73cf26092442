"""The window. Qt is here and in `painting`, and nowhere else."""

import gc

# A hundred thousand objects stay as long as the window does: at the usual pace starting looks through them dozens of times,
# and an edit now and then waits 50 ms for the next look.
gc.set_threshold(20_000, 10, 10)
