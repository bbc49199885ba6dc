"""An effect and a mover that are added to Kessel by their own files and one line each, to prove that this is enough."""
