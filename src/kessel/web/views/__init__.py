"""View models: plain values for the templates, derived from declarations and measures."""
