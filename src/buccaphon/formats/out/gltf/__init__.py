"""glTF 2.0 (ISO/IEC 12113) out: into a copy of the user's model, alone, and as a VRM animation."""
