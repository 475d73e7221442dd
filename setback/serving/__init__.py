"""The server: to one person on this machine, or to a workshop over TLS."""
