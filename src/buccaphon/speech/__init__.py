"""What is said, and which speech sounds that makes."""
