"""What tests share: hands and keys, waiting for the window, making lines."""
