"""Buccaphon turns recorded dialogue into timed mouth animation."""

__version__ = "0.1.0"
