"""What a character supplies for a chart: drawings, a cut-out or a model, and the names that its host uses."""
