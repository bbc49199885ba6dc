"""Filters: state-variable, ladder, comb, all-pass, formants, crossovers, vocoder."""
