"""3D heads: glTF 2.0 and VRM read within limits, posed by their shapes and their jaw. Without pictures."""
