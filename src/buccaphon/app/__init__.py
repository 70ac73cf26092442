"""The window. Everything that knows Qt is in here."""
