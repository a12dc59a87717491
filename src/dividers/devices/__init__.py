"""Simulated stand-ins for devices that a workshop may have. Real ones can take their place by the same line protocol."""
