"""Which mouth stands for which sound, and which is shown on every frame."""
