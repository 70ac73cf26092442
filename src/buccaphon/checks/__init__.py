"""What a supervisor would send back, found before export, each with one way to mend it."""
