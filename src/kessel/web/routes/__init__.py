"""Routes, one file a concern."""
