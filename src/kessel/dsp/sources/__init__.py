"""Sources: single cycles, oscillators, noise, recordings, and how sources modulate each other."""
