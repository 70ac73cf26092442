"""Everything that can be done, one module for each kind of work, each command a function of the desk."""
