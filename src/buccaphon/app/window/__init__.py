"""The main window: rail, panel of the step, galley, and the desk with mirror and mouths."""
