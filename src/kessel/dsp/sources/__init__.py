"""Sources: single cycles, oscillators, noise, recordings, and modulation between sources."""
