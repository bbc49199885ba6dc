"""Nonlinear curves with oversampling."""
