"""What is painted apart from the window: frames for films, labels, and the exposure sheet on paper."""
