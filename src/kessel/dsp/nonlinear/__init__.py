"""Nonlinear curves, oversampled."""
