"""The docket's page: the scenes of a folder, what needs an eye first, and what is done to several at once."""
