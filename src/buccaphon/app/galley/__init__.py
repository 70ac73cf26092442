"""The galley: the whole line set out like a proof page."""
