"""Meters and bench supplies that speak SCPI over a socket, read and set for whoever asks."""
