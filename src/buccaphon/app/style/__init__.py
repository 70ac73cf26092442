"""How everything looks: colours, fonts, icons, and shapes painted with Qt."""
