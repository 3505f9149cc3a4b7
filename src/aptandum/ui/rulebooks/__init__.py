"""The shelf of rulebooks: clauses, the chart of allowed sizes, editions, and the form."""
