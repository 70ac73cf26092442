"""What the palette finds: commands, the fields of the panels, formats, and the everyday words that lead to them."""
