"""Prints: finished files laid on a sheet of paper at their true size."""
