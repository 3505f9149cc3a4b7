"""The place where files are handed over, and where what is there already is audited."""
