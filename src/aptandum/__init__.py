"""Aptandum makes a photo fit a receiving body's published rules, and proves it."""

__version__ = "0.1.0"
