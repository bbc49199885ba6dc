"""Delays: delay lines, feedback networks, convolution, and the responses they are used with."""
