"""Small jobs that measure a machine: what is cut or moved, what is read, and what the readings say of it."""
