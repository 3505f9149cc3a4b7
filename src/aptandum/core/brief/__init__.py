"""What a body asks, as frozen data, and the table of measures by which clauses are known."""
