"""View models: plain values for the templates, read from declarations and measures."""
