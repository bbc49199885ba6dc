"""Delay lines, feedback networks, convolution, and the responses for it."""
